import type { Note } from '../contract/note';
import { cycleMeans, type Cycles, cycleOf, cyclesOf, endOf, seasonOf } from '../seasons/cycles';
import { centredAverage, type SeasonKind, withIndex, withoutSeason } from '../seasons/indices';
import { indicesOf } from '../seasons/lent';
import { type IndexRule } from '../seasons/settings';
import {
	type FoundLevel,
	isFound,
	levelBy,
	type LevelLack,
	levelWords,
	partsOfLevel,
	USUAL_ALPHA,
	USUAL_CYCLES,
} from '../seasons/levels';
import { type PlainLevel } from '../seasons/settings';
import type { Series } from '../series/series';
import type { Run } from '../contract/model';
import type { Expression } from '../contract/working';
import { figure, mean, plus, times } from '../working/expression';
import { lazyModel, takenOver } from './flat';
import { CannotRun, defineMethod } from '../contract/method';
import type { CandidateInput } from '../contract/candidate';
import type { Recorded, Spelled, Working } from '../contract/working';
import {
	completeIndices,
	indexNotes,
	lentNotes,
	knownUntil,
	refuseNegative,
	refuseTyped,
	refuseWithoutSeason,
	spelledWithIndex,
} from './seasonal';
import { frozenField, indexField, levelField, scenariosField, seasonField } from './season-fields';

const NAME = 'Seasonal indices';

/** What stood at the end of some period: indices by season, and one level for each part of the rule. */
interface Status {
	indices: Float64Array;
	levels: { share: number; found: FoundLevel | LevelLack }[];
}

/**
 * Seasonal indices on a level: the level of the coming cycle by its rule, times (or plus) the index of the season.
 * Fitted values of a cycle are what the same rules gave at the end of the cycle before.
 */
export const seasonalIndex = defineMethod({
	id: 'seasonal-index',
	name: NAME,
	fits: 'A season that repeats itself, on a level that you decide: last cycle’s, an average, grown by a rate, a line.',
	constants: [],
	fields: [seasonField, indexField, levelField, scenariosField, frozenField],
	starts: [],
	label: (candidate) =>
		`Indices ${seasonField.read(candidate) === 'additive' ? '+' : '×'} ${levelWords(levelField.read(candidate))}`,
	short: (candidate) => `Indices ${seasonField.read(candidate) === 'additive' ? '+' : '×'}`,
	kind: () => 'cycle',
	follows: (candidate) => ({
		trend: partsOfLevel(levelField.read(candidate)).some(({ part }) => climbs(part)),
		season: seasonField.read(candidate),
	}),
	fitSteps: (candidate, { periods, seasonLength }) =>
		periods * (8 * (periods / seasonLength + 1) + 4 * (1 + (scenariosField.read(candidate)?.length ?? 0))),
	bind(series, candidate) {
		const kind = seasonField.read(candidate);
		const input = indexField.read(candidate);
		const frozen = frozenField.read(candidate);
		const { values } = series;
		const n = values.length;
		refuseWithoutSeason(series, NAME, 'puts indices to a level');
		refuseNegative(series, kind);
		refuseTyped(series, kind, input);
		if (input.seasons) {
			throw new CannotRun({
				code: 'one-season',
				text: `${NAME} are put to the level of a cycle and follow one season. To follow ${input.seasons.join(' and ')} at once, take a deseasonalised series.`,
				figures: {},
			});
		}
		const known = knownUntil(series, frozen);
		const indices = completeIndices(series, kind, input, known);
		const { after } = indices;

		const cycles = cyclesOf(series);
		const means = cycleMeans(values, cycles);
		const parts = partsOfLevel(levelField.read(candidate));
		const status = (of: typeof parts, to: number, indices: Float64Array): Status => {
			const lined = of.some(({ part }) => part.rule === 'line');
			const bare = lined ? withoutSeason(values, cycles, kind, indices) : values;
			return {
				indices,
				levels: of.map(({ part, share }) => ({ share, found: levelBy(part, means, bare, cycles, to) })),
			};
		};
		const now = status(parts, known, after);
		now.levels.forEach((level, i) => {
			if (!isFound(level.found)) throw lacking(level.found, parts[i]!.part, known < n);
		});
		const valueAt = (stood: Status, i: number) =>
			withIndex(kind, levelAt(stood, cycles, i), stood.indices[seasonOf(cycles, i)]!);
		const forecastFrom = (stood: Status | null, origin: number, out: Float64Array) => {
			for (let h = 0; h < out.length; h++) out[h] = stood ? valueAt(stood, origin + h) : NaN;
		};
		const run = (): Run => {
			// One status a cycle: what was known when it began.
			const centred = centredAverage(values, cycles.length);
			const begun = Array.from({ length: cycles.count + 1 }, (_, cycle) => {
				const end = Math.min(endOf(cycles, cycle - 1), known);
				if (end <= 0) return null;
				return end === known ? now : status(parts, end, indicesOf(series, kind, input, end, centred).after);
			});
			const { fitted, states } = recordOf(n, cycles, begun, valueAt);
			const figures = figuresOf(now, cycles, n);
			const [only] = parts.length === 1 && parts[0]!.part.rule === 'line' ? now.levels : [];
			const line = only && lineOf(only.found);
			return {
				fitted,
				start: null,
				states,
				indices: after,
				cycleLevels: means,
				figures: { ...figures, known },
				...(line && { line: { intercept: line.base, slope: line.slope } }),
				slope: slopeOf(now, parts, cycles.length),
				forecast: (origin, out) =>
					forecastFrom(origin >= n ? now : (begun[cycleOf(cycles, origin)] ?? null), origin, out),
				scenarios: (scenariosField.read(candidate) ?? []).map((level) => {
					const stood = status(partsOfLevel(level), known, after);
					return (out) => forecastFrom(stood, n, out);
				}),
				remarks: [
					...indexNotes(series, kind, after),
					...lentNotes(series, input, indices),
					...gapNotes(series, cycles, means, parts),
					...frozenNotes(cycles, known, n, frozen),
				],
			};
		};
		return lazyModel(run, (out) => forecastFrom(now, n, out));
	},
	working: (candidate) => workingOf(candidate),
});

