import type { Note } from '../contract/note';
import { type Cycles, cyclesOf } from '../seasons/cycles';
import { type Indices, type SeasonKind, wholeOf } from '../seasons/indices';
import { indicesOf } from '../seasons/lent';
import { type IndexInput } from '../seasons/settings';
import { pairOf, twoSeasons, type TwoSeasons } from '../seasons/two-seasons';
import { seasonName } from '../series/season-name';
import { parsePeriod, PeriodError } from '../series/period';
import type { Series } from '../series/series';
import type { Expression } from '../contract/working';
import { figure, plus, times } from '../working/expression';
import { CannotRun } from '../contract/method';

// What methods with seasonal indices share: what they refuse, and why.

/** A season as a sentence names it: "May", or "season 3" where the calendar has no name. */
export function seasonWords({ frequency, seasonLength }: Series, season: number): string {
	const name = seasonName(frequency, seasonLength, season);
	return name === String(season) ? `season ${season}` : name;
}

/** Refuses a series without a season. */
export function refuseWithoutSeason({ seasonLength }: Series, name: string, does: string): void {
	if (seasonLength >= 2) return;
	throw new CannotRun({
		code: 'no-season',
		text: `${name} ${does}, and this series has no season: its season length is ${seasonLength}. Set the season length, or take a method without a season.`,
		figures: { needs: 2, has: seasonLength },
	});
}

/** Refuses figures that a multiplied season cannot make: those below 0. A season of nothing has index 0. */
export function refuseNegative({ values }: Series, kind: SeasonKind): void {
	if (kind === 'additive') return;
	const at = values.findIndex((value) => value < 0);
	if (at >= 0) {
		const count = values.filter((value) => value < 0).length;
		throw new CannotRun({
			code: 'multiplicative-needs-positive',
			text: `A multiplicative season cannot be taken of figures below 0; ${count} of ${values.length} are, first at position ${at + 1}. Take an additive season, or leave those periods out.`,
			figures: { count, first: at + 1 },
		});
	}
	if (values.some((value) => value > 0)) return;
	throw new CannotRun({
		code: 'multiplicative-needs-positive',
		text: 'A multiplicative season needs a level above 0, and there is no figure above 0. Take an additive season.',
		figures: { count: 0, first: 1 },
	});
}

/** How many periods indices and level may learn from: all, or those up to the period that they are kept as of. */
export function knownUntil(
	{ frequency, first, values }: Series,
	frozen: string | number | undefined,
): number {
	if (frozen === undefined) return values.length;
	try {
		const known = parsePeriod(frequency, frozen) - first + 1;
		if (known > 0) return Math.min(known, values.length);
	} catch (error) {
		if (!(error instanceof PeriodError)) throw error;
		throw new CannotRun({
			code: 'frozen-unknown',
			text: `Indices are to stay as they stood at the end of ${frozen}: ${error.message}.`,
			figures: {},
		});
	}
	throw new CannotRun({
		code: 'frozen-unknown',
		text: `Indices are to stay as they stood at the end of ${frozen}, and the series begins after it.`,
		figures: {},
	});
}

/** Refuses indices that were typed where they cannot be: too many, too few, below 0, or with a sum that cannot be met. */
export function refuseTyped(
	series: Series,
	kind: SeasonKind,
	{ rule, indices, held, normalise }: Pick<IndexInput, 'rule' | 'indices' | 'held' | 'normalise'>,
): void {
	const length = series.seasonLength;
	for (const list of [rule === 'given' ? indices : undefined, held]) {
		if (list && list.length !== length) {
			throw new CannotRun({
				code: 'index-count',
				text: `${list.length} indices are given; a season of ${length} has ${length}, season 1 first.`,
				figures: { needs: length, has: list.length },
			});
		}
		const below =
			kind === 'multiplicative' ? (list?.findIndex((index) => index !== null && index < 0) ?? -1) : -1;
		if (below >= 0) {
			throw new CannotRun({
				code: 'index-negative',
				text: `The index of ${seasonWords(series, below + 1)} is given as ${list![below]!}; an index that multiplies is at least 0.`,
				figures: { season: below + 1 },
			});
		}
	}
	if (held && normalise !== false) refuseSum(held, kind, length);
}

