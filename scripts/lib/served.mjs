// The application, started for a while on data of its own; for pictures and measurements.
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT } from './prepare.mjs';
import { Stop } from './say.mjs';

/**
 * @param {NodeJS.ProcessEnv} env
 * @returns {Promise<{ address: string, directory: string, stop: () => Promise<void> }>}
 */
export async function serveForAWhile(env) {
	const directory = mkdtempSync(join(tmpdir(), 'ventrel-while-'));
	// User postgres has to pass through.
	chmodSync(directory, 0o755);
	const app = spawn(process.execPath, [join(ROOT, 'scripts', 'start.mjs')], {
		env: { ...process.env, VENTREL_DATA: directory, ...env },
		stdio: ['ignore', 'pipe', 'inherit'],
	});
	return {
		address: await printedAddress(app),
		directory,
		stop: async () => {
			const ended = new Promise((done) => app.once('exit', done));
			app.kill('SIGTERM');
			await ended;
			rmSync(directory, { recursive: true, force: true });
		},
	};
}

/**
 * @param {import('node:child_process').ChildProcess} app
 * @returns {Promise<string>}
 */
function printedAddress(app) {
	return new Promise((resolve, reject) => {
		let output = '';
		app.stdout?.on('data', (text) => {
			output += text;
			const address = /Ventrel is at (http\S+)/.exec(output)?.[1];
			if (address) resolve(address);
		});
		app.once('exit', () => reject(new Stop(`The application ended before it served:\n${output}`)));
	});
}
