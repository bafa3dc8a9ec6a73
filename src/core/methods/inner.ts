import { innerField } from '../contract/field';
import type { CandidateInput, Constant } from '../contract/candidate';
import type { Method, SettingsOf } from '../contract/method';

/**
 * What methods around other methods share: the setting that says which one stands inside, and how to come by it.
 * @param methods those that may stand inside
 * @param initial what a new candidate has inside
 */
export function around<M extends Method>(methods: readonly M[], initial: SettingsOf<M>) {
	const field = innerField(
		{ key: 'inner', name: 'inner method', symbol: '', meaning: 'The method that stands inside.' },
		methods.map(({ id }) => id),
		initial,
	);
	const insideOf = (candidate: CandidateInput): { method: M; candidate: CandidateInput } => {
		const inner = field.read(candidate);
		return {
			method: methods.find(({ id }) => id === inner.method)!,
			candidate: { ...inner, id: candidate.id },
		};
	};
	const constantsOf = (candidate: CandidateInput): readonly Constant[] => {
		const inside = insideOf(candidate);
		return inside.method.constantsOf?.(inside.candidate) ?? inside.method.constants;
	};
	return { field, insideOf, constantsOf };
}