/** Refuses held indices with which no others can bring the sum to where it belongs. */
export function refuseSum(held: readonly (number | null)[], kind: SeasonKind, length: number): void {
	const whole = wholeOf(kind, length);
	const kept = held.filter((index) => index !== null);
	const sum = kept.reduce((a, b) => a + b, 0);
	const free = length - kept.length;
	const said = (value: number) => Number(value.toPrecision(6));
	if (free === 0 && Math.abs(sum - whole) > 1e-9 * Math.max(1, length)) {
		throw new CannotRun({
			code: 'held-sum',
			text: `All ${length} indices are fixed and sum to ${said(sum)}; they must sum to ${whole}. Free one of them, or change one by ${said(whole - sum)}.`,
			figures: { sum, needs: whole },
		});
	}
	if (free > 0 && kind === 'multiplicative' && sum >= whole) {
		throw new CannotRun({
			code: 'held-sum',
			text: `The ${kept.length} fixed indices already sum to ${said(sum)}; all ${length} must sum to ${whole}, which leaves nothing for the other ${free}. Fix smaller values, or free one.`,
			figures: { sum, needs: whole },
		});
	}
}

/**
 * The indices of a series, complete.
 * @param name what needs them, for the refusal
 * @throws CannotRun where a season has no ratio to take an index from, or what was typed cannot be
 */
export function completeIndices(
	series: Series,
	kind: SeasonKind,
	input: IndexInput,
	to = series.values.length,
): Indices {
	const cycles = cyclesOf(series);
	const indices = indicesOf(series, kind, input, to);
	const unknown = indices.before.findIndex((index) => !Number.isFinite(index));
	if (unknown >= 0) throw input.lent ? unlent(series) : unknownIndex(series, cycles, input, unknown + 1, to);
	const lost = indices.after.findIndex((index) => !Number.isFinite(index));
	if (lost >= 0) {
		throw new CannotRun({
			code: 'held-sum',
			text: `The indices sum to 0 before they are brought to ${wholeOf(kind, cycles.length)}, so there is nothing to share out. Give other indices, or leave the sum as it is.`,
			figures: { sum: 0, needs: wholeOf(kind, cycles.length) },
		});
	}
	return indices;
}

/**
 * Two seasons at once, complete.
 * @param name what needs them, for the refusal
 * @throws CannotRun where the calendar has no such two, or a slot of the longer one has no figure yet
 */
export function completeSeasons(
	series: Series,
	kind: SeasonKind,
	input: IndexInput,
	name: string,
): TwoSeasons {
	const pair = pairOf(series);
	const [first, second] = input.seasons!;
	if (pair?.[1] !== second) {
		throw new CannotRun({
			code: 'no-such-seasons',
			text: `${name} is to follow ${first} and ${second} at once, and this series has no such two seasons: that takes ${second === 'weekday' ? 'hours and a season of 24' : 'days and a season of 7'}.`,
			figures: { has: series.seasonLength },
		});
	}
	const seasons = twoSeasons(series, kind, input);
	const unknown = [seasons.first, seasons.second]
		.flatMap((list) => [...list])
		.some((index) => !Number.isFinite(index));
	if (!unknown) return seasons;
	const needs = second === 'weekday' ? 7 * 24 : 52 * 7;
	throw new CannotRun({
		code: 'too-few-cycles',
		text: `${name} needs a figure for each ${second === 'weekday' ? 'hour of day and weekday' : 'weekday and week of the year'} to tell its index, some ${needs} periods; this series has ${series.values.length}. Bring in earlier periods, fill the gaps, or take one season.`,
		figures: { needs, has: series.values.length },
	});
}

