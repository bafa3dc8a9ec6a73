import { type Remote, wrap } from 'comlink';
import type { Arithmetic } from './evaluate.worker';
import EvaluateWorker from './evaluate.worker?worker';

let shared: Remote<Arithmetic> | null = null;

/** The arithmetic in a worker of its own, one for the page. */
export function arithmetic(): Remote<Arithmetic> {
	shared ??= wrap<Arithmetic>(new EvaluateWorker());
	return shared;
}
