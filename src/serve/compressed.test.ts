import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { createServer, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, expect, test } from 'vitest';
import { compressed } from './compressed';

const server = createServer();
const warned: string[] = [];
const warn = ({ message }: Error) => warned.push(message);
afterEach(() => {
	server.close();
	process.off('warning', warn);
});

/** Writes pieces, each when there is room for it. */
function write(response: ServerResponse, pieces: readonly string[]): void {
	const [piece, ...rest] = pieces;
	if (piece === undefined) response.end();
	else if (response.write(piece)) write(response, rest);
	else response.once('drain', () => write(response, rest));
}

test('a large answer waits for its reader as often as it has to, and comes whole without a warning', async () => {
	process.on('warning', warn);
	const pieces = Array.from({ length: 60 }, () => randomBytes(30_000).toString('base64'));
	server.on(
		'request',
		compressed((_, response) => {
			response.setHeader('content-type', 'text/csv');
			write(response, pieces);
		}),
	);
	await once(server.listen(0, '127.0.0.1'), 'listening');
	const answer = await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}`);
	expect(answer.headers.get('content-encoding')).toMatch(/^(br|gzip)$/);
	expect((await answer.text()) === pieces.join('')).toBe(true);
	expect(warned).toEqual([]);
});