const NEEDED: Readonly<Record<IndexInput['rule'], string>> = {
	'ratio-to-moving-average':
		'a centred average reaches half a cycle to both sides, so that two cycles are needed',
	'ratio-to-cycle-mean': 'it takes a cycle that is complete, from season 1 to the last without a gap',
	'ratio-to-overall': 'each season needs a figure',
	'ratio-to-trend': 'each season needs a figure',
	given: 'each season needs a figure',
};

function unknownIndex(
	series: Series,
	{ length }: Cycles,
	{ rule }: IndexInput,
	season: number,
	to: number,
): CannotRun {
	const needs = rule === 'ratio-to-moving-average' ? 2 * length : length;
	return new CannotRun({
		code: 'too-few-cycles',
		text: `The index of ${seasonWords(series, season)} cannot be told: ${NEEDED[rule]}; ${to < series.values.length ? `up to where indices are frozen there are ${to} periods` : `this series has ${to} periods`}. Bring in earlier periods, fill the gaps, or take indices by another rule.`,
		figures: { needs, has: to, season },
	});
}

/** Why a group lends no season. */
function unlent({ group, seasonLength }: Series): CannotRun {
	const has = group?.values.length ?? 0;
	return new CannotRun({
		code: 'no-group-season',
		text: group
			? `“${group.name}” has ${has} periods up to here; its season takes ${2 * seasonLength}. Take the item’s own indices.`
			: 'No group is known here whose season could be taken. Give the item a label that it shares with items of three cycles or more, or take its own indices.',
		figures: { needs: 2 * seasonLength, has },
	});
}

/** Whose season it is, where a group lends it. */
export function lentNotes({ group }: Series, { lent }: IndexInput, { weight }: Indices): Note[] {
	if (!lent || !group) return [];
	const whose = `the season of “${group.name}”`;
	return [
		{
			code: 'season-lent',
			text:
				lent === 'group'
					? `It follows ${whose}.`
					: weight === 0
						? `It follows ${whose}: its own cannot be told from it yet.`
						: `It follows ${whose}, moved ${Math.round(100 * weight)} % of the way to its own.`,
			figures: { weight, periods: group.values.length },
		},
	];
}

/** What a reader should know of indices: seasons of nothing, a sum that is not what it should be. */
export function indexNotes(series: Series, kind: SeasonKind, after: Float64Array): Note[] {
	const notes: Note[] = [];
	const whole = wholeOf(kind, after.length);
	const sum = after.reduce((a, b) => a + b, 0);
	if (Math.abs(sum - whole) > 1e-6 * after.length) {
		const said = Number(sum.toPrecision(5));
		notes.push({
			code: 'index-sum',
			text:
				kind === 'multiplicative'
					? `The indices sum to ${said}, not ${whole}: over a cycle the forecast lies ${Number(Math.abs(100 * (sum / whole - 1)).toPrecision(2))} % ${sum > whole ? 'above' : 'below'} its level.`
					: `The indices sum to ${said}, not 0: over a cycle the forecast lies ${Number(Math.abs(sum / after.length).toPrecision(3))} a period ${sum > 0 ? 'above' : 'below'} its level.`,
			figures: { sum, whole },
		});
	}
	if (kind === 'additive') return notes;
	const empty = [...after.keys()].filter((j) => after[j] === 0).map((j) => j + 1);
	if (empty.length > 0) {
		notes.push({
			code: 'season-of-zero',
			text: `The index of ${empty.map((season) => seasonWords(series, season)).join(', ')} is 0: the forecast there is 0 whatever the level, and ${empty.length === 1 ? 'its' : 'their'} figures say nothing about the level.`,
			figures: { season: empty[0]!, count: empty.length },
		});
	}
	return notes;
}

/** A level with an index put to it, spelled out. */
export const spelledWithIndex = (kind: SeasonKind, level: Expression, index: number): Expression =>
	kind === 'additive' ? plus(level, figure(index)) : times(level, figure(index));
