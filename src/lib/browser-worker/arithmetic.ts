import { type Remote, wrap } from 'comlink';
import type { ValidRequest } from '$core/questions/request';
import { Asking, type Held, type ProposalQuestion } from './asking';
import type { Arithmetic } from './evaluate.worker';

let shared: Remote<Arithmetic> | null = null;
let aside: { worker: Worker; remote: Remote<Arithmetic> } | null = null;

const newWorker = () => new Worker(new URL('./evaluate.worker.ts', import.meta.url), { type: 'module' });

/** The arithmetic in a worker of its own, one for the page. */
export function arithmetic(): Remote<Arithmetic> {
	shared ??= wrap<Arithmetic>(newWorker());
	return shared;
}

const asking = new Asking(
	(question, held) => arithmetic().answer(question, held),
	(question, held) => arithmetic().propose(question, held),
);

/** The answer to a request; what the worker knows from the last one is neither sent nor calculated again. */
export const askArithmetic = (request: ValidRequest) => asking.ask(request);

/** What is proposed for a series. */
export const proposeArithmetic = (request: Held & ProposalQuestion) => asking.propose(request);

/** A second one, for what takes long, so that a dial never waits for it. */
export function arithmeticAside(): Remote<Arithmetic> {
	if (!aside) {
		const worker = newWorker();
		aside = { worker, remote: wrap<Arithmetic>(worker) };
	}
	return aside.remote;
}

/** Ends what runs in it: whatever was asked there is never answered. */
export function stopAside(): void {
	aside?.worker.terminate();
	aside = null;
}
