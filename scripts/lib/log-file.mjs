// The log in files that take turns, where VENTREL_LOG names a folder: ten megabytes each, a new one each day, ten of them.
import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';

/**
 * @param {string | undefined} folder
 * @returns {Promise<import('node:stream').Writable | null>} null where the log goes to standard error
 */
export async function openLog(folder) {
	if (!folder) return null;
	const path = resolve(folder);
	mkdirSync(path, { recursive: true, mode: 0o700 });
	// Here alone: this runs once the packages are there.
	const { createStream } = await import('rotating-file-stream');
	return createStream('ventrel.log', { path, size: '10M', interval: '1d', maxFiles: 10 });
}
