import { aPeriod, type Frequency, periodWord } from '../series/frequency';
import { describePeriod, type Ordinal } from '../series/period';
import { fixedFigure, inWords } from '../numbers/figure';
import { seasonName } from '../series/season-name';
import type { Diagnosis, SeasonTest } from '../diagnosis/diagnosis';
import { OUTLIER_TIMES, SEASON_CHANCE } from '../diagnosis/thresholds';
import { chanceWords } from './chance';
import { rareNote } from './series';

/** One reading of a series in words, with the figures that it rests on. */
export interface Statement {
	code: 'season' | 'swings' | 'peaks' | 'trend' | 'step' | 'outlier' | 'rare';
	/** Whether something was found, nothing was, or too little is known to say. */
	says: 'yes' | 'no' | 'unknown';
	text: string;
}

const percent = (share: number) => `${fixedFigure(100 * share, 0)} %`;
/** How often chance alone shows as much. */
const byChance = (chance: number) => `by chance in ${chanceWords(chance, 'series')}`;

/**
 * What a diagnosis found, in plain words, each with its figures.
 * @param level mean of the series, for shares
 * @param firstSeason season (1 … P) of the first period
 */
export function diagnosisWords(
	diagnosis: Diagnosis,
	{
		frequency,
		first,
		level,
		firstSeason,
		seasonLength,
	}: {
		frequency: Frequency;
		first: Ordinal;
		level: number;
		firstSeason: number;
		seasonLength: number;
	},
): Statement[] {
	const times = (count: number) => `${count} ${periodWord(frequency, count)}`;
	const statements: Statement[] = [];
	const { season, tested, swings, trend, step, outliers, present, rare } = diagnosis;
	if (rare) statements.push({ code: 'rare', says: 'yes', text: rareNote(rare, frequency).text });
	if (tested.length === 0) {
		const need = Math.max(8, 2 * Math.max(2, seasonLength));
		statements.push({
			code: 'season',
			says: 'unknown',
			text: `Too few figures to look for a season: ${present} are there, and two cycles of ${Math.max(2, seasonLength)} take ${need}.`,
		});
	} else if (season) {
		statements.push({
			code: 'season',
			says: 'yes',
			text: `A season of ${times(season.length)}: it explains ${percent(season.strength)} of the movement about the level; ${byChance(season.chance)}.`,
		});
		statements.push(peaks(season, { frequency, level, firstSeason }));
	} else {
		statements.push({ code: 'season', says: 'no', text: noSeason(tested, times) });
	}
	if (swings) {
		const less = percent(Math.abs(1 - swings.ratio));
		const text = swings.grow
			? `The season grows with the level: multiplicative, it leaves ${less} less squared error than additive.`
			: swings.steady
				? `The season stays the same size as the level moves: multiplicative, it leaves ${less} more squared error than additive.`
				: `Whether the season grows with the level cannot be told: multiplicative or additive, it leaves nearly the same squared error (${less} apart).`;
		statements.push({ code: 'swings', says: swings.grow ? 'yes' : swings.steady ? 'no' : 'unknown', text });
	}
	if (step?.found) {
		statements.push({
			code: 'step',
			says: 'yes',
			text: `A step at ${describePeriod(frequency, first + step.at)}: ${inWords(step.before)} on average before it, ${inWords(step.after)} from it on (F ${fixedFigure(step.f, 0)}).`,
		});
	}
	if (trend) statements.push(trendWords(trend, step?.found === true, level, aPeriod(frequency)));
	if (present >= 8) {
		const worst = [...outliers].sort((a, b) => b.times - a.times).slice(0, 3);
		statements.push(
			worst.length > 0
				? {
						code: 'outlier',
						says: 'yes',
						text: `${worst.length === 1 ? 'An outlier' : 'Outliers'}: ${worst.map(({ at, value, usual, times: off }) => `${describePeriod(frequency, first + at)}, ${inWords(value)} where ${inWords(usual)} is usual (${fixedFigure(off, 1)} times the usual distance)`).join('; ')}. Check ${worst.length === 1 ? 'it' : 'them'}, and leave out what was one-off.`,
					}
				: {
						code: 'outlier',
						says: 'no',
						text: `No outlier: no period is more than ${OUTLIER_TIMES} times the usual distance from its neighbours.`,
					},
		);
	}
	return statements;
}

/** Why none of the lengths tested is a season. */
function noSeason(tested: readonly SeasonTest[], times: (count: number) => string): string {
	const best = tested[0]!;
	const among = tested.length === 1 ? `No season of ${times(best.length)}` : 'No season';
	const lengths = tested.length === 1 ? '' : ` among ${tested.length} lengths`;
	if (best.strength < 0.005) return `${among} was found${lengths}: there is nothing that repeats.`;
	const chance = Math.min(1, best.chance * tested.length);
	const because =
		chance < SEASON_CHANCE
			? ', too little to be one'
			: `; chance alone explains as much in ${chanceWords(chance, 'series')}`;
	const what = tested.length === 1 ? 'it explains' : `the best, ${times(best.length)}, explains`;
	return `${among} was found${lengths}: ${what} ${percent(best.strength)} of the movement${because}.`;
}

function trendWords(
	{ slope, chance, found }: NonNullable<Diagnosis['trend']>,
	besideStep: boolean,
	level: number,
	per: string,
): Statement {
	const share = level !== 0 ? ` (${inWords((100 * Math.abs(slope)) / Math.abs(level))} % of the mean)` : '';
	if (found) {
		const way = slope > 0 ? 'up' : 'down';
		return {
			code: 'trend',
			says: 'yes',
			text: `A trend: ${way} ${inWords(Math.abs(slope))} ${per}${share}, the median of all slopes; ${byChance(chance)}.`,
		};
	}
	// A step leaves a slope that no noise would show, and is none.
	const often = besideStep || slope === 0 ? '' : `; ${byChance(chance)}`;
	return {
		code: 'trend',
		says: 'no',
		text: `No steady trend${besideStep ? ' beside the step' : ''}: the median slope is ${inWords(slope)} ${per}${often}.`,
	};
}

function peaks(
	{ length, effects }: NonNullable<Diagnosis['season']>,
	{ frequency, level, firstSeason }: { frequency: Frequency; level: number; firstSeason: number },
): Statement {
	// Effects run with the positions of the series; names with the calendar's seasons.
	const named = effects.map((effect, i) => ({
		effect,
		name: seasonName(frequency, length, ((firstSeason - 1 + i) % length) + 1),
	}));
	const ranked = [...named].sort((a, b) => b.effect - a.effect);
	const top = ranked[0]!;
	const high = ranked.filter(({ effect }) => effect >= 0.8 * top.effect).slice(0, 3);
	const bottom = ranked.at(-1)!;
	const low = ranked
		.filter(({ effect }) => effect <= 0.8 * bottom.effect)
		.slice(-3)
		.reverse();
	const by = ({ effect, name }: { effect: number; name: string }) =>
		level !== 0
			? `${name} (${effect > 0 ? '+' : ''}${fixedFigure((100 * effect) / Math.abs(level), 0)} %)`
			: name;
	return {
		code: 'peaks',
		says: 'yes',
		text: `Highest in ${high.map(by).join(', ')}; lowest in ${low.map(by).join(', ')}, against the level.`,
	};
}
