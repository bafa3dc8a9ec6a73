// The demo data as its program makes them.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { ROOT } from './root.mjs';

/**
 * @param {string} databaseUrl of a migrated database that is empty, as the application connects
 * @returns {Promise<string>} the workspace as text, as `src/lib/server/demo/kept.ts` reads it
 */
export async function makeDemo(databaseUrl) {
	const program = spawn(process.execPath, [join(ROOT, 'build', 'demo.js')], {
		env: { ...process.env, DATABASE_URL: databaseUrl },
		stdio: ['ignore', 'pipe', 'inherit'],
	});
	let text = '';
	program.stdout.setEncoding('utf8');
	program.stdout.on('data', (part) => (text += part));
	const [code] = await once(program, 'close');
	if (code !== 0) throw new Error(`The program that makes the demo data ended with ${code}.`);
	return text;
}
