import type { Alarm } from '../accuracy/alarm';
import type { Tracking } from '../accuracy/tracking';
import { alarmWords } from './alarm';
import type { Measures } from '../accuracy/measures';
import type { CandidateInput } from '../contract/candidate';
import type { Method } from '../contract/method';
import type { Ranges } from '../ranges/contract';
import { holds } from '../ranges/holds';
import { neverBelow, shownRange } from '../ranges/shown';
import type { Search } from '../contract/found';
import { constantsOfCandidate } from '../methods/registry';
import { aPeriod, periodsInWords, periodWord } from '../series/frequency';
import type { Series } from '../series/series';
import type { SeasonDiagnosis } from '../diagnosis/diagnosis';
import { isClear, type Loss, type PairedLead, type ShareLead } from '../accuracy/lead';
import { fixedFigure, inWords, writeFigure } from '../numbers/figure';
import { naiveNote, percentWords, twoMinimaWords } from './comparison';
import { percent } from './chance';
import { boundWords } from './bound';
import type { Note } from '../contract/note';

/** A period to come, as far as remarks speak of it: [low, high] by level. */
interface StepAhead {
	step: number;
	ranges: Readonly<Record<string, readonly [number, number] | null>>;
}

/** What a trial says of a candidate: forecasts from earlier origins, each made from what was known there. */
export interface TriedFacts {
	origins: number;
	/** What they missed by over what repeating the last actual did, all steps and origins. */
	relativeError: number | null;
	/** What errors counted for. */
	by: Loss;
	/** The same origin by origin. */
	naive: ShareLead | null;
	/** Mean absolute errors one period ahead over the same periods: of the fit, and of what was forecast beforehand. */
	fit: { lead: PairedLead | null; fitted: number; beforehand: number };
	/** Actuals inside the range that would have been given one period ahead. */
	held: { level: number; inside: number; of: number } | null;
}

/** What the remarks about one candidate are made from. */
export interface CandidateFacts {
	method: Method;
	candidate: CandidateInput;
	/** The periods that were fitted. */
	series: Series;
	/** What they say of a season of the length in force. */
	seasonal: () => SeasonDiagnosis;
	search: Search | undefined;
	own: Measures;
	holdout: { ahead: Measures; oneStep: Measures } | undefined;
	ranges: Ranges;
	tried: TriedFacts | null;
	ahead: readonly StepAhead[];
	/** Forecast of the last period made before it, and the widest level's range about it. */
	last: { actual: number; range: [number, number]; level: number } | null;
	slope: number | undefined;
	/** What the method itself says of its run. */
	remarks: readonly Note[];
}

/** What the remarks are made from that speak of the window that a candidate is judged over. */
export interface JudgedFacts {
	method: Method;
	/** The periods that were fitted. */
	series: Series;
	/** Over the window. */
	measures: Measures;
	tracking: Tracking;
	alarm: Alarm;
	/** The window in words: “the 24 months compared”. */
	over: string;
	/** What errors count for. */
	by: Loss;
}

/** What was forecast beforehand misses by so many times what the fit does before that is said. */
const WORSE = 1.25;
/** Ranges that hold what they promise are said not to with this chance at the most. */
const RANGES_CHANCE = 0.01;

type Remark = (facts: CandidateFacts) => Note | null;
type JudgedRemark = (facts: JudgedFacts) => Note | null;

/** At least this share of the errors on one side is "nearly all" … */
const NEARLY_ALL = 0.85;
/** Past errors from which a range is wide enough to be held against an actual. */
const ENOUGH_FOR_RANGES = 20;
/** … and rarer than this where errors fall on either side by chance. */
const ONE_SIDED_CHANCE = 0.01;

