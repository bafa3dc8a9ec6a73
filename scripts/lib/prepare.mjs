// What both commands do first.
import { mkdirSync } from 'node:fs';
import { homedir, userInfo } from 'node:os';
import { join, resolve } from 'node:path';
import { accessOf } from './access.mjs';
import { ensureBuild } from './build.mjs';
import { checkNode, ensureDebian, ensureNpm } from './packages.mjs';
import { ROOT } from './root.mjs';
import { run } from './run.mjs';
import { step, Stop } from './say.mjs';

export { ROOT };

/** Where the figures are kept: VENTREL_DATA, else the platform's usual place. */
export function dataDirectory() {
	if (process.env.VENTREL_DATA) return resolve(process.env.VENTREL_DATA);
	if (process.getuid?.() === 0) return '/var/lib/ventrel';
	return join(process.env.XDG_DATA_HOME ?? join(homedir(), '.local', 'share'), 'ventrel');
}

/** Whom the server runs as where it is started by root. */
const SERVED_BY = { user: 'nobody', group: 'nogroup' };
const asRoot = process.getuid?.() === 0;

/** @typedef {{ program: string, args: string[], env: NodeJS.ProcessEnv }} Command */

/**
 * How the built server is run: on loopback, unless people sign in.
 * @param {string} databaseUrl the application's, not the owner's
 * @param {number} port
 * @param {string} [spool] where uploads wait
 * @param {NodeJS.ProcessEnv} [settings]
 * @returns {Promise<Command>}
 */
export async function serverCommand(databaseUrl, port, spool, settings = process.env) {
	const { listen, at } = accessOf(settings);
	const env = {
		...settings,
		DATABASE_URL: databaseUrl,
		HOST: listen,
		PORT: String(port),
		ORIGIN: `http://${at}:${port}`,
		// Files of any size come in as a stream; what is read whole is limited where it is read.
		BODY_SIZE_LIMIT: 'Infinity',
		NODE_ENV: 'production',
		VENTREL_USER: settings.VENTREL_USER ?? userInfo().username,
		...(spool && { VENTREL_SPOOL: spool }),
	};
	if (spool) mkdirSync(spool, { recursive: true, mode: 0o700 });
	if (spool && asRoot) await run('chown', [`${SERVED_BY.user}:${SERVED_BY.group}`, spool]);
	return handedOver('main.js', env);
}

/**
 * How a worker is run.
 * @param {string} databaseUrl the application's, not the owner's
 * @param {NodeJS.ProcessEnv} [settings]
 * @returns {Promise<Command>}
 */
export async function workerCommand(databaseUrl, settings = process.env) {
	/** @type {NodeJS.ProcessEnv} */
	const folders = {};
	for (const name of ['VENTREL_INBOX', 'VENTREL_OUTBOX']) {
		const folder = settings[name];
		if (!folder) continue;
		folders[name] = resolve(folder);
		mkdirSync(folders[name], { recursive: true });
		if (asRoot) await run('chown', [`${SERVED_BY.user}:${SERVED_BY.group}`, folders[name]]);
	}
	return handedOver('worker.js', {
		...settings,
		...folders,
		DATABASE_URL: databaseUrl,
		NODE_ENV: 'production',
	});
}

/**
 * How a built program is run. Started by root it is handed to a user that owns nothing; where that one may not
 * enter the folder that the program lies in, it is left the right to read, and nothing else of root's.
 * @param {string} name of the program in the build
 * @param {NodeJS.ProcessEnv} env
 * @returns {Promise<Command>}
 */
async function handedOver(name, env) {
	const main = join(ROOT, 'build', name);
	if (!asRoot) return { program: process.execPath, args: [main], env };
	const handed = [`--reuid=${SERVED_BY.user}`, `--regid=${SERVED_BY.group}`, '--clear-groups'];
	const none = ['--inh-caps=-all', '--ambient-caps=-all', '--bounding-set=-all'];
	const reading = [
		'--inh-caps=-all,+dac_read_search',
		'--ambient-caps=-all,+dac_read_search',
		'--bounding-set=-all,+dac_read_search',
		// Or the right would not hold where a program first asks whether a file is there.
		'--securebits=+no_setuid_fixup',
	];
	for (const rights of [none, reading]) {
		const way = [...handed, ...rights, '--no-new-privs'];
		// Asked as programs ask, with `access`: it heeds less than opening does.
		const readable = [
			'test',
			'-r',
			main,
			'-a',
			'-r',
			join(ROOT, 'build', 'client'),
			'-a',
			'-r',
			join(ROOT, 'node_modules'),
		];
		const { code } = await run('setpriv', [...way, ...readable], { cwd: '/' });
		if (code === 0) return { program: 'setpriv', args: [...way, process.execPath, main], env };
	}
	throw new Stop(
		`User ${SERVED_BY.user} cannot read ${ROOT}, and the server does not stay root. Put the program where every user may enter, such as /opt/ventrel, or start it as a user of its own.`,
	);
}

/** @param {Parameters<typeof ensureDebian>[0]} debian */
export async function prepareSystem(debian) {
	checkNode();
	if (debian.length > 0) await step('system', () => ensureDebian(debian));
}

/** @param {Parameters<typeof ensureDebian>[0]} debian */
export async function preparePackages(debian) {
	await prepareSystem(debian);
	await step('packages', () => ensureNpm(ROOT));
}

/**
 * Brings the database up to date, as its owner.
 * @param {string} ownerUrl
 * @returns {Promise<string>} the address under which the application connects
 */
export async function prepareDatabase(ownerUrl) {
	return step('migrations', async () => {
		const { migrate } = await import('../migrate.mjs');
		const { applicationUrl } = await import('./application-role.mjs');
		const done = await migrate(ownerUrl);
		const said = done.length > 0 ? `ran ${done.join(', ')}` : 'database is up to date';
		return { said, value: await applicationUrl(ownerUrl) };
	});
}

export const prepareBuild = () => step('build', () => ensureBuild(ROOT));
