// What both commands do first.
import { homedir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ensureBuild } from './build.mjs';
import { checkNode, ensureDebian, ensureNpm } from './packages.mjs';
import { step } from './say.mjs';

export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), '../..');

/** Where the figures are kept: VENTREL_DATA, else the platform's usual place. */
export function dataDirectory() {
	if (process.env.VENTREL_DATA) return resolve(process.env.VENTREL_DATA);
	if (process.getuid?.() === 0) return '/var/lib/ventrel';
	return join(process.env.XDG_DATA_HOME ?? join(homedir(), '.local', 'share'), 'ventrel');
}

/**
 * How the built server is run, on loopback alone.
 * @param {string} databaseUrl
 * @param {number} port
 * @returns {NodeJS.ProcessEnv}
 */
export const serverSettings = (databaseUrl, port) => ({
	...process.env,
	DATABASE_URL: databaseUrl,
	HOST: '127.0.0.1',
	PORT: String(port),
	ORIGIN: process.env.ORIGIN ?? `http://127.0.0.1:${port}`,
	// Files of any size come in as a stream; what is read whole is limited where it is read.
	BODY_SIZE_LIMIT: 'Infinity',
	NODE_ENV: 'production',
});

/** @param {Parameters<typeof ensureDebian>[0]} debian */
export async function preparePackages(debian) {
	checkNode();
	if (debian.length > 0) await step('system', () => ensureDebian(debian));
	await step('packages', () => ensureNpm(ROOT));
}

/** @param {string} url */
export async function prepareDatabase(url) {
	await step('migrations', async () => {
		const { migrate } = await import('../migrate.mjs');
		const done = await migrate(url);
		return { said: done.length > 0 ? `ran ${done.join(', ')}` : 'database is up to date', value: undefined };
	});
}

export const prepareBuild = () => step('build', () => ensureBuild(ROOT));