const atBound: Remark = ({ candidate, search }) => {
	const best = search?.basins[0]?.constants;
	const ended = constantsOfCandidate(candidate).filter(({ key }) => search?.atBound.includes(key));
	if (!best || ended.length === 0) return null;
	const said = ended.map((constant) => {
		const value = best[constant.key]!;
		const words = boundWords(constant, value);
		return `The best ${constant.symbol} is ${writeFigure(value, 4)}, the end of its range.${words ? ` ${words}` : ''}`;
	});
	const [first] = ended;
	return {
		code: 'constant-at-bound',
		text: said.join(' '),
		figures: { constant: first!.key, value: best[first!.key]! },
	};
};

const severalMinima: Remark = ({ method, search }) => {
	const [best, second] = search?.basins ?? [];
	if (!search || !best || !second || second.value > best.value * 1.01) return null;
	const { text, percent: apart } = twoMinimaWords(method.constants, best, second);
	return {
		code: 'several-minima',
		text,
		figures: { best: best.value, second: second.value, percent: apart },
	};
};

const oneSided: JudgedRemark = ({ tracking, over, by }) => {
	// A rate lies above most periods of rare demand, which had none.
	if (by === 'square') return null;
	let above = 0;
	let below = 0;
	for (const error of tracking.errors) {
		if (error > 0) above++;
		else if (error < 0) below++;
	}
	const count = Math.max(above, below);
	const of = above + below;
	if (count < NEARLY_ALL * of || chanceOfSides(count, of) > ONE_SIDED_CHANCE) return null;
	const side = above > below ? 'above' : 'below';
	return {
		code: 'one-sided-errors',
		text: `Demand was ${side} the forecast in ${count} of ${of === tracking.errors.length ? over : `the ${of} periods with an error`}: the forecast is too ${side === 'above' ? 'low' : 'high'}. Try a method that follows the trend or season.`,
		figures: { count, of },
	};
};

/** The chance that as many of so many fair coins fall on one side, whichever. */
function chanceOfSides(count: number, of: number): number {
	if (2 * count <= of) return 1;
	let ways = 0;
	let term = 2 ** -of;
	// From all on one side down to `count` of them.
	for (let k = of; k >= count; k--) {
		ways += term;
		term *= k / (of - k + 1);
	}
	return 2 * ways;
}

const alarming: JudgedRemark = ({ alarm, series }) => {
	const said = alarmWords(alarm, series.frequency, (since) => series.first + since - 1);
	return said === null || alarm.since === null
		? null
		: {
				code: 'alarm',
				text: said,
				figures: { ratio: alarm.ratio, limit: alarm.limit, chance: alarm.chance },
			};
};

const lastOutside: Remark = ({ last, series, own }) => {
	// Ranges from few errors hold less than they promise: nothing is flagged by them.
	if (own.count < ENOUGH_FOR_RANGES) return null;
	if (!last || holds(last.range, last.actual)) return null;
	const shown = shownRange(last.range, neverBelow(series.values))!;
	return {
		code: 'last-actual-outside-range',
		text: `The last actual, ${inWords(last.actual)}, lies outside the ${percent(last.level)} range of its forecast, ${inWords(shown[0])} to ${inWords(shown[1])}. Check the figure; leave it out if it was one-off.`,
		figures: { actual: last.actual, low: last.range[0], high: last.range[1] },
	};
};

const belowZero: Remark = ({ ahead, series }) => {
	const first = ahead.find(({ ranges }) => lowest(ranges) < 0);
	if (!first || !neverBelow(series.values)) return null;
	const { step } = first;
	const low = lowest(first.ranges);
	return {
		code: 'range-below-zero',
		text: `The range would fall below zero from ${step === 1 ? 'the next period' : `${step} periods ahead`} on. Demand never was, so its lower end is shown as zero.`,
		figures: { step, low },
	};
};

function lowest(ranges: StepAhead['ranges']): number {
	let low = 0;
	for (const level in ranges) low = Math.min(low, ranges[level]?.[0] ?? 0);
	return low;
}

