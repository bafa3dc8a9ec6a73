import { type Diagnosis, diagnoseSeason } from '../diagnosis/diagnosis';
import type { Criterion } from '../contract/criteria';
import type { OptimiseInput } from '../contract/candidate';
import type { Candidate, Settings } from '../methods/registry';
import { neverBelow } from '../ranges/shown';
import type { SeasonKind } from '../seasons/indices';
import { pairOf } from '../seasons/two-seasons';
import { countPresent, inTotals, type Series } from '../series/series';

/** Which methods a proposal tries, by what the diagnosis says of a series. The simplest stand first: of equals the simpler one is better. */

/** Cycles from which on a series is taken at its own season, and periods below which nothing is put to another one. */
const OWN_CYCLES = 3;
const LEAST_LENT = 3;

/** Whether the group of a series has a season where its own cannot be known yet. */
export function lends({ group, values, seasonLength, frequency }: Series): boolean {
	if (!group || seasonLength < 2 || values.length >= OWN_CYCLES * seasonLength) return false;
	if (countPresent(values) < LEAST_LENT) return false;
	const question = { frequency, expected: seasonLength, only: true };
	return diagnoseSeason(inTotals(group, group.values), question).season !== null;
}

/**
 * Methods that take a season over from the group: below two cycles as it is, from there on with what the item itself shows of it.
 * The level by as little as a few periods can tell (`npm run bench -- lent` says what each gains).
 */
function lentPool(series: Series, ses: Settings): Settings[] {
	const { values, seasonLength } = series;
	const whole = values.length >= 2 * seasonLength;
	const season = neverBelow(values) && values.some((value) => value > 0) ? 'multiplicative' : 'additive';
	const index = { rule: 'ratio-to-moving-average', lent: whole ? 'both' : 'group' } as const;
	const inside: Settings[] = whole ? [ses] : [{ method: 'average' }, ses];
	return inside.map((inner): Settings => ({ method: 'deseasonalised', season, index, inner }) as Settings);
}

const numbered = (pool: readonly Settings[]) =>
	pool.map((settings, i): Candidate => ({ ...settings, id: `p${i + 1}` }));

/** No faster: where most periods have no demand, single ones would decide (`npm run bench -- rare` tells what that costs). */
const SLOW = [0.01, 0.1] as const;
/** What rare demand is tried by, the simplest first: methods that forecast its rate, found by squared errors, since by their sizes nothing would win. */
const RARE_POOL: readonly Candidate[] = numbered([
	{ method: 'average' },
	{
		method: 'ses',
		start: { rule: 'mean', k: 12 },
		optimise: { criterion: 'mse', bounds: { alpha: SLOW } },
	},
	...(['sba', 'tsb'] as const).map((variant): Settings => ({
		method: 'croston',
		variant,
		optimise: { criterion: 'mse', bounds: { alpha: SLOW, beta: SLOW } },
	})),
]);

/** What the pools are made of: methods with the settings that they are tried with on a series. */
interface Parts {
	ses: Settings;
	holt: Settings;
	damped: Settings;
	optimise: OptimiseInput;
	/** Kinds of season that are tried: the one that swings say, and both where all is above 0. */
	kind: SeasonKind;
	both: readonly SeasonKind[];
	/** Indices shrunk to what is certain of them, and those of the group. */
	shrunk: readonly Settings[];
	taken: readonly Settings[];
}

const index = { rule: 'ratio-to-moving-average' } as const;

function partsOf(series: Series, { swings }: Diagnosis, criterion: Criterion, lent: boolean): Parts {
	// One of many that are tried: what a harder look finds changes the combination by nothing that counts.
	const optimise = { criterion, quick: true };
	const ses: Settings = { method: 'ses', optimise };
	const positive = series.values.every((value) => Number.isNaN(value) || value > 0);
	const kind = swings?.grow && positive ? 'multiplicative' : 'additive';
	return {
		ses,
		holt: { method: 'holt', start: { rule: 'line' }, optimise },
		damped: { method: 'damped-holt', start: { rule: 'line' }, optimise },
		optimise,
		kind,
		both: positive ? ['additive', 'multiplicative'] : [kind],
		shrunk: series.seasonLength > 1 ? [deseasonalised(kind, ses, { ...index, shrink: true })] : [],
		taken: lent ? lentPool(series, ses) : [],
	};
}

const deseasonalised = (season: SeasonKind, inner: Settings, by: object = index): Settings =>
	({ method: 'deseasonalised', season, index: by, inner }) as Settings;

/** Where there is a season. */
function seasonPool(
	series: Series,
	{ ses, holt, damped, optimise, kind, both, shrunk, taken }: Parts,
): Settings[] {
	// Where the calendar has two seasons at once and both can be told: at least two years of days, two weeks of hours.
	const seasons = pairOf(series);
	const known = series.values.length >= (seasons?.[1] === 'weekday' ? 2 * 168 : 2 * 364);
	return [
		{ method: 'naive' },
		{ method: 'seasonal-naive' },
		...both.map((each) => deseasonalised(each, ses)),
		...shrunk,
		...taken,
		deseasonalised(kind, { method: 'recent-median-line' }),
		...(seasons && known ? [deseasonalised(kind, ses, { ...index, seasons })] : []),
		{ method: 'per-season', inner: ses } as Settings,
		deseasonalised(kind, holt),
		deseasonalised(kind, damped),
		{ method: 'holt-winters', season: kind, trend: 'none', optimise },
		{ method: 'holt-winters', season: kind, trend: 'additive', optimise },
		...both.map((season): Settings => ({ method: 'holt-winters', season, trend: 'damped', optimise })),
	];
}

/** Where there is none. */
const levelPool = ({ ses, holt, damped, shrunk, taken }: Parts): Settings[] => [
	{ method: 'naive' },
	{ method: 'moving-average', span: 3 },
	{ method: 'drift' },
	ses,
	{ method: 'recent-median-line' },
	...shrunk,
	...taken,
	holt,
	damped,
];

/** Below two cycles, where the group lends its season. */
const shortPool = (series: Series, { taken }: Parts): Settings[] => [
	{ method: 'naive' },
	...(series.values.length >= series.seasonLength ? [{ method: 'seasonal-naive' } as const] : []),
	...taken,
];

/**
 * The methods that are tried, the simplest first.
 * @param lent whether the group lends its season
 */
export function poolOf(
	series: Series,
	diagnosis: Diagnosis,
	criterion: Criterion,
	lent: boolean,
): readonly Candidate[] {
	if (diagnosis.rare) return RARE_POOL;
	const parts = partsOf(series, diagnosis, criterion, lent);
	if (lent && series.values.length < 2 * series.seasonLength) return numbered(shortPool(series, parts));
	return numbered(diagnosis.season ? seasonPool(series, parts) : levelPool(parts));
}