/** The level at a 0-based position; NaN where one of its parts cannot be had. */
function levelAt({ levels }: Status, cycles: Cycles, i: number): number {
	return levels.reduce(
		(sum, { share, found }) => sum + (isFound(found) ? share * found.at(cycleOf(cycles, i), i) : NaN),
		0,
	);
}

/** Fitted values by what stood when each cycle began, with the level, its parts and the index that made them. */
function recordOf(
	n: number,
	cycles: Cycles,
	begun: readonly (Status | null)[],
	valueAt: (stood: Status, i: number) => number,
): { fitted: Float64Array; states: Record<string, Float64Array> } {
	const states: Record<string, Float64Array> = {};
	const put = (key: string, i: number, value: number) => {
		states[key] ??= new Float64Array(n).fill(NaN);
		states[key][i] = value;
	};
	const fitted = new Float64Array(n).fill(NaN);
	for (let i = 0; i < n; i++) {
		const cycle = cycleOf(cycles, i);
		const stood = begun[cycle] ?? null;
		const value = stood ? valueAt(stood, i) : NaN;
		if (!stood || !Number.isFinite(value)) continue;
		fitted[i] = value;
		put('level', i, levelAt(stood, cycles, i));
		put('index', i, stood.indices[seasonOf(cycles, i)]!);
		stood.levels.forEach(({ found }, place) => {
			if (!isFound(found)) return;
			if (stood.levels.length > 1) put(`level ${place + 1}`, i, found.at(cycle, i));
			if (!found.line) return;
			put(`base ${place + 1}`, i, found.line.base);
			put(`slope ${place + 1}`, i, found.line.slope);
		});
	}
	return { fitted, states };
}

/** The parts of the level ahead, by name. */
function figuresOf({ levels }: Status, cycles: Cycles, n: number): Record<string, number> {
	const figures: Record<string, number> = {};
	levels.forEach(({ found }, place) => {
		if (!isFound(found)) return;
		figures[`level ${place + 1}`] = found.at(cycleOf(cycles, n), n);
		if (!found.line) return;
		figures[`base ${place + 1}`] = found.line.base;
		figures[`slope ${place + 1}`] = found.line.slope;
	});
	return figures;
}

/** Whether a level is another one for each period or cycle to come. */
const climbs = (part: PlainLevel): boolean =>
	part.rule === 'line' ||
	part.rule === 'cycle-trend' ||
	(part.rule === 'last-cycle' && (part.growth ?? 0) !== 0);

const lineOf = (level: FoundLevel | LevelLack) => (isFound(level) ? level.line : undefined);

/** Change a period that lines carry on, as a share of the blend they are in. */
function slopeOf({ levels }: Status, parts: readonly { part: PlainLevel }[], length: number): number {
	return levels.reduce((sum, { share, found }, i) => {
		const slope = lineOf(found)?.slope ?? 0;
		return sum + share * (parts[i]!.part.rule === 'cycle-trend' ? slope / length : slope);
	}, 0);
}