const trendFar: Remark = ({ slope, ahead, series }) => {
	const history = series.values.length;
	if (!slope || ahead.length * 3 <= history) return null;
	return {
		code: 'trend-carried-far',
		text: `The trend of ${inWords(slope)} ${aPeriod(series.frequency)} is continued for ${ahead.length} periods, more than a third of the ${history} known. Forecast fewer periods, or damp the trend.`,
		figures: { slope, steps: ahead.length, history },
	};
};

const percentageLeftOut: JudgedRemark = ({ measures: { count, mapeCount }, over }) => {
	const leftOut = count - mapeCount;
	if (leftOut === 0) return null;
	return {
		code: 'percentage-error-incomplete',
		text:
			mapeCount === 0
				? `There is no MAPE: every actual is zero over ${over}. Compare by MAD or MASE.`
				: `MAPE leaves out ${leftOut} of ${over}, whose actual is zero. Compare by WAPE or MASE.`,
		figures: { leftOut, count },
	};
};

const worseHeldBack: Remark = ({ own, holdout }) => {
	const before = own.mad;
	const after = holdout?.oneStep.mad ?? null;
	if (before === null || after === null || after <= before * 1.5) return null;
	return {
		code: 'worse-held-back',
		text: `MAD is ${inWords(after)} on the holdout and ${inWords(before)} on the periods it was fitted to: expect errors like those of the holdout.`,
		figures: { fitted: before, heldBack: after },
	};
};

const againstNaive: Remark = ({ method, tried, series }) =>
	method.id === 'naive' || !tried || tried.relativeError === null || !tried.naive
		? null
		: naiveNote(tried.relativeError, tried.naive, earlierWords(tried.origins, series), tried.by);

/** Origins of a trial in a sentence. */
const earlierWords = (origins: number, { frequency }: Series) =>
	`${origins} past ${periodWord(frequency, origins)}`;

const worseBeforehand: Remark = ({ tried, series }) => {
	if (!tried?.fit.lead || !isClear(tried.fit.lead)) return null;
	const { fitted, beforehand } = tried.fit;
	if (!(beforehand > fitted * WORSE)) return null;
	const word = periodWord(series.frequency, 1);
	return {
		code: 'worse-beforehand',
		text: `Over the last ${periodsInWords(series.frequency, tried.fit.lead.count)} the MAD of its fit is ${inWords(fitted)}; that of forecasts made one ${word} ahead is ${inWords(beforehand)}. Expect errors like the latter.`,
		figures: { fitted, beforehand },
	};
};

const rangesMissed: Remark = ({ tried, series }) => {
	if (!tried?.held || tried.held.of === 0) return null;
	const { level, inside, of } = tried.held;
	if (chanceOfAtMost(inside, of, level) > RANGES_CHANCE) return null;
	return {
		code: 'ranges-did-not-hold',
		text: `${inside} of the last ${of} actuals were inside the ${percent(level)} range given ${aPeriod(series.frequency)} ahead; ${Math.round(of * level)} expected. Do not stock by its ranges.`,
		figures: { level, inside, of },
	};
};

/** The chance that at most so many of so many fall inside, each with the same chance. */
function chanceOfAtMost(inside: number, of: number, level: number): number {
	let sum = 0;
	let term = (1 - level) ** of;
	for (let k = 0; k <= inside; k++) {
		sum += term;
		term *= ((of - k) / (k + 1)) * (level / (1 - level));
	}
	return sum;
}

