// npm start: everything from a fresh clone to a served application. Needs Node and, once, apt; see README.
import { spawn } from 'node:child_process';
import { readdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { accessOf, saySignIn } from './lib/access.mjs';
import { clusterRuns, startCluster } from './lib/cluster.mjs';
import { keepHouse } from './lib/house.mjs';
import { takeLock } from './lib/lock.mjs';
import { openLog } from './lib/log-file.mjs';
import { backUpNightly } from './lib/nightly.mjs';
import { ownCluster } from './lib/own-cluster.mjs';
import { isFree } from './lib/ports.mjs';
import {
	dataDirectory,
	prepareBuild,
	prepareDatabase,
	preparePackages,
	prepareSystem,
	serverCommand,
	workerCommand,
} from './lib/prepare.mjs';
import { Restarts } from './lib/restarts.mjs';
import { fail, say, step, Stop } from './lib/say.mjs';

const USUAL_PORT = 4680;
/** After which a server that has not answered yet is spoken of, and again and again. */
const QUIET = 20_000;
/** What a server that is told to stop is given before it is killed. */
const LONGEST_STOP = 4_000;
/** After which a worker that says nothing hangs, and how long one that ends again and again is left. */
const SILENCE = 60_000;
const PAUSE = 10_000;
/** How often it is looked whether PostgreSQL still runs. */
const WATCH = 1_000;

/** @typedef {import('./lib/own-cluster.mjs').Database} Database */

/** Where what the programs log goes; null for standard error. @type {import('node:stream').Writable | null} */
let log = null;

async function main() {
	const { signIn } = accessOf(process.env);
	const ownDatabase = process.env.DATABASE_URL;
	await prepareSystem(ownDatabase ? [] : ['postgresql']);
	// A cluster needs no package of npm's, so that it is made beside them.
	/** @type {Promise<Database>} */
	const starting = ownDatabase
		? Promise.resolve({ url: ownDatabase, directory: null, stop: async () => undefined })
		: ownCluster();
	/** @type {Application | null} */
	let application = null;
	const stop = async () => {
		if (application) return application.stop(0);
		await (await starting).stop();
		process.exit(0);
	};
	for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop());
	const [packages, database] = await Promise.allSettled([preparePackages([]), starting]);
	if (database.status === 'rejected') throw database.reason;
	application = new Application(database.value);
	try {
		if (packages.status === 'rejected') throw packages.reason;
		log = await openLog(process.env.VENTREL_LOG);
		const [url] = await Promise.all([prepareDatabase(database.value.url), prepareBuild()]);
		await saySignIn(database.value.url, signIn, Boolean(process.env.VENTREL_INBOX));
		clearSpools();
		await application.serve(url);
	} catch (error) {
		await application.close();
		throw error;
	}
}

/** The served application: started, watched, started again a few times where it ends by itself, and stopped. */
class Application {
	/** @type {import('node:child_process').ChildProcess | null} */
	#server = null;
	/** @type {import('node:child_process').ChildProcess | null} */
	#worker = null;
	#stopping = false;
	/** @type {ReturnType<typeof setInterval> | undefined} */
	#watch;
	/** Ends what is done again and again. @type {(() => void)[]} */
	#ends = [];
	#servers = new Restarts();
	#workers = new Restarts();
	#clusters = new Restarts();

	/** @param {Database} database */
	constructor(database) {
		this.database = database;
	}

