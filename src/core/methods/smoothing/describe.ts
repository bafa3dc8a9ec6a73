import type { CandidateInput, Constant, StartPart } from '../../contract/candidate';
import type { Field } from '../../contract/field';
import { defineMethod, type Method } from '../../contract/method';
import { smoothingModel } from './family';
import { startKnownFrom } from './starts';
import type { Family } from './structure';
import { smoothingWorking } from './working';

/** What members of the family say of themselves. */
type Described<Id extends string, Fields extends readonly Field[]> = Pick<
	Method<Id, Fields>,
	'id' | 'name' | 'fits' | 'fields' | 'starts' | 'startNew' | 'label' | 'short' | 'rate'
> & {
	/** Every constant that a member may have, with those of one candidate. */
	constants: readonly Constant[];
	constantsOf?: (candidate: CandidateInput) => readonly Constant[];
	family(candidate: CandidateInput): Family;
};

/** A member of the smoothing family as a method. */
export function smoothingMethod<const Id extends string, const Fields extends readonly Field[]>({
	family,
	...described
}: Described<Id, Fields>) {
	const constantsOf = described.constantsOf ?? (() => described.constants);
	return defineMethod<Id, Fields>({
		...described,
		kind: () => 'forecast',
		onlyPastFrom: ({ start }, size) => startKnownFrom(start ?? { rule: described.starts[0]! }, size),
		modelled: (candidate) => family(candidate).season !== 'multiplicative',
		startParts: (candidate) => partsOf(family(candidate)),
		follows(candidate) {
			const { trend, season } = family(candidate);
			return { trend: trend !== 'none', season: season === 'none' ? false : season };
		},
		bind: (series, candidate) =>
			smoothingModel(series, candidate, {
				name: described.name,
				family: family(candidate),
				constants: constantsOf(candidate),
				fallbackStart: described.starts[0]!,
			}),
		working: (candidate) => smoothingWorking(family(candidate)),
	});
}

function partsOf({ trend, season }: Family): StartPart[] {
	const parts: StartPart[] = ['level'];
	if (trend !== 'none') parts.push('trend');
	if (season !== 'none') parts.push('season');
	return parts;
}