function lacking({ needs, has, of }: LevelLack, part: PlainLevel, frozen: boolean): CannotRun {
	const words = of === 'cycles' ? `complete ${needs === 1 ? 'cycle' : 'cycles'}` : 'periods';
	return new CannotRun({
		code: of === 'cycles' ? 'too-few-cycles' : 'too-few-periods',
		text: `The level by ${levelWords(part)} needs ${needs} ${words}; ${frozen ? 'up to where it is frozen there' : 'this series'} ${frozen ? (has === 1 ? 'is' : 'are') : 'has'} ${has}. A cycle is complete from season 1 to the last without a gap: bring in earlier periods, fill gaps, or take another level.`,
		figures: { needs, has },
	});
}

/** Cycles inside the series that take no part in means because figures are missing. */
function gapNotes(
	{ values }: Series,
	cycles: Cycles,
	means: Float64Array,
	parts: readonly { part: PlainLevel }[],
): Note[] {
	if (!parts.some(({ part }) => part.rule !== 'line' && part.rule !== 'given')) return [];
	const within = [...means.keys()].filter((cycle) => {
		const end = endOf(cycles, cycle);
		return Number.isNaN(means[cycle]!) && end - cycles.length >= 0 && end <= values.length;
	});
	if (within.length === 0) return [];
	return [
		{
			code: 'cycles-with-gaps',
			text: `${within.length} of the cycles ${within.length === 1 ? 'has' : 'have'} a figure missing and ${within.length === 1 ? 'takes' : 'take'} no part in the level. A gap rule in Demand would fill it.`,
			figures: { count: within.length, cycle: within[0]! + 1 },
		},
	];
}

function frozenNotes(cycles: Cycles, known: number, n: number, frozen: string | number | undefined): Note[] {
	if (frozen === undefined) return [];
	const since = cycleOf(cycles, n) - cycleOf(cycles, known);
	return [
		{
			code: 'kept-frozen',
			text: `Indices and level stay as they stood at the end of ${frozen}; ${since === 0 ? 'no cycle has' : since === 1 ? '1 cycle has' : `${since} cycles have`} become complete since.`,
			figures: { since },
		},
	];
}

/** The arithmetic: level by its rule from the means of cycles, times or plus the index. */
function workingOf(candidate: CandidateInput): Working {
	const kind = seasonField.read(candidate);
	const parts = partsOfLevel(levelField.read(candidate));
	const sign = kind === 'additive' ? '+' : '·';
	const blended = (of: readonly Expression[]): Expression =>
		plus(...of.map((each, i) => times(figure(parts[i]!.share), each)));
	const partColumns = parts.map(({ part }, place) => ({
		key: parts.length > 1 ? `level ${place + 1}` : 'level',
		name: parts.length > 1 ? `Level by ${levelWords(part)}` : 'Level',
		equation: LEVEL_EQUATIONS[part.rule],
		explain: (recorded: Recorded, t: number) => levelSpelled(recorded, part, place, t),
	}));
	return {
		forecast: {
			key: 'fitted',
			name: 'Forecast',
			equation: `fₜ = L ${sign} iⱼ`,
			explain: (recorded, t) => ({
				expression: spelledWithIndex(kind, figure(recorded.state('level', t)!), recorded.state('index', t)!),
			}),
		},
		states: [
			...partColumns,
			...(parts.length > 1
				? [
						{
							key: 'level',
							name: 'Level',
							equation: 'L = Σ w·Lᵢ ÷ Σ w',
							explain: (recorded: Recorded, t: number) => ({
								expression: blended(parts.map((_, i) => figure(recorded.state(`level ${i + 1}`, t)!))),
							}),
						},
					]
				: []),
			{
				key: 'index',
				name: 'Index',
				equation: INDEX_EQUATIONS[indexField.read(candidate).rule][kind],
				...(kind === 'multiplicative' && { places: { fixed: 4 } }),
				explain: (recorded, t) =>
					takenOver(
						recorded.state('index', t),
						`season ${recorded.seasonAt(t)}, as it stood when its cycle began; Season shows how it is made`,
					),
			},
		],
		ahead: `fₙ₊ₕ = L ${sign} iⱼ`,
		explainAhead(recorded, step) {
			const t = recorded.periods + step;
			const index = recorded.indices?.[recorded.seasonAt(t) - 1];
			if (index === undefined) return null;
			const levels = parts.map(({ part }, place) => levelAhead(recorded, part, place, t));
			const level = parts.length > 1 ? blended(levels) : levels[0]!;
			return { expression: spelledWithIndex(kind, level, index) };
		},
	};
}

