// Locks that end with their holder, however it ends: the kernel drops a flock when the last process that has
// the file open is gone, and the helper that has it open reads from a pipe that closes with this process.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import { say } from './say.mjs';

/**
 * @param {string} file created where it is missing
 * @param {{ shared?: boolean, wait?: boolean, waiting?: string }} [options]
 *   waiting: said when somebody else has it
 * @returns {Promise<(() => Promise<void>) | null>} gives the lock back; null where it was not to be had at once
 */
export async function takeLock(file, { shared = false, wait = true, waiting } = {}) {
	mkdirSync(dirname(file), { recursive: true });
	const kind = shared ? '-s' : '-x';
	const attempt = await hold(file, [kind, '-n']);
	if (attempt || !wait) return attempt;
	if (waiting) say(waiting);
	return hold(file, [kind]);
}

/**
 * @param {string} file
 * @param {string[]} flags
 * @returns {Promise<(() => Promise<void>) | null>}
 */
function hold(file, flags) {
	return new Promise((resolve, reject) => {
		const child = spawn('flock', [...flags, file, 'sh', '-c', 'echo held; exec cat'], {
			stdio: ['pipe', 'pipe', 'ignore'],
			// In a group of its own: Ctrl-C must not take the lock away before the work under it is wound up.
			detached: true,
		});
		const closed = new Promise((done) => child.once('close', done));
		child.once('error', reject);
		child.once('close', () => resolve(null));
		child.stdout.once('data', () =>
			resolve(async () => {
				child.stdin.end();
				await closed;
			}),
		);
	});
}
