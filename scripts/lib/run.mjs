// Running other programs.
import { spawn } from 'node:child_process';

/**
 * Runs a program to its end.
 * @param {string} program
 * @param {string[]} args
 * @param {{ cwd?: string, env?: NodeJS.ProcessEnv, show?: boolean, input?: string }} [options]
 *   show: pass its output on as it comes
 * @returns {Promise<{ code: number, output: string }>} output: both streams, in the order of arrival
 */
export function run(program, args, { cwd, env, show = false, input } = {}) {
	return new Promise((resolve, reject) => {
		const child = spawn(program, args, { cwd, env: env ?? process.env, stdio: ['pipe', 'pipe', 'pipe'] });
		let output = '';
		for (const stream of [child.stdout, child.stderr]) {
			stream.setEncoding('utf8');
			stream.on('data', (text) => {
				output += text;
				if (show) process.stdout.write(text);
			});
		}
		child.stdin.on('error', () => undefined);
		child.stdin.end(input ?? '');
		child.on('error', reject);
		child.on('close', (code) => resolve({ code: code ?? 1, output }));
	});
}

/**
 * Runs a program and stops with its output when it fails.
 * @param {string} program
 * @param {string[]} args
 * @param {Parameters<typeof run>[2]} [options]
 */
export async function mustRun(program, args, options) {
	const { code, output } = await run(program, args, options);
	if (code !== 0) throw new Error(`${program} ${args.join(' ')} ended with ${code}:\n${output.slice(-4000)}`);
	return output;
}
