import type { Evaluation, PerPeriod } from '$core/questions/answer';
import { evaluateChecked, EvaluateMemory } from '$core/questions/evaluate';
import { parseRequest } from '$core/questions/request';
import type { Proposal } from '$core/questions/propose';
import type { Changes, Held, ProposalQuestion, Question } from './asking';

/** The end in the worker: holds the series, and tells of an answer what changed. */
export class Answering {
	readonly #memory = new EvaluateMemory();
	#held: Held | null = null;
	#before: Evaluation['candidates'] = [];

	/** What is proposed for a series; what is searched for it is known when its line-up is asked about. */
	async propose(question: ProposalQuestion, held: Held | null): Promise<Proposal> {
		if (held) this.#held = held;
		const { propose } = await import('$core/questions/propose');
		return propose({ ...this.#held, ...question }, this.#memory);
	}

	/** @param held where the series is another one than the last time */
	answer(question: Question, held: Held | null): Changes {
		const began = performance.now();
		if (held) this.#held = held;
		const request = parseRequest({ ...this.#held, ...question });
		const { candidates, ...rest } = evaluateChecked(request, this.#memory);
		const known = new Set(this.#before);
		const changed = candidates.map((candidate) => (known.has(candidate) ? candidate.id : candidate));
		this.#before = candidates;
		return { ...rest, candidates: changed, took: performance.now() - began };
	}
}

/** The same changes with lists of their own, and the memory that may be handed over with them. */
export function toTransfer(changes: Changes): { changes: Changes; transfer: ArrayBuffer[] } {
	const transfer: ArrayBuffer[] = [];
	const own = <List extends Float64Array | Int32Array>(list: List): List => {
		const copy = list.slice() as List;
		transfer.push(copy.buffer as ArrayBuffer);
		return copy;
	};
	const ownPeriods = ({ fitted, errors, states, tracking, ...rest }: PerPeriod): PerPeriod => ({
		...rest,
		fitted: own(fitted),
		errors: own(errors),
		states: Object.fromEntries(Object.entries(states).map(([key, list]) => [key, own(list)])),
		tracking: {
			positions: own(tracking.positions),
			errors: own(tracking.errors),
			cfe: own(tracking.cfe),
			mad: own(tracking.mad),
		},
	});
	const candidates = changes.candidates.map((candidate) =>
		typeof candidate === 'string' || !candidate.ok || !candidate.perPeriod
			? candidate
			: { ...candidate, perPeriod: ownPeriods(candidate.perPeriod) },
	);
	return { changes: { ...changes, candidates }, transfer };
}