	/** @param {string} url of the database, for the application */
	async serve(url) {
		// From now on: a server that starts waits for its database.
		const { directory } = this.database;
		if (directory) this.#watch = setInterval(() => void this.#lookAtCluster(directory), WATCH);
		const { port, said } = await step('server', async () => {
			const value = await this.#start(url);
			return { said: value.said, value };
		});
		if (this.#stopping || said === '') return;
		await step('worker', async () => ({ said: await this.#startWorker(url), value: undefined }));
		const { at, signIn } = accessOf(process.env);
		const people = signIn ? ' People sign in; npm run person invites the first one.' : '';
		say(`\nVentrel is at http://${at}:${port}${people}\nCtrl-C stops it.`);
		const { VENTREL_BACKUP: folder } = process.env;
		if (folder) this.#ends.push(backUpNightly(this.database.url, resolve(folder)));
		this.#ends.push(keepHouse(this.database.url));
	}

	/**
	 * Ends everything, within seconds whatever it does.
	 * @param {number} code
	 */
	async stop(code) {
		if (this.#stopping) return;
		await this.close();
		say('stopped');
		process.exit(code);
	}

	async close() {
		this.#stopping = true;
		clearInterval(this.#watch);
		for (const end of this.#ends) end();
		await Promise.all([endChild(this.#server), endChild(this.#worker)]);
		await this.database.stop();
	}

	/**
	 * What works sweeps off beside the server; without it everything else goes on.
	 * @param {string} url
	 */
	async #startWorker(url) {
		const { program, args, env } = await workerCommand(url);
		if (this.#stopping) return '';
		const child = spawn(program, args, {
			cwd: '/',
			stdio: ['ignore', 'inherit', log ? 'pipe' : 'inherit', 'ipc'],
			env,
		});
		if (log) child.stderr?.pipe(log, { end: false });
		this.#worker = child;
		if (this.#stopping) child.kill('SIGTERM');
		// One that hangs is ended, and then started again as any that ended.
		const hangs = () => child.kill('SIGKILL');
		let silence = setTimeout(hangs, SILENCE);
		child.on('message', () => {
			clearTimeout(silence);
			silence = setTimeout(hangs, SILENCE);
		});
		child.once('exit', (code, signal) => {
			clearTimeout(silence);
			void this.#workerEnded(url, signal ?? `code ${code}`);
		});
		return 'works off what takes longer';
	}

	/**
	 * @param {string} url
	 * @param {string} reason
	 */
	async #workerEnded(url, reason) {
		if (this.#stopping) return;
		say(`The worker ended by itself (${reason}).`);
		if (!this.#workers.mayAgain()) {
			say(
				`It ended ${this.#workers.most} times within ${this.#workers.minutes} minutes; sweeps wait, and it is started again in ${PAUSE / 1000} seconds.`,
			);
			await new Promise((done) => setTimeout(done, PAUSE));
			if (this.#stopping) return;
		}
		await this.#startWorker(url);
		say('It was started again.');
	}

	/**
	 * @param {string} url
	 * @param {number} [again] the port that it served on before
	 */
	async #start(url, again) {
		const { child, port, said } = await startServer(url, () => this.#stopping, again);
		this.#server = child;
		// A server that is asked to stop before it was there to be asked.
		if (this.#stopping) child?.kill('SIGTERM');
		child?.once('exit', (code, signal) => void this.#ended(url, port, signal ?? `code ${code}`));
		return { port, said };
	}

	/**
	 * @param {string} url
	 * @param {number} port
	 * @param {string} reason
	 */
	async #ended(url, port, reason) {
		if (this.#stopping) return;
		say(`The server ended by itself (${reason}).`);
		if (!this.#servers.mayAgain()) {
			say(
				`It ended ${this.#servers.most} times within ${this.#servers.minutes} minutes and is not started again; the log above says why.`,
			);
			return this.stop(1);
		}
		try {
			await this.#start(url, port);
			if (!this.#stopping) say(`It was started again, on port ${port}.`);
		} catch (error) {
			if (this.#stopping) return;
			say(error instanceof Error ? error.message : String(error));
			// One that ends before it was seen to answer ended like any other.
			await this.#ended(url, port, 'before it answered');
		}
	}

	#looking = false;

	/** @param {string} directory */
	async #lookAtCluster(directory) {
		if (this.#looking || this.#stopping || clusterRuns(directory)) return;
		this.#looking = true;
		say(`PostgreSQL ended by itself; its log is in ${join(directory, 'postgres', 'logs')}.`);
		if (!this.#clusters.mayAgain()) {
			say(
				`It ended ${this.#clusters.most} times within ${this.#clusters.minutes} minutes and is not started again.`,
			);
			return this.stop(1);
		}
		try {
			const release = await takeLock(join(directory, 'start.lock'));
			const { said } = await startCluster(directory).finally(() => release?.());
			say(`It was started again: ${said}.`);
		} catch (error) {
			say(error instanceof Error ? error.message : String(error));
			if (!this.#stopping) await this.stop(1);
		}
		this.#looking = false;
	}
}

/**
 * Ends a process, within seconds whatever it does.
 * @param {import('node:child_process').ChildProcess | null} child
 */
async function endChild(child) {
	if (!child || child.exitCode !== null || child.signalCode !== null) return;
	const ended = new Promise((done) => child.once('exit', done));
	child.kill('SIGTERM');
	const patience = setTimeout(() => child.kill('SIGKILL'), LONGEST_STOP);
	await ended;
	clearTimeout(patience);
}

const spoolDirectory = () => join(dataDirectory(), 'spool');

/** Uploads that waited when their server was killed: folders named by processes that are gone. */
function clearSpools() {
	let left;
	try {
		left = readdirSync(spoolDirectory());
	} catch {
		return;
	}
	for (const name of left) {
		const pid = Number(/^ventrel-(\d+)$/.exec(name)?.[1] ?? 0);
		try {
			if (pid > 0) process.kill(pid, 0);
			else throw new Error('of nobody');
		} catch (error) {
			if (/** @type {NodeJS.ErrnoException} */ (error).code === 'EPERM') continue;
			rmSync(join(spoolDirectory(), name), { recursive: true, force: true });
		}
	}
}

/**
 * Starts the built server and waits until it answers.
 * @param {string} databaseUrl
 * @param {() => boolean} cancelled
 * @param {number} [again] the port that it served on before
 * @returns {Promise<{ child: import('node:child_process').ChildProcess | null, port: number, said: string }>}
 */
async function startServer(databaseUrl, cancelled, again) {
	const asked = again ?? (process.env.PORT ? Number(process.env.PORT) : null);
	if (asked !== null && !(await isFree(asked))) {
		throw new Stop(
			`Port ${asked} is in use. Set PORT to another one, or leave it out and a free one is taken.`,
		);
	}
	for (let port = asked ?? USUAL_PORT; port < USUAL_PORT + 1000 || port === asked; port++) {
		if (cancelled()) break;
		if (!(await isFree(port))) continue;
		const { program, args, env } = await serverCommand(databaseUrl, port, spoolDirectory());
		const child = spawn(program, args, {
			cwd: '/',
			// The fourth channel closes with this process, and the server then ends by itself.
			stdio: ['ignore', 'inherit', log ? 'pipe' : 'inherit', 'ipc'],
			env,
		});
		if (log) child.stderr?.pipe(log, { end: false });
		if (await answers(child, port, cancelled)) {
			const moved = asked === null && port !== USUAL_PORT ? `; ${USUAL_PORT} is in use` : '';
			return { child, port, said: `serving on 127.0.0.1:${port}${moved}` };
		}
		if (cancelled()) break;
		// Two starts can find the same port free; the one that lost it moves on.
		if (asked !== null || (await isFree(port)))
			throw new Stop('The server did not start; what it said stands above.');
	}
	if (cancelled()) return { child: null, port: 0, said: '' };
	throw new Stop('No free port was found.');
}

/**
 * @param {import('node:child_process').ChildProcess} child
 * @param {number} port
 * @param {() => boolean} cancelled
 * @returns {Promise<boolean>} false when the process ended first
 */
async function answers(child, port, cancelled) {
	let quiet = Date.now() + QUIET;
	// However long it takes: a busy machine is slow, and what goes wrong ends the process with a word in the log.
	while (child.exitCode === null && child.signalCode === null && !cancelled()) {
		const health = await fetch(`http://${accessOf(process.env).at}:${port}/api/v1/health`)
			.then((response) => response.json())
			.catch(() => null);
		if (health?.process === child.pid) return true;
		if (Date.now() > quiet) {
			say(`server         still starting; LOG_LEVEL=info says what it does (process ${child.pid})`);
			quiet = Date.now() + QUIET;
		}
		await new Promise((done) => setTimeout(done, 50));
	}
	child.kill('SIGKILL');
	return false;
}

main().catch(fail);
