import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { stopCluster } from '../../scripts/lib/cluster.mjs';
import { postgresPrograms } from '../../scripts/lib/packages.mjs';
import { freePort } from '../../scripts/lib/ports.mjs';
import type { ItemRow } from '../../src/lib/shapes';
import { until } from '../support/app';
import { makeDatabase } from '../support/database';

const SCRIPT = fileURLToPath(new URL('../../scripts/start.mjs', import.meta.url));
let directory: string;
let started: Start[] = [];

interface Start {
	child: ChildProcess;
	output(): string;
	/** The address it prints, once it serves. */
	address(): Promise<string>;
	/** Ends it and gives back its exit code. */
	end(signal: NodeJS.Signals): Promise<number | null>;
}

function start(env: NodeJS.ProcessEnv = {}): Start {
	const clean: NodeJS.ProcessEnv = { ...process.env, VENTREL_DATA: directory };
	delete clean.DATABASE_URL;
	delete clean.PORT;
	const child = spawn(process.execPath, [SCRIPT], { env: { ...clean, ...env } });
	let output = '';
	child.stdout.on('data', (text) => (output += text));
	child.stderr.on('data', (text) => (output += text));
	const printed = () => /Ventrel is at (http\S+)/.exec(output)?.[1];
	const self: Start = {
		child,
		output: () => output,
		async address() {
			await until(async () => printed() !== undefined || child.exitCode !== null, 'the address');
			const address = printed();
			if (!address) throw new Error(output);
			return address;
		},
		async end(signal) {
			if (child.exitCode !== null || child.signalCode !== null) return child.exitCode;
			const ended = once(child, 'exit');
			child.kill(signal);
			await ended;
			return child.exitCode;
		},
	};
	started.push(self);
	return self;
}

const items = async (address: string) => (await (await fetch(`${address}/api/v1/items`)).json()) as ItemRow[];
const serves = (address: string) =>
	fetch(`${address}/api/v1/health`).then(
		(answer) => answer.ok,
		() => false,
	);

beforeEach(() => {
	directory = mkdtempSync(join(tmpdir(), 'ventrel-test-start-'));
	chmodSync(directory, 0o755);
});
afterEach(async () => {
	for (const each of started) await each.end('SIGKILL');
	started = [];
	await stopCluster(directory);
	rmSync(directory, { recursive: true, force: true });
});

const own = test.runIf(postgresPrograms());

own(
	'starts with the demo data, says each step and its time, stops what it started, starts again with it',
	async () => {
		const first = start();
		const address = await first.address();
		expect(address).toMatch(/^http:\/\/127\.0\.0\.1:\d+$/);
		for (const step of ['packages', 'database', 'migrations', 'build', 'server']) {
			expect(first.output()).toMatch(new RegExp(`^${step} .*\\(\\d+\\.\\d s\\)$`, 'm'));
		}
		expect((await items(address)).length).toBeGreaterThanOrEqual(24);
		expect(await first.end('SIGINT')).toBe(0);
		expect(await serves(address)).toBe(false);
		const second = start();
		expect((await items(await second.address())).length).toBeGreaterThanOrEqual(24);
		expect(second.output()).toMatch(/^database .*started PostgreSQL/m);
	},
);

own('two at once share the data, and the first to go leaves it to the other', async () => {
	const [one, two] = [start(), start()];
	const [a, b] = await Promise.all([one.address(), two.address()]);
	expect(a).not.toBe(b);
	expect(await items(a)).toEqual(await items(b));
	expect(await one.end('SIGTERM')).toBe(0);
	expect((await items(b)).length).toBeGreaterThanOrEqual(24);
});

own('after a kill -9 of the command its server goes, and the next start finds everything', async () => {
	const killed = start();
	const address = await killed.address();
	await killed.end('SIGKILL');
	await until(async () => !(await serves(address)), 'the end of the orphaned server');
	const next = start();
	expect((await items(await next.address())).length).toBeGreaterThanOrEqual(24);
	expect(await next.end('SIGINT')).toBe(0);
});

own('after a kill -9 of the server the command says so and stops', async () => {
	const command = start();
	const address = await command.address();
	const { process: server } = (await (await fetch(`${address}/api/v1/health`)).json()) as { process: number };
	const ended = once(command.child, 'exit');
	process.kill(server, 'SIGKILL');
	await ended;
	expect(command.child.exitCode).toBe(1);
	expect(command.output()).toMatch(/server ended by itself \(SIGKILL\)/);
	expect((await items(await start().address())).length).toBeGreaterThanOrEqual(24);
});

test('a port that was asked for and is in use is refused with what to do', async () => {
	const database = await makeDatabase();
	const port = await freePort();
	const squatter = createServer().listen(port, '127.0.0.1');
	await once(squatter, 'listening');
	const refused = start({ DATABASE_URL: database.url, PORT: String(port) });
	await once(refused.child, 'exit');
	expect(refused.child.exitCode).toBe(1);
	expect(refused.output()).toMatch(new RegExp(`Port ${port} is in use\\. Set PORT to another one`));
	squatter.close();
	await database.drop();
});

test('DATABASE_URL set: that server is used and none is started', async () => {
	const database = await makeDatabase();
	const command = start({ DATABASE_URL: database.url });
	await command.address();
	expect(command.output()).not.toMatch(/PostgreSQL on/);
	const { rows } = await database.client.query('SELECT count(*)::integer AS count FROM item');
	expect(rows[0].count).toBeGreaterThanOrEqual(24);
	expect(await command.end('SIGINT')).toBe(0);
	await database.drop();
});
