import type { Diagnosis } from '../diagnosis/diagnosis';
import type { Series } from '../series/series';
import { inWords } from '../numbers/figure';
import { periodWord } from '../series/frequency';
import { CannotRun, type CandidateInput, type Method, type StartRule } from './method';
import { METHODS, methodOf, tunedSettings, withTuned } from './registry';

/** A method as it is offered for one item. */
export interface Offer {
	method: Method;
	/** A new candidate of it, its id left out. */
	settings: Omit<CandidateInput, 'id'>;
	/** Whether what was found in the series speaks for it; null where nothing was looked at. */
	suits: boolean | null;
	/** What was found in the series that speaks for or against it. */
	because: string | null;
	/** Why it cannot run on this series. */
	refusal: string | null;
}

/**
 * Every method in the trade's order, with when it fits this item and why it cannot run where it cannot.
 * @param members ids of the candidates that a combination would be made from
 */
export function offersFor(
	series: Series,
	diagnosis: Diagnosis | null,
	members: readonly string[] = [],
): Offer[] {
	return METHODS.map((method) => {
		if (method.restsOn) return offerOfAll(method, members);
		const settings = newCandidate(method, series, diagnosis);
		const candidate = { ...settings, id: 'offer' } as CandidateInput;
		const { suits, because } = diagnosis
			? reading(method, candidate, series, diagnosis)
			: { suits: null, because: null };
		return { method, settings, suits, because, refusal: refusalOf(method, candidate, series) };
	});
}

/** A method that is made from other candidates, offered with all of them. */
function offerOfAll(method: Method, members: readonly string[]): Offer {
	const refusal =
		members.length >= 2
			? null
			: `${method.name} needs two candidates or more to be made from; the line-up has ${members.length === 1 ? 'one' : 'none'}.`;
	const settings = { method: method.id, of: [...members], weights: 'equal' };
	return { method, settings, suits: null, because: null, refusal };
}

/** A candidate with usual settings: the season added or multiplied as the swings say, the first start that runs. */
export function newCandidate(
	method: Method,
	series: Series,
	diagnosis: Diagnosis | null,
): Omit<CandidateInput, 'id'> {
	const fields = Object.fromEntries(
		method.fields.flatMap(({ key, initial }) => (initial === undefined ? [] : [[key, initial]])),
	);
	if ('season' in fields && diagnosis?.swings?.grow) fields.season = 'multiplicative';
	const plain = { method: method.id, ...fields };
	// A method around another one has that one's constants in its settings.
	const own =
		'inner' in fields
			? []
			: (method.constantsOf?.({ ...plain, id: 'offer' } as CandidateInput) ?? method.constants);
	const constants = Object.fromEntries(own.map(({ key, fallback }) => [key, fallback]));
	const settings = { ...plain, ...(own.length > 0 && { constants }) };
	const begins = methodOf(tunedSettings(settings as CandidateInput).method);
	const rules: (StartRule | undefined)[] = [undefined, ...begins.starts.slice(1)];
	for (const rule of rules) {
		if (rule === 'given' || rule === 'optimised') continue;
		const tried = rule ? withTuned(settings as CandidateInput, { start: { rule } }) : settings;
		if (refusalOf(method, { ...tried, id: 'offer' } as CandidateInput, series) === null) return tried;
	}
	return settings;
}

function refusalOf(method: Method, candidate: CandidateInput, series: Series): string | null {
	try {
		method.bind(series, candidate);
		return null;
	} catch (error) {
		if (error instanceof CannotRun) return error.message;
		throw error;
	}
}

function reading(
	method: Method,
	candidate: CandidateInput,
	series: Series,
	{ season, trend, swings }: Diagnosis,
): { suits: boolean; because: string } {
	const follows = method.follows(candidate);
	const said: string[] = [];
	const pace = trend?.found ? `${inWords(Math.abs(trend.slope))} a ${periodWord(series.frequency, 1)}` : null;
	const missesSeason = season !== null && !follows.season;
	const missesTrend = pace !== null && !follows.trend;
	if (follows.season && season) {
		const grow = follows.season !== 'any' && swings?.grow ? ', its swings grow with the level' : '';
		said.push(`the season of ${season.length} explains ${Math.round(100 * season.strength)} %${grow}`);
	}
	if (follows.trend && pace) said.push(`demand ${trend!.slope > 0 ? 'climbs' : 'falls'} by ${pace}`);
	if (follows.season && !season) said.push('no season was found');
	if (follows.trend && !pace) said.push('no trend was found');
	if (missesSeason) said.push(`leaves out the season of ${season.length}`);
	if (missesTrend) said.push(`lags behind the trend of ${pace}`);
	if (!follows.season && !follows.trend && !missesSeason && !missesTrend)
		said.push('neither trend nor season was found');
	// A trend that is not there does little harm beside a season that is.
	const suits =
		!missesSeason &&
		!missesTrend &&
		(!follows.season || season !== null) &&
		(!follows.trend || pace !== null || (follows.season !== false && season !== null));
	return { suits, because: `${said.join('; ')}.` };
}
