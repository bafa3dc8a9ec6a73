import { MEASURE_IDS, MEASURES, type MeasureId } from '../accuracy/measures';

/** A word of the trade as this program uses it. */
export interface Term {
	term: string;
	/** What it is, in at most twenty words, with its formula where it has one. */
	is: string;
}

/** Those that are no measures; heads of columns and the list of terms have their words from here. */
const TERMS_BY_KEY = {
	actual: { term: 'actual', is: 'Demand of a period as it came in.' },
	adopt: {
		term: 'adopt',
		is: 'Record a forecast for good. Adopting again replaces it for the future; the record stays.',
	},
	alarm: {
		term: 'bias alarm',
		is: 'Raised when the smoothed error over its smoothed size passes a limit that chance seldom reaches.',
	},
	candidate: {
		term: 'candidate',
		is: 'A method with its settings and constants, compared with others in the line-up.',
	},
	combination: { term: 'combination', is: 'The weighted mean of several candidates’ forecasts.' },
	computed: { term: 'computed', is: 'What the method forecasts, before changes by hand and rounding.' },
	constants: {
		term: 'smoothing constants',
		is: 'α, β, γ: how much level, trend and season follow each error, from 0 to 1. φ damps the trend.',
	},
	cycle: { term: 'cycle', is: 'One round of the season: twelve months, four quarters, seven days.' },
	error: { term: 'error', is: 'Actual − forecast. Above 0 the forecast was too low.' },
	final: {
		term: 'final forecast',
		is: 'The adopted forecast after changes by hand and rounding to packs: what is handed over.',
	},
	group: {
		term: 'group total',
		is: 'Items with the same labels added up, forecast and adopted like an item.',
	},
	holdout: {
		term: 'holdout',
		is: 'The last periods, kept out of the fit, to see how forecasts of them turn out.',
	},
	horizon: { term: 'periods ahead', is: 'How many periods after the last actual are forecast.' },
	index: {
		term: 'seasonal index',
		is: 'How far a season lies above or below the level: 1.20 is 20 % above (additive: units).',
	},
	lead: {
		term: 'lead time',
		is: 'Periods that must be forecast at any time, so that supply can be ordered.',
	},
	level: { term: 'level', is: 'Demand without trend, season and chance.' },
	naive: {
		term: 'naive',
		is: 'The last actual repeated. Seasonal naive: the actual of the same season last cycle.',
	},
	outlier: {
		term: 'outlier',
		is: 'An actual far from its neighbours. Check it; leave it out if it was one-off.',
	},
	range: { term: '80 % range', is: 'Where 80 of 100 actuals should lie, if errors stay as they were.' },
	rare: {
		term: 'rare demand',
		is: 'More than 30 % of periods without demand, and no season. MAD and MAPE mislead.',
	},
	sequence: { term: 'sequence', is: 'Forecasts updated from one another, measured together.' },
	service: { term: 'service level', is: 'The probability that stock covers demand until the next delivery.' },
	sweep: { term: 'sweep', is: 'One thing done to many items in the background, such as proposing for each.' },
	trend: { term: 'trend', is: 'The change of the level from period to period.' },
	trial: {
		term: 'trial',
		is: 'Forecasts made at past origins from what was known then, compared with what came.',
	},
	update: { term: 'update', is: 'Adopt the same candidates again on newer actuals.' },
} satisfies Record<string, Term>;

export type TermKey = keyof typeof TERMS_BY_KEY | MeasureId;

/** In the order of the alphabet. */
export const TERMS: readonly Term[] = [
	...Object.values(TERMS_BY_KEY),
	...MEASURE_IDS.map((id) => ({ term: MEASURES[id].name, is: MEASURES[id].is })),
].toSorted((a, b) => a.term.localeCompare(b.term, 'en'));

/** What a term is, for whoever points at it. */
export const termIs = (key: TermKey): string =>
	key in MEASURES ? MEASURES[key as MeasureId].is : TERMS_BY_KEY[key as keyof typeof TERMS_BY_KEY].is;

/** Terms that a few letters ask for, those whose name begins with them first. */
export function findTerms(words: string): readonly Term[] {
	const sought = words.trim().toLowerCase();
	if (sought === '') return TERMS;
	const named = TERMS.filter(({ term }) => term.toLowerCase().includes(sought));
	const within = TERMS.filter((each) => !named.includes(each) && each.is.toLowerCase().includes(sought));
	return [...named.toSorted((a, b) => at(a, sought) - at(b, sought)), ...within];
}

const at = ({ term }: Term, sought: string) => term.toLowerCase().indexOf(sought);
