import type { Evaluated } from '$core/questions/answer';
import type { CandidateInput } from '$core/contract/candidate';
import { withoutUnset } from '$core/methods/registry';
import { indexField, seasonField } from '$core/methods/season-fields';
import type { IndexInput, SeasonKind } from '$core/seasons/indices';
import { describePeriod } from '$core/series/period';
import { type FoundIndices } from '$core/working/season-table';
import type { ItemState } from '../item-state.svelte';

/** Indices as the workplace shows them. */
export interface SeasonSettings {
	kind: SeasonKind;
	input: IndexInput;
	/** Indices that were found together with a line, in place of a rule. */
	found: FoundIndices | null;
}

/** Lays another season length over an item; its own takes the layer away. */
export function setSeasonLength(desk: ItemState, length: number): void {
	desk.mend({ seasonLength: length === desk.item.series.seasonLength ? null : length });
}

/** Whether a candidate takes indices by a rule. */
export const takesIndices = (candidate: CandidateInput | undefined): boolean =>
	candidate?.method === 'seasonal-index' || candidate?.method === 'deseasonalised';

/** Whether its indices are found together with a line. */
export const findsIndices = (candidate: CandidateInput | undefined): boolean =>
	candidate?.method === 'trend-seasonal';

/** A candidate's own settings of its season; null where it has none. */
export function settingsOf(
	candidate: CandidateInput | undefined,
	result: Evaluated | undefined,
): SeasonSettings | null {
	if (!candidate) return null;
	const kind = seasonField.read(candidate);
	if (takesIndices(candidate)) return { kind, input: indexField.read(candidate), found: null };
	if (!findsIndices(candidate)) return null;
	const { line, indices } = result?.perPeriod ?? {};
	return {
		kind,
		input: { rule: 'given', held: heldIndices(candidate) },
		found: line && indices ? { line, indices: indices as number[] } : null,
	};
}

/** What a line's search holds, as its request has it. */
interface Hold {
	intercept?: number;
	slope?: number;
	indices?: (number | null)[];
}

export const holdOf = (candidate: CandidateInput): Hold => (candidate.optimise?.hold ?? {}) as Hold;

const heldIndices = (candidate: CandidateInput) =>
	findsIndices(candidate) ? holdOf(candidate).indices : indexField.read(candidate).held;

/** Indices with one of them held at a value, or let go with null; undefined where none is held any more. */
export function withHeld(
	held: readonly (number | null)[] | undefined,
	length: number,
	season: number,
	value: number | null,
): (number | null)[] | undefined {
	const list = Array.from({ length }, (_, j) => (j === season ? value : (held?.[j] ?? null)));
	return list.some((each) => each !== null) ? list : undefined;
}

/** Holds something of a line with indices, or lets it go with null; the rest is found anew. */
export function holdLine(
	desk: ItemState,
	candidate: CandidateInput,
	change: { intercept?: number | null; slope?: number | null; indices?: (number | null)[] | undefined },
	stroke: string | null = null,
): void {
	const hold = Object.fromEntries(
		Object.entries({ ...holdOf(candidate), ...change }).filter(([, value]) => value != null),
	);
	const { criterion } = candidate.optimise ?? {};
	desk.set(
		candidate.id,
		{ optimise: { ...(criterion && { criterion }), hold } as CandidateInput['optimise'] },
		stroke,
	);
}

/** Another kind of season: indices that were typed for the one before mean something else in this one, and go. */
export function withSeason(candidate: CandidateInput, season: SeasonKind): Partial<CandidateInput> {
	if (seasonField.read(candidate) === season) return {};
	if (takesIndices(candidate)) {
		const before = indexField.read(candidate);
		const rule = before.rule === 'given' ? indexField.initial.rule : before.rule;
		return { season, index: withoutUnset({ ...before, rule, indices: undefined, held: undefined }) };
	}
	if (!findsIndices(candidate) || !candidate.optimise) return { season };
	const hold = Object.fromEntries(Object.entries(holdOf(candidate)).filter(([key]) => key !== 'indices'));
	return { season, optimise: { ...candidate.optimise, hold } as CandidateInput['optimise'] };
}

/** Holds one index of a candidate at a value, or lets it go with null. */
export function holdIndex(
	desk: ItemState,
	candidate: CandidateInput,
	season: number,
	value: number | null,
	stroke: string | null = null,
): void {
	const held = withHeld(heldIndices(candidate), desk.series.seasonLength, season, value);
	if (findsIndices(candidate)) holdLine(desk, candidate, { indices: held }, stroke);
	else {
		const index = withoutUnset({ ...indexField.read(candidate), held });
		desk.set(candidate.id, { index }, stroke);
	}
}

/** The name of a cycle: its year, or its number. */
export function cycleName({ series }: ItemState, cycle: number, lead: number): string {
	const last = Math.min(series.values.length - 1, (cycle + 1) * series.seasonLength - 1 - lead);
	if (series.frequency === 'step') return `cycle ${cycle + 1}`;
	const name = describePeriod(series.frequency, series.first + last);
	// Of days and hours the date that the cycle ends on, short enough for the head of a row.
	const date = /(\d{1,2} [A-Z][a-z]{2}) \d\d(\d\d)/.exec(name);
	return date ? `${date[1]} ${date[2]}` : (/\d{4}/.exec(name)?.[0] ?? name);
}
