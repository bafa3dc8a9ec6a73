import { type Candidate, constantsOfCandidate, methodOf } from './registry';

/**
 * A name for each candidate that no other one has: its label, with its constants where several share the label,
 * and its place where even those are the same.
 * @param constantsOf constants of a candidate by id, as they were used
 * @param finish what is done with a name before it is shown
 */
export function distinctNames(
	candidates: readonly Candidate[],
	constantsOf: (id: string) => Readonly<Record<string, number>> | undefined,
	finish: (name: string) => string = (name) => name,
): Map<string, string> {
	const plain = candidates.map((candidate) => methodOf(candidate.method).label(candidate));
	const shared = (names: readonly string[], name: string) =>
		names.filter((other) => other === name).length > 1;
	const withConstants = candidates.map((candidate, i) => {
		const constants = constantsOfCandidate(candidate);
		const used = constantsOf(candidate.id) ?? candidate.constants ?? {};
		if (!shared(plain, plain[i]!) || constants.length === 0) return plain[i]!;
		const said = constants.map(
			({ key, symbol, fallback }) => `${symbol} ${(used[key] ?? fallback).toFixed(2)}`,
		);
		return `${plain[i]} ${said.join(' ')}`;
	});
	return new Map(
		candidates.map(({ id }, i) => {
			const name = withConstants[i]!;
			const place = withConstants.slice(0, i + 1).filter((other) => other === name).length;
			return [id, finish(shared(withConstants, name) ? `${name} (${place})` : name)];
		}),
	);
}
