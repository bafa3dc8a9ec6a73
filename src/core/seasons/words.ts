import { CALENDAR_SEASON_LENGTH, type Frequency, periodWord } from '../series/frequency';
import { describePeriod, type Ordinal } from '../series/period';
import { fixedFigure } from '../working/expression';
import { FREAK_TIMES, type Look } from './look';

/** One reading of a series in words, with the figures that it rests on. */
export interface Statement {
	code: 'season' | 'swings' | 'peaks' | 'trend' | 'step' | 'freak';
	/** Whether something was found, nothing was, or too little is known to say. */
	says: 'yes' | 'no' | 'unknown';
	text: string;
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** The name of season 1 … P: a month, a quarter, a weekday, an hour, or its number. */
export function seasonName(frequency: Frequency, length: number, season: number): string {
	if (length === CALENDAR_SEASON_LENGTH[frequency]) {
		if (frequency === 'month') return MONTHS[season - 1]!;
		if (frequency === 'quarter') return `Q${season}`;
		if (frequency === 'day' || frequency === 'weekday') return WEEKDAYS[season - 1]!;
		if (frequency === 'hour') return `${String(season - 1).padStart(2, '0')}:00`;
		if (frequency === 'week') return `W${season}`;
	}
	return String(season);
}

const percent = (share: number) => `${fixedFigure(100 * share, 0)} %`;
const oneIn = (chance: number) =>
	chance < 0.0001 ? 'less than 1 in 10,000' : `1 in ${Math.round(1 / chance).toLocaleString('en')}`;

/**
 * What a look found, in plain words, each with its figures.
 * @param level mean of the series, for shares
 * @param firstSeason season (1 … P) of the first period
 * @param decimals places of a figure of the series
 */
export function lookWords(
	look: Look,
	{
		frequency,
		first,
		level,
		firstSeason,
		decimals,
		seasonLength,
	}: {
		frequency: Frequency;
		first: Ordinal;
		level: number;
		firstSeason: number;
		decimals: number;
		seasonLength: number;
	},
): Statement[] {
	const figure = (value: number) => fixedFigure(value, decimals);
	const times = (count: number) => `${count} ${periodWord(frequency, count)}`;
	const statements: Statement[] = [];
	const { season, tested, swings, trend, step, freaks, present } = look;
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
			text: `A season of ${times(season.length)}: it explains ${percent(season.strength)} of the movement about the level; noise would show as much ${oneIn(season.chance)} times.`,
		});
		statements.push(peaks(season, { frequency, level, firstSeason }));
	} else {
		const best = tested[0]!;
		statements.push({
			code: 'season',
			says: 'no',
			text: `No season found among ${tested.length} ${tested.length === 1 ? 'length' : 'lengths'} tested: the best, ${times(best.length)}, explains ${percent(best.strength)}, as noise would ${oneIn(Math.max(best.chance, 1e-9))} times.`,
		});
	}
	if (swings) {
		const less = percent(Math.abs(1 - swings.ratio));
		const text = swings.grow
			? `Swings grow with the level: a season that multiplies leaves ${less} less squared error than one that adds.`
			: swings.steady
				? `Swings stay the same size as the level moves: a season that multiplies leaves ${less} more squared error than one that adds.`
				: `Whether swings grow with the level cannot be told: multiplied or added, the season leaves nearly the same squared error (${less} apart).`;
		statements.push({ code: 'swings', says: swings.grow ? 'yes' : swings.steady ? 'no' : 'unknown', text });
	}
	if (step?.found) {
		statements.push({
			code: 'step',
			says: 'yes',
			text: `A step at ${describePeriod(frequency, first + step.at)}: ${figure(step.before)} on average before it, ${figure(step.after)} from it on (F ${fixedFigure(step.f, 0)}).`,
		});
	}
	if (trend) {
		const share =
			level !== 0 ? ` (${fixedFigure((100 * trend.slope) / Math.abs(level), 2)} % of the mean)` : '';
		statements.push(
			trend.found
				? {
						code: 'trend',
						says: 'yes',
						text: `A trend: ${trend.slope > 0 ? 'up' : 'down'} ${fixedFigure(Math.abs(trend.slope), decimals + 1)} a ${periodWord(frequency, 1)}${share}, the median of all slopes; noise would show as much ${oneIn(trend.chance)} times.`,
					}
				: {
						code: 'trend',
						says: 'no',
						text: `No steady trend${step?.found ? ' beside the step' : ''}: the median slope is ${fixedFigure(trend.slope, decimals + 1)} a ${periodWord(frequency, 1)}, as noise would show 1 in ${Math.max(1, Math.round(1 / Math.max(trend.chance, 1e-9))).toLocaleString('en')} times.`,
					},
		);
	}
	if (present >= 8) {
		const worst = [...freaks].sort((a, b) => b.times - a.times).slice(0, 3);
		statements.push(
			worst.length > 0
				? {
						code: 'freak',
						says: 'yes',
						text: `${worst.length === 1 ? 'A freak period' : 'Freak periods'}: ${worst.map(({ at, value, usual, times: off }) => `${describePeriod(frequency, first + at)}, ${figure(value)} where ${figure(usual)} would be usual (${fixedFigure(off, 1)} robust deviations)`).join('; ')}.`,
					}
				: {
						code: 'freak',
						says: 'no',
						text: `No freak period: none is more than ${FREAK_TIMES} robust deviations from its neighbours.`,
					},
		);
	}
	return statements;
}

function peaks(
	{ length, effects }: NonNullable<Look['season']>,
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
	const low = ranked.at(-1)!;
	const by = ({ effect, name }: { effect: number; name: string }) =>
		level !== 0
			? `${name} (${effect >= 0 ? '+' : ''}${fixedFigure((100 * effect) / Math.abs(level), 0)} %)`
			: name;
	return {
		code: 'peaks',
		says: 'yes',
		text: `Highest in ${high.map(by).join(', ')}; lowest in ${by(low)}, against the level.`,
	};
}
