import type { Evaluated } from '$core/questions/answer';
import { type Candidate, withoutUnset } from '$core/methods/registry';
import { indexField } from '$core/methods/season-fields';
import type { LineHold } from '$core/methods/trend-seasonal';
import type { SeasonKind } from '$core/seasons/indices';
import type { IndexInput } from '$core/seasons/settings';
import { describePeriod } from '$core/series/period';
import { type FoundIndices } from '$core/working/season-table';
import type { ItemState } from './item-state.svelte';

/** Candidates whose indices are taken by a rule, and those whose indices are found together with a line. */
export type Indexed = Extract<Candidate, { method: 'seasonal-index' | 'deseasonalised' }>;
export type Lined = Extract<Candidate, { method: 'trend-seasonal' }>;

/** Indices as the workplace shows them. */
export interface SeasonSettings {
	kind: SeasonKind;
	input: IndexInput;
	/** Indices that were found together with a line, in place of a rule. */
	found: FoundIndices | null;
}

/** Lays another season length over an item; its own takes the layer away. */
export function setSeasonLength(itemState: ItemState, length: number): void {
	itemState.lineUp.layOver({ seasonLength: length === itemState.item.series.seasonLength ? null : length });
}

export const takesIndices = (candidate: Candidate | undefined): candidate is Indexed =>
	candidate?.method === 'seasonal-index' || candidate?.method === 'deseasonalised';

export const findsIndices = (candidate: Candidate | undefined): candidate is Lined =>
	candidate?.method === 'trend-seasonal';

/** A candidate's own settings of its season; null where it has none. */
export function settingsOf(
	candidate: Candidate | undefined,
	result: Evaluated | undefined,
): SeasonSettings | null {
	if (takesIndices(candidate))
		return { kind: candidate.season, input: indexField.read(candidate), found: null };
	if (!findsIndices(candidate)) return null;
	const { line, indices } = result?.perPeriod ?? {};
	return {
		kind: candidate.season,
		input: { rule: 'given', held: holdOf(candidate).indices },
		found: line && indices ? { line, indices: indices as number[] } : null,
	};
}

/** What a line's search holds, as its request has it. */
export const holdOf = (candidate: Lined): LineHold => candidate.optimise?.hold ?? {};

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
	itemState: ItemState,
	candidate: Lined,
	change: { [Part in keyof LineHold]: LineHold[Part] | null },
	stroke: string | null = null,
): void {
	const all = Object.entries({ ...holdOf(candidate), ...change });
	const hold: LineHold = Object.fromEntries(all.filter(([, value]) => value != null));
	const { criterion } = candidate.optimise ?? {};
	itemState.lineUp.set(candidate, { optimise: { ...(criterion && { criterion }), hold } }, stroke);
}

/** Lets all of a line go that is held. */
export const letGo = (itemState: ItemState, candidate: Lined): void =>
	itemState.lineUp.set(candidate, { optimise: { ...candidate.optimise, hold: {} } });

/** The same with another kind of season: indices that were typed for the one before mean something else in this one, and go. */
export function withSeason(candidate: Candidate, season: SeasonKind): Candidate {
	if (!('season' in candidate) || candidate.season === season) return candidate;
	if (takesIndices(candidate)) {
		const before = indexField.read(candidate);
		const rule = before.rule === 'given' ? indexField.initial.rule : before.rule;
		const index = withoutUnset({ ...before, rule, indices: undefined, held: undefined });
		return { ...candidate, season, index };
	}
	if (!findsIndices(candidate) || !candidate.optimise) return { ...candidate, season };
	const hold = withoutUnset({ ...holdOf(candidate), indices: undefined });
	return { ...candidate, season, optimise: { ...candidate.optimise, hold } };
}

/** Holds one index of a candidate at a value, or lets it go with null. */
export function holdIndex(
	itemState: ItemState,
	candidate: Indexed | Lined,
	season: number,
	value: number | null,
	stroke: string | null = null,
): void {
	const { seasonLength: length } = itemState.series;
	if (findsIndices(candidate)) {
		const indices = withHeld(holdOf(candidate).indices, length, season, value);
		return holdLine(itemState, candidate, { indices }, stroke);
	}
	const index = indexField.read(candidate);
	const held = withHeld(index.held, length, season, value);
	itemState.lineUp.set<Indexed>(candidate, { index: withoutUnset({ ...index, held }) }, stroke);
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
