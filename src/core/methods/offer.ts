import type { Diagnosis } from '../diagnosis/diagnosis';
import type { Series } from '../series/series';
import { inWords } from '../numbers/figure';
import { aPeriod, periodWord } from '../series/frequency';
import { CannotRun, type Method } from '../contract/method';
import type { StartRule } from '../contract/candidate';
import {
	type Candidate,
	type Settings,
	constantsOfCandidate,
	METHODS,
	methodOf,
	tunedPart,
	usualSettings,
	withTuned,
} from './registry';

/** A method as it is offered for one item. */
export interface Offer {
	method: Method;
	/** A new candidate of it, its id left out; unlike those that are there already, where it has anything to differ by. */
	settings: Settings;
	/** The candidate of the line-up that a new one could only repeat. */
	there: string | null;
	/** Whether what was found in the series speaks for it; null where nothing was looked at. */
	suits: boolean | null;
	/** What was found in the series that speaks for or against it. */
	because: string | null;
	/** Why it cannot run on this series. */
	refusal: string | null;
}

/**
 * Every method in the trade's order, with when it fits this item and why it cannot run where it cannot.
 * @param lineUp the candidates that are there; a combination would be made from them
 */
export function offersFor(
	series: Series,
	diagnosis: Diagnosis | null,
	lineUp: readonly Candidate[] = [],
): Offer[] {
	return METHODS.map((method) => {
		if (method.dependsOn) return offerOfAll(method, lineUp);
		const { settings, there } = unlike(newCandidate(method, series, diagnosis), lineUp);
		const candidate: Candidate = { ...settings, id: 'offer' };
		const { suits, because } = diagnosis
			? reading(method, candidate, series, diagnosis)
			: { suits: null, because: null };
		return { method, settings, there, suits, because, refusal: refusalOf(method, candidate, series) };
	});
}

/** A method that is made from other candidates, offered with all of them. */
function offerOfAll(method: Method, lineUp: readonly Candidate[]): Offer {
	const members = lineUp.filter((candidate) => candidate.method !== 'naive').map(({ id }) => id);
	const refusal =
		members.length >= 2
			? null
			: `${method.name} needs two candidates or more to be made from; the line-up has ${members.length === 1 ? 'one' : 'none'}.`;
	const { settings, there } = unlike({ method: 'combination', of: members, weights: 'equal' }, lineUp);
	return { method, settings, there, suits: null, because: null, refusal };
}

/** Constants tried one after the other, so that a method that is added again does not come twice alike. */
const OTHER_CONSTANTS = [0.1, 0.3, 0.5, 0.7, 0.9];

/** The same settings, or the next ones that no candidate of the line-up has; the one they repeat, where there are none. */
function unlike(
	settings: Settings,
	lineUp: readonly Candidate[],
): { settings: Settings; there: string | null } {
	const twinOf = (tried: object) => lineUp.find((candidate) => alike(candidate, tried))?.id ?? null;
	const there = twinOf(settings);
	if (there === null) return { settings, there };
	const other = [...variations(settings)].find((tried) => twinOf(tried) === null);
	return other ? { settings: other, there: null } : { settings, there };
}

/** The same settings with their constants searched, with other constants, and with other whole numbers. */
function* variations(settings: Settings): Generator<Settings> {
	const tuned = tunedPart(settings);
	const [first] = constantsOfCandidate({ ...settings, id: 'offer' });
	if (first) {
		yield withTuned(settings, { optimise: {} });
		for (const value of OTHER_CONSTANTS)
			yield withTuned(settings, { constants: { ...tuned.constants, [first.key]: value } });
	}
	for (const { key, control, read } of methodOf(tuned.method).fields) {
		if (control !== 'integer') continue;
		for (let more = 1; more <= 12; more++) yield withTuned(settings, { [key]: Number(read(tuned)) + more });
	}
}

/** Whether two candidates have the same settings, in whatever order they are written. */
function alike(candidate: object, other: object): boolean {
	const written = (settings: object) =>
		JSON.stringify({ ...settings, id: undefined }, (_, value: unknown) =>
			value && typeof value === 'object' && !Array.isArray(value)
				? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
				: value,
		);
	return written(candidate) === written(other);
}

/** A candidate with usual settings: the season added or multiplied as the swings say, the first start that runs. */
export function newCandidate(method: Method, series: Series, diagnosis: Diagnosis | null): Settings {
	const usual = usualSettings(method);
	const settings: Settings =
		'season' in usual && diagnosis?.swings?.grow ? { ...usual, season: 'multiplicative' } : usual;
	const begins = methodOf(tunedPart(settings).method);
	// The one that forecasts best first, then the default.
	const rules: (StartRule | undefined)[] = [
		...(begins.startNew ? [begins.startNew] : []),
		undefined,
		...begins.starts.slice(1),
	];
	for (const rule of rules) {
		if (rule === 'given' || rule === 'optimised') continue;
		const tried = rule ? withTuned(settings, { start: { rule } }) : settings;
		if (refusalOf(method, { ...tried, id: 'offer' }, series) === null) return tried;
	}
	return settings;
}

function refusalOf(method: Method, candidate: Candidate, series: Series): string | null {
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
	candidate: Candidate,
	series: Series,
	{ season, trend, swings, rare }: Diagnosis,
): { suits: boolean; because: string } {
	if (rare) {
		const when = `${rare.some} of ${rare.of} ${periodWord(series.frequency, rare.of)}`;
		return method.rate
			? { suits: true, because: `demand came in ${when}, and this forecasts its rate.` }
			: { suits: false, because: `demand came in only ${when}.` };
	}
	const follows = method.follows(candidate);
	const said: string[] = [];
	const pace = trend?.found ? `${inWords(Math.abs(trend.slope))} ${aPeriod(series.frequency)}` : null;
	const missesSeason = season !== null && !follows.season;
	const missesTrend = pace !== null && !follows.trend;
	if (follows.season && season) {
		const grow = follows.season !== 'any' && swings?.grow ? ', its season grows with the level' : '';
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
