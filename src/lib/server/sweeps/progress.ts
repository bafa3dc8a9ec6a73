import type { Sweep } from '../../wire/sweeps';
import type { WorkerState } from '../../wire/service';
import { endWithKey } from '../access/streams';
import { listen } from '../database/listening';
import type { Actor } from '../database/workspaces';
import { log } from '../log';
import { CHANNEL, loadSweep, loadSweeps } from './sweeps';
import { loadWorker } from './job-worker';

/** How far sweeps are, told to whoever looks at them. */

/** Milliseconds in which what is told of one sweep is told once. */
const TOGETHER = 200;

interface Watcher {
	workspaceId: number;
	take: (sweep: Sweep) => void;
	takeWorker: (worker: WorkerState) => void;
}

const watchers = new Set<Watcher>();
const changed = new Map<number, number>();
let later: ReturnType<typeof setTimeout> | null = null;
let end: (() => Promise<void>) | null = null;

/** How often it is looked whether a worker is there, in milliseconds. */
const LOOK = 3_000;
let said = '';
let looking: ReturnType<typeof setInterval> | null = null;

/** Tells whether a worker is there, where that is otherwise than it was told last. */
async function lookForWorker(only?: Watcher): Promise<void> {
	const worker = await loadWorker().catch(() => null);
	if (!worker) return;
	const now = JSON.stringify(worker.alive ? true : worker.seen);
	if (only) only.takeWorker(worker);
	else if (now !== said) for (const watcher of watchers) watcher.takeWorker(worker);
	said = now;
}

async function tellAll(): Promise<void> {
	later = null;
	const sweeps = [...changed];
	changed.clear();
	for (const [id, workspaceId] of sweeps) {
		try {
			const sweep = await loadSweep(workspaceId, id);
			for (const watcher of watchers) if (watcher.workspaceId === workspaceId) watcher.take(sweep);
		} catch (error) {
			log.warn({ reason: String(error), sweep: id }, 'how far a sweep is could not be told');
		}
	}
}

function hear(payload: string): void {
	const { workspace, sweep } = JSON.parse(payload) as { workspace: number; sweep: number };
	changed.set(sweep, workspace);
	later ??= setTimeout(() => void tellAll(), TOGETHER);
}

/** Tells how all sweeps are, and then each that changes. @returns ends it */
function watch(watcher: Watcher): () => void {
	watchers.add(watcher);
	void lookForWorker(watcher);
	looking ??= setInterval(() => void lookForWorker(), LOOK);
	looking.unref();
	const tell = async () => {
		for (const each of watchers)
			for (const sweep of (await loadSweeps(each.workspaceId)).toReversed()) each.take(sweep);
	};
	// What was told while the connection was broken is made good when it is there again.
	if (!end) end = listen({ [CHANNEL]: hear }, tell);
	else
		void loadSweeps(watcher.workspaceId).then(
			(sweeps) => sweeps.toReversed().forEach(watcher.take),
			() => undefined,
		);
	return () => {
		watchers.delete(watcher);
		if (watchers.size > 0 || !looking) return;
		clearInterval(looking);
		looking = null;
	};
}

export async function closeProgress(): Promise<void> {
	await end?.();
}

/** Seconds after which something is sent, so that nobody between takes the connection for dead. */
const ALIVE = 20;

/** How far sweeps are, as server-sent events: each as “sweep” with its JSON, all of them first; and whether a “worker” is there. */
export function answerProgress({ workspaceId, proof }: Actor): Response {
	const encoder = new TextEncoder();
	let stop = () => {};
	let forget = () => {};
	let alive: ReturnType<typeof setInterval> | undefined;
	const done = () => {
		clearInterval(alive);
		stop();
		forget();
	};
	const body = new ReadableStream<Uint8Array>({
		start(controller) {
			const send = (text: string) => {
				try {
					controller.enqueue(encoder.encode(text));
				} catch {
					// Whoever listened is gone.
					stop();
				}
			};
			forget = endWithKey(proof, () => {
				done();
				controller.close();
			});
			send('retry: 1000\n\n');
			stop = watch({
				workspaceId,
				take: (sweep) => send(`event: sweep\ndata: ${JSON.stringify(sweep)}\n\n`),
				takeWorker: (worker) => send(`event: worker\ndata: ${JSON.stringify(worker)}\n\n`),
			});
			alive = setInterval(() => send(': still here\n\n'), 1000 * ALIVE);
			alive.unref();
		},
		cancel: done,
	});
	return new Response(body, {
		headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
	});
}
