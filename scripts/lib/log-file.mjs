// The log in files that take turns, where VENTREL_LOG names a folder: ten megabytes each, a new one each day, ten of them.
import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { Writable } from 'node:stream';
import { say, Stop } from './say.mjs';

/**
 * @param {string | undefined} folder
 * @param {import('rotating-file-stream').FileSize} [size] of a file
 * @returns {Promise<Writable | null>} null where the log goes to standard error. It takes whatever is written: where a file takes
 *   no more, it goes to standard error, since a server that waits for its log would stand still
 */
export async function openLog(folder, size = '10M') {
	if (!folder) return null;
	const path = resolve(folder);
	try {
		mkdirSync(path, { recursive: true, mode: 0o700 });
	} catch (error) {
		throw new Stop(
			`VENTREL_LOG=${path} cannot be made (${/** @type {Error} */ (error).message}). Name a folder that can be written to.`,
		);
	}
	// Here alone: this runs once the packages are there.
	const { createStream } = await import('rotating-file-stream');
	const files = createStream('ventrel.log', { path, size, interval: '1d', maxFiles: 10 });
	let broken = false;
	files.on('error', (error) => {
		if (!broken)
			say(
				`The log cannot be written to ${path} (${error.message}). It goes to standard error until the next start.`,
			);
		broken = true;
	});
	return new Writable({
		write(part, _, taken) {
			if (broken) process.stderr.write(part, () => taken());
			else files.write(part, () => taken());
		},
		final(done) {
			if (broken) done();
			else files.end(done);
		},
	});
}
