import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { freePort } from '../../scripts/lib/ports.mjs';
import { serverCommand, workerCommand } from '../../scripts/lib/prepare.mjs';
import { holdAnswer } from './held-answers';
import type { ItemRow, ItemWindow } from '../../src/lib/wire/list';
import type { Ready } from '../../src/lib/wire/service';

/** The built application, serving. */
export interface App {
	url: string;
	process: ChildProcess;
	/** Calls the HTTP interface and gives back status and answer. */
	call<T = { message: string; issues?: { path: string; message: string }[] }>(
		method: string,
		path: string,
		body?: unknown,
		headers?: Record<string, string>,
	): Promise<{ status: number; body: T }>;
	stop(signal?: NodeJS.Signals): Promise<void>;
}

/** Naive, an average and simple smoothing: what a test works on that is not about what is proposed. */
const THREE = [
	{ id: 'a', method: 'naive' },
	{ id: 'b', method: 'moving-average', span: 3 },
	{ id: 'c', method: 'ses', constants: { alpha: 0.3 } },
];

/** Saves the first line-up of an item, so that it does not open with a proposal. */
export async function workOn(app: App, code: string): Promise<void> {
	const { status, body } = await app.call('PUT', `/items/${encodeURIComponent(code)}/line-up`, {
		version: 0,
		candidates: THREE,
	});
	if (status !== 200) throw new Error(`${code}: ${JSON.stringify(body)}`);
}

/** All items that are on the list, window by window. */
export async function everyItem(app: App): Promise<ItemRow[]> {
	const rows: ItemRow[] = [];
	let from: ItemWindow['next'] = null;
	do {
		const begin: string = from === null ? '' : `&from=${encodeURIComponent(JSON.stringify(from))}`;
		const { body } = await app.call<ItemWindow>('GET', `/items?sort=code&most=1000${begin}`);
		rows.push(...body.items);
		from = body.next;
	} while (from !== null);
	return rows;
}

/** @param databaseUrl the application's */
export async function startApp(
	databaseUrl: string,
	{
		demo = false,
		port: wanted = 0,
		spool,
		env = {},
	}: { demo?: boolean; port?: number; spool?: string; env?: NodeJS.ProcessEnv } = {},
): Promise<App> {
	const port = wanted || (await freePort());
	const url = `http://127.0.0.1:${port}`;
	const {
		program,
		args,
		env: own,
	} = await serverCommand(databaseUrl, port, spool, { ...process.env, ...env });
	const child = spawn(program, args, {
		cwd: '/',
		// The fourth channel closes with the test run, and the server then ends by itself.
		stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
		env: { ...own, LOG_LEVEL: 'fatal', VENTREL_DEMO: demo ? 'on' : 'off', VENTREL_USER: 'tester', ...env },
	});
	await until(
		async () => {
			if (child.exitCode !== null) throw new Error(`The server ended with ${child.exitCode}.`);
			const health = await fetch(`${url}/api/v1/health`).catch(() => null);
			return health?.ok === true;
		},
		'the server',
		START,
	);
	return {
		url,
		process: child,
		async call(method, path, body, headers = {}) {
			const response = await fetch(`${url}/api/v1${path}`, {
				method,
				headers: { ...(body !== undefined && { 'content-type': 'application/json' }), ...headers },
				...(body !== undefined && { body: JSON.stringify(body) }),
			});
			const answer: unknown = await response.json();
			holdAnswer(method, path, response.status, answer);
			return { status: response.status, body: answer as never };
		},
		stop: (signal) => endProcess(child, signal),
	};
}

/** Waits until the large demo is whole, which is made while the server answers already. */
export const demoIsThere = (app: App): Promise<void> =>
	until(async () => (await app.call<Ready>('GET', '/ready')).body.demo === null, 'the large demo', START);

/** Milliseconds after which what has not moved counts as wrong. */
export const PATIENCE = 90_000;
/** A first start makes the demo data. */
const START = 300_000;

/** Milliseconds between two looks, at first and in the end. */
const SOON = 15;
const SELDOM = 40;

/**
 * Waits for what is waited for, and fails loudly when it does not come.
 * @param patience milliseconds
 */
export async function until(
	arrived: () => Promise<boolean>,
	what = 'what was waited for',
	patience = PATIENCE,
): Promise<void> {
	const deadline = Date.now() + patience;
	// Looking takes the machine from what is waited for: the longer that takes, the less often.
	for (let pause = SOON; !(await arrived()); pause = Math.min(SELDOM, 1.4 * pause)) {
		if (Date.now() > deadline) throw new Error(`${what} did not come within ${patience / 1000} seconds.`);
		await new Promise((done) => setTimeout(done, pause));
	}
}

/** A worker of the build, at work until it is stopped. */
export interface Worker {
	process: ChildProcess;
	stop(signal?: NodeJS.Signals): Promise<void>;
}

/** @param databaseUrl the application's */
export async function startWorker(databaseUrl: string, settings: NodeJS.ProcessEnv = {}): Promise<Worker> {
	const { program, args, env } = await workerCommand(databaseUrl, { ...process.env, ...settings });
	const child = spawn(program, args, {
		cwd: '/',
		stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
		env: { ...env, LOG_LEVEL: 'fatal' },
	});
	await once(child, 'message');
	return { process: child, stop: (signal) => endProcess(child, signal) };
}

async function endProcess(child: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
	if (child.exitCode !== null || child.signalCode !== null) return;
	const ended = once(child, 'exit');
	child.kill(signal);
	await ended;
}
