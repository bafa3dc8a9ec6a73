import { membersField } from '$core/methods/combination';
import type { Candidate } from '$core/methods/registry';
import type { Proposal } from '$core/questions/propose';

/** A line-up that is proposed: what to forecast by, the one method to explain it by, the yardstick, and behind them the parts of a mix. */
export interface ProposedLineUp {
	candidates: Candidate[];
	/** The parts that stand behind the mix. */
	hidden: string[];
	chosen: string;
}

/**
 * A proposal as a line-up; null where nothing can be proposed.
 * @param freeId names that are not taken, each another one
 * @param naive the yardstick that the line-up has already
 */
export function proposedLineUp(
	{ candidate, others, tried, single }: Pick<Proposal, 'candidate' | 'others' | 'tried' | 'single'>,
	freeId: () => string,
	naive?: Candidate,
): ProposedLineUp | null {
	if (!candidate) return null;
	const all = [candidate, ...others];
	const named = new Map<string, Candidate>();
	const take = (one: Candidate) => {
		if (!named.has(one.id))
			named.set(one.id, one.method === 'naive' && naive ? naive : { ...one, id: freeId() });
		return named.get(one.id)!;
	};
	const front = [
		candidate,
		tried[single]?.candidate,
		tried.find((one) => one.candidate.method === 'naive')?.candidate,
	]
		.filter((one) => one !== undefined)
		.map(take);
	const parts = all.map(take).filter((one) => !front.includes(one));
	const candidates = [...new Set(front), ...parts].map((one) =>
		one.method === 'combination'
			? { ...one, of: membersField.read(one).map((id) => named.get(id)!.id) }
			: one,
	);
	return { candidates, hidden: parts.map(({ id }) => id), chosen: candidates[0]!.id };
}