const rangeBasis: Remark = ({ candidate, ranges, ahead, tried, series }) => {
	if (ahead.length === 0) return null;
	const held = tried?.held;
	const share =
		held && held.of > 0
			? ` ${held.inside} of the last ${held.of} actuals were inside the ${percent(held.level)} range given ${aPeriod(series.frequency)} ahead.`
			: '';
	const kept: Note['figures'] = held ? { inside: held.inside, of: held.of } : {};
	if (!ranges.basis)
		return {
			code: 'range-basis',
			text: `Ranges come from the method’s own model of its errors.${share}`,
			figures: kept,
		};
	const { count, step } = ranges.basis;
	if (ranges.kind === 'counts')
		return {
			code: 'range-basis',
			text: `Ranges and stock are in whole pieces. They come from how ${count} periods of this rare demand varied about their mean.`,
			figures: { count, ...kept },
		};
	if (ranges.kind === 'changes')
		return {
			code: 'range-basis',
			text: `Too few past periods to try ranges on: they come from ${count} changes of demand from ${candidate.method === 'seasonal-naive' ? 'one cycle to the next' : 'one period to the next'}.`,
			figures: { count, ...kept },
		};
	const widened = ahead.length > step ? `, and are widened further ahead` : '';
	return {
		code: 'range-basis',
		text:
			count === 0
				? 'No range can be shown: there are too few past periods for a trial.'
				: `Ranges come from the errors of ${count} past forecasts, up to ${step === 1 ? 'one period' : `${step} periods`} ahead${widened}.${share}`,
		figures: { count, step, ...kept },
	};
};

const unscored: JudgedRemark = ({ measures, series }) => {
	if (measures.count > 0) return null;
	return {
		code: 'nothing-scored',
		text: `No period can be scored: the first forecast comes after the last of the ${series.values.length} periods, or every scored one is missing.`,
		figures: { count: 0 },
	};
};

const perfect: JudgedRemark = ({ measures: { count, mad }, over }) => {
	if (count === 0 || mad !== 0) return null;
	return {
		code: 'no-errors',
		text: `There is no error over ${over}, so there is no tracking signal.`,
		figures: { count },
	};
};

const seasonUnused: Remark = ({ method, candidate, seasonal, series }) => {
	if (method.id === 'naive' || method.follows(candidate).season) return null;
	const { season } = seasonal();
	if (!season) return null;
	return {
		code: 'season-unused',
		text: `Demand has a season of ${season.length} ${periodWord(series.frequency, season.length)} (it explains ${fixedFigure(100 * season.strength, 0)} % of the movement); this method has none. Try one with a season.`,
		figures: { strength: season.strength, seasonLength: season.length },
	};
};

const swingsUnlike: Remark = ({ method, candidate, seasonal }) => {
	const kind = method.follows(candidate).season;
	if (kind !== 'additive' && kind !== 'multiplicative') return null;
	const { swings } = seasonal();
	if (swings?.grow && kind === 'additive') {
		return {
			code: 'swings-grow',
			text: `The season grows with the level, but is additive here: a multiplicative one leaves ${percentWords(100 * (1 - swings.ratio))} less squared error over the whole history.`,
			figures: { ratio: swings.ratio },
		};
	}
	if (swings?.steady && kind === 'multiplicative') {
		return {
			code: 'swings-steady',
			text: `The season stays the same at any level, but is multiplicative here: an additive one leaves ${percentWords(100 * (1 - 1 / swings.ratio))} less squared error over the whole history.`,
			figures: { ratio: swings.ratio },
		};
	}
	return null;
};

/** In the order in which a reader should meet them. */
const JUDGED_REMARKS: readonly JudgedRemark[] = [unscored, perfect, alarming, oneSided, percentageLeftOut];
const REMARKS: readonly Remark[] = [
	againstNaive,
	worseBeforehand,
	rangesMissed,
	lastOutside,
	worseHeldBack,
	seasonUnused,
	swingsUnlike,
	atBound,
	severalMinima,
	belowZero,
	trendFar,
	rangeBasis,
];

const said = <Facts>(remarks: readonly ((facts: Facts) => Note | null)[], facts: Facts): Note[] =>
	remarks.map((remark) => remark(facts)).filter((note) => note !== null);

/** All remarks that one candidate's figures call for, whatever it is compared with. */
export function candidateNotes(facts: CandidateFacts): Note[] {
	return [...said(REMARKS, facts), ...facts.remarks];
}

/** All remarks on how it did over the window that it is judged by. */
export const judgedNotes = (facts: JudgedFacts): Note[] => said(JUDGED_REMARKS, facts);
