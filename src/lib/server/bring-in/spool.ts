import { createWriteStream, mkdirSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { BOUNDS } from '$core/bounds';
import { Refusal } from '../refusal';

const LARGEST_FILE = Number(process.env.VENTREL_LARGEST_FILE ?? BOUNDS.streamBytes);

/** A body on disk. */
export interface Spooled {
	path: string;
	size: number;
	remove(): Promise<void>;
}

/** Where uploads wait: under the data directory, in a folder of this process's own. */
function spoolFolder(): string {
	const folder = join(process.env.VENTREL_SPOOL ?? tmpdir(), `ventrel-${process.pid}`);
	mkdirSync(folder, { recursive: true });
	return folder;
}

/** Keeps a body in a file of its own until it is taken in, whatever its size. */
export async function spool(body: ReadableStream<Uint8Array>): Promise<Spooled> {
	const folder = await mkdtemp(join(spoolFolder(), 'upload-'));
	const path = join(folder, 'file');
	const remove = () => rm(folder, { recursive: true, force: true });
	let size = 0;
	try {
		await pipeline(
			Readable.fromWeb(body as Parameters<typeof Readable.fromWeb>[0]),
			async function* (chunks: AsyncIterable<Buffer>) {
				for await (const chunk of chunks) {
					size += chunk.length;
					if (size > LARGEST_FILE) {
						throw new Refusal(
							413,
							`The file is larger than the ${LARGEST_FILE / 1e9} GB that are taken in at once.`,
						);
					}
					yield chunk;
				}
			},
			createWriteStream(path),
		);
	} catch (error) {
		await remove();
		throw error;
	}
	return { path, size, remove };
}
