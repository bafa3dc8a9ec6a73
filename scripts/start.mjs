// npm start: everything from a fresh clone to a served application. Needs Node and, once, apt; see README.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { startCluster, stopCluster } from './lib/cluster.mjs';
import { takeLock } from './lib/lock.mjs';
import { isFree } from './lib/ports.mjs';
import {
	dataDirectory,
	prepareBuild,
	prepareDatabase,
	preparePackages,
	ROOT,
	serverSettings,
} from './lib/prepare.mjs';
import { fail, say, step, Stop } from './lib/say.mjs';

const USUAL_PORT = 4680;
const LONGEST_START = 60_000;

async function main() {
	const ownDatabase = process.env.DATABASE_URL;
	await preparePackages(ownDatabase ? [] : ['postgresql']);
	const database = ownDatabase ? { url: ownDatabase, stop: async () => undefined } : await ownCluster();
	let stopping = false;
	/** @type {import('node:child_process').ChildProcess | null} */
	let server = null;
	const stop = async (/** @type {number} */ code) => {
		if (stopping) return;
		stopping = true;
		if (server && server.exitCode === null && server.signalCode === null) {
			const ended = new Promise((done) => server?.once('exit', done));
			server.kill('SIGTERM');
			await ended;
		}
		await database.stop();
		say('stopped');
		process.exit(code);
	};
	for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));
	try {
		await prepareDatabase(database.url);
		await prepareBuild();
		const { child, port, said } = await step('server', async () => {
			const value = await serve(database.url, () => stopping);
			return { said: value.said, value };
		});
		server = child;
		child.once('exit', (code, signal) => {
			if (stopping) return;
			say(`The server ended by itself (${signal ?? `code ${code}`}).`);
			void stop(1);
		});
		if (said) say(`\nVentrel is at http://127.0.0.1:${port}\nCtrl-C stops it.`);
	} catch (error) {
		await database.stop();
		throw error;
	}
}

/** Our own cluster; the last one to leave it stops it. */
async function ownCluster() {
	const directory = dataDirectory();
	const users = join(directory, 'users.lock');
	/** @type {(() => Promise<void>) | null} */
	let leave = null;
	const url = await step('database', async () => {
		const release = await takeLock(join(directory, 'start.lock'), {
			waiting: 'database       waiting for another start',
		}).catch((error) => {
			throw new Stop(
				`${directory} cannot be written to (${error.message}). Set VENTREL_DATA to a directory of yours.`,
			);
		});
		try {
			leave = await takeLock(users, { shared: true });
			const { url, said } = await startCluster(directory);
			return { said: `${said}, data in ${directory}`, value: url };
		} finally {
			await release?.();
		}
	});
	return {
		url,
		stop: async () => {
			await leave?.();
			const alone = await takeLock(users, { wait: false });
			if (!alone) return;
			await stopCluster(directory);
			await alone();
		},
	};
}

/**
 * Starts the built server and waits until it answers.
 * @param {string} databaseUrl
 * @param {() => boolean} cancelled
 */
async function serve(databaseUrl, cancelled) {
	const asked = process.env.PORT ? Number(process.env.PORT) : null;
	if (asked !== null && !(await isFree(asked))) {
		throw new Stop(
			`Port ${asked} is in use. Set PORT to another one, or leave it out and a free one is taken.`,
		);
	}
	for (let port = asked ?? USUAL_PORT; port < USUAL_PORT + 1000 || port === asked; port++) {
		if (cancelled()) break;
		if (!(await isFree(port))) continue;
		const child = spawn(process.execPath, [join(ROOT, 'build', 'index.js')], {
			cwd: ROOT,
			// The fourth channel closes with this process, and the server then ends by itself.
			stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
			env: serverSettings(databaseUrl, port),
		});
		if (await answers(child, port)) {
			const moved = asked === null && port !== USUAL_PORT ? `; ${USUAL_PORT} is in use` : '';
			return { child, port, said: `serving on 127.0.0.1:${port}${moved}` };
		}
		// Two starts can find the same port free; the one that lost it moves on.
		if (asked !== null || (await isFree(port)))
			throw new Stop('The server did not start; what it said stands above.');
	}
	throw new Stop('No free port was found.');
}

/**
 * @param {import('node:child_process').ChildProcess} child
 * @param {number} port
 * @returns {Promise<boolean>} false when the process ended first
 */
async function answers(child, port) {
	const deadline = Date.now() + LONGEST_START;
	while (child.exitCode === null && child.signalCode === null && Date.now() < deadline) {
		const health = await fetch(`http://127.0.0.1:${port}/api/v1/health`)
			.then((response) => response.json())
			.catch(() => null);
		if (health?.process === child.pid) return true;
		await new Promise((done) => setTimeout(done, 50));
	}
	child.kill('SIGKILL');
	return false;
}

main().catch(fail);
