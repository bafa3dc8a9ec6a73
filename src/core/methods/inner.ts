import { innerField } from '../contract/field';
import type { CandidateInput, Constant } from '../contract/candidate';
import type { Method } from '../contract/method';

/** The settings of a method inside another one. */
export type InnerInput = Omit<CandidateInput, 'id'>;

/**
 * What methods around other methods share: the setting that says which one stands inside, and how to come by it.
 * @param methods those that may stand inside
 * @param initial what a new candidate has inside
 */
export function around(methods: readonly Method[], initial: InnerInput) {
	const field = innerField<InnerInput>(
		{ key: 'inner', name: 'inner method', symbol: '', meaning: 'The method that stands inside.' },
		methods.map(({ id }) => id),
		initial,
	);
	const insideOf = (candidate: CandidateInput): { method: Method; candidate: CandidateInput } => {
		const inner = field.read(candidate);
		return {
			method: methods.find(({ id }) => id === inner.method)!,
			candidate: { ...inner, id: candidate.id } as CandidateInput,
		};
	};
	const constantsOf = (candidate: CandidateInput): readonly Constant[] => {
		const inside = insideOf(candidate);
		return inside.method.constantsOf?.(inside.candidate) ?? inside.method.constants;
	};
	return { field, insideOf, constantsOf };
}
