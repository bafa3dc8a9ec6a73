import type { Sweep } from '../../shapes';
import { listen } from '../listening';
import { log } from '../log';
import { CHANNEL, loadSweep, loadSweeps } from './sweeps';

/** How far sweeps are, told to whoever looks at them. */

/** Milliseconds in which what is told of one sweep is told once. */
const TOGETHER = 200;

interface Watcher {
	workspaceId: number;
	take: (sweep: Sweep) => void;
}

const watchers = new Set<Watcher>();
const changed = new Map<number, number>();
let later: ReturnType<typeof setTimeout> | null = null;
let end: (() => Promise<void>) | null = null;

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
	return () => watchers.delete(watcher);
}

export async function closeProgress(): Promise<void> {
	await end?.();
}

/** Seconds after which something is sent, so that nobody between takes the connection for dead. */
const ALIVE = 20;

/** How far sweeps are, as server-sent events: each as “sweep” with its JSON, all of them first. */
export function answerProgress(workspaceId: number): Response {
	const encoder = new TextEncoder();
	let stop = () => {};
	let alive: ReturnType<typeof setInterval> | undefined;
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
			send('retry: 1000\n\n');
			stop = watch({
				workspaceId,
				take: (sweep) => send(`event: sweep\ndata: ${JSON.stringify(sweep)}\n\n`),
			});
			alive = setInterval(() => send(': still here\n\n'), 1000 * ALIVE);
			alive.unref();
		},
		cancel() {
			clearInterval(alive);
			stop();
		},
	});
	return new Response(body, {
		headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' },
	});
}