const LEVEL_EQUATIONS: Readonly<Record<PlainLevel['rule'], string>> = {
	'last-cycle': 'L = mean of the last cycle · (1 + g)',
	'cycle-average': 'L = mean of the last k cycles’ means',
	'cycle-smoothing': 'L = α·mean of the last cycle + (1 − α)·L before',
	'cycle-trend': 'L = a + b·cycle',
	line: 'L = a + b·t',
	given: 'L as given',
};

const INDEX_EQUATIONS: Readonly<Record<IndexRule, Readonly<Record<SeasonKind, string>>>> = {
	'ratio-to-moving-average': {
		multiplicative: 'iⱼ: average of yₜ ÷ centred average',
		additive: 'iⱼ: average of yₜ − centred average',
	},
	'ratio-to-cycle-mean': {
		multiplicative: 'iⱼ: average of yₜ ÷ cycle’s mean',
		additive: 'iⱼ: average of yₜ − cycle’s mean',
	},
	'ratio-to-overall': {
		multiplicative: 'iⱼ: average of yₜ ÷ overall mean',
		additive: 'iⱼ: average of yₜ − overall mean',
	},
	'ratio-to-trend': { multiplicative: 'iⱼ: average of yₜ ÷ line', additive: 'iⱼ: average of yₜ − line' },
	given: { multiplicative: 'iⱼ as given', additive: 'iⱼ as given' },
};

/** 0-based cycle of t, and the complete cycles that were known when it began. */
function cyclesBefore(
	recorded: Recorded,
	t: number,
): { cycle: number; complete: number[]; means: readonly (number | null)[] } {
	const means = recorded.cycleLevels ?? [];
	const lead = recorded.seasonAt(1) - 1;
	const cycle = Math.floor((lead + t - 1) / recorded.seasonLength);
	const known = recorded.figure('known') ?? recorded.periods;
	const complete = [...means.keys()].filter(
		(each) => means[each] !== null && (each + 1) * recorded.seasonLength - lead <= known && each < cycle,
	);
	return { cycle, complete, means };
}

function fromMeans(
	part: PlainLevel,
	{ cycle, complete, means }: ReturnType<typeof cyclesBefore>,
): Expression | null {
	const last = complete.at(-1)!;
	if (part.rule === 'last-cycle') {
		const growth = 1 + (part.growth ?? 0);
		const of = figure(means[last]!);
		return growth === 1 ? of : times(of, ...Array.from({ length: cycle - last }, () => figure(growth)));
	}
	if (part.rule === 'cycle-average') {
		return mean(complete.slice(-(part.cycles ?? USUAL_CYCLES)).map((each) => figure(means[each]!)));
	}
	return null;
}

function levelSpelled(recorded: Recorded, part: PlainLevel, place: number, t: number): Spelled | null {
	if (part.rule === 'given') return takenOver(part.value, 'as given');
	const before = cyclesBefore(recorded, t);
	if (part.rule === 'line' || part.rule === 'cycle-trend') {
		const [base, slope] = [recorded.state(`base ${place + 1}`, t), recorded.state(`slope ${place + 1}`, t)];
		if (base === null || slope === null) return null;
		const along = part.rule === 'line' ? t : before.cycle + 1;
		return {
			expression: plus(figure(base), times(figure(slope), figure(along))),
			remark: 'the line as it stood when the cycle began',
		};
	}
	if (part.rule !== 'cycle-smoothing') return { expression: fromMeans(part, before)! };
	const first = before.complete[0]!;
	const alpha = part.alpha ?? USUAL_ALPHA;
	const smoothed = before.complete
		.slice(1)
		.reduce<Expression>(
			(sum, each) => plus(times(figure(alpha), figure(before.means[each]!)), times(figure(1 - alpha), sum)),
			figure(before.means[first]!),
		);
	return { expression: smoothed };
}

function levelAhead(recorded: Recorded, part: PlainLevel, place: number, t: number): Expression {
	const before = cyclesBefore(recorded, t);
	if (part.rule === 'line' || part.rule === 'cycle-trend') {
		const base = recorded.figure(`base ${place + 1}`)!;
		const slope = recorded.figure(`slope ${place + 1}`)!;
		return plus(figure(base), times(figure(slope), figure(part.rule === 'line' ? t : before.cycle + 1)));
	}
	return fromMeans(part, before) ?? figure(recorded.figure(`level ${place + 1}`)!);
}
