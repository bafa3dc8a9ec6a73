import { type PairedLead, type ShareLead, lossOf } from '../accuracy/lead';
import { pairedLead } from '../accuracy/paired';
import { overWords } from '../accuracy/windows';
import { leadBetween, lossBy, lossesAt, missedBy } from './trial';
import { type Evaluation, type Reading } from './answer';
import { distinctNames } from '../methods/names';
import { leadNote } from '../words/comparison';
import { type Note } from '../contract/note';
import { periodsInWords } from '../series/frequency';
import { type Entry, type Setting } from './setting';

/** How the closest candidate leads the next one. */

/** How the closest candidate leads the next one, by each reading that there is. */
export function leadsOf(
	setting: Setting,
	ran: readonly Entry[],
	common: Int32Array | null,
): Evaluation['leads'] {
	const { request, totals, fitted, series, seasonal } = setting;
	const by = lossBy(seasonal());
	const leads: Evaluation['leads'] = {};
	const put = (reading: Reading, lead: Evaluation['leads'][Reading] | null) => {
		if (lead) leads[reading] = lead;
	};
	/** Of forecasts of the same periods. */
	const over = (positions: Int32Array, forecastOf: (entry: Entry) => Float64Array, words: string) => {
		const size = (entry: Entry) =>
			positions.reduce((sum, i) => sum + lossOf(totals[i]! - forecastOf(entry)[i]!, by), 0);
		return leadOf(
			setting,
			ran,
			size,
			(one, other) => pairedLead(totals, forecastOf(one), forecastOf(other), positions, by),
			words,
		);
	};
	if (common)
		put(
			'common',
			over(common, ({ forecast }) => forecast, overWords('common', common.length, fitted.frequency)),
		);
	if (request.holdout > 0) {
		const first = series.values.length - request.holdout;
		const words = `the ${periodsInWords(series.frequency, request.holdout)} of the holdout`;
		for (const [reading, key] of [
			['ahead', 'ahead'],
			['step-by-step', 'oneStep'],
		] as const) {
			const positions = Int32Array.from({ length: request.holdout }, (_, index) => first + index).filter(
				(i) => !Number.isNaN(totals[i]!) && ran.every(({ held }) => !Number.isNaN(held![key][i]!)),
			);
			put(
				reading,
				over(positions, ({ held }) => held![key], words),
			);
		}
	}
	if (request.trial) {
		const missed = new Map(ran.map((entry) => [entry, missedBy(fitted, entry.askedTrial!)]));
		const size = (entry: Entry) => {
			const all = missed.get(entry)!;
			const count = all.reduce((sum, { count }) => sum + count, 0);
			return count > 0 ? all.reduce((sum, each) => sum + lossesAt(each, by).own, 0) / count : NaN;
		};
		const paired = (one: Entry, other: Entry) => leadBetween(missed.get(one)!, missed.get(other)!, by);
		put('trial', leadOf(setting, ran, size, paired, 'these origins'));
	}
	return leads;
}

/**
 * How the one that misses least leads the next one.
 * @param sizeOf what an entry misses by, NaN where that is not known
 */
function leadOf(
	{ request, seasonal }: Setting,
	ran: readonly Entry[],
	sizeOf: (entry: Entry) => number,
	pairedOf: (one: Entry, other: Entry) => PairedLead | ShareLead | null,
	over: string,
): { id: string; note: Note } | null {
	const idOf = ({ fit: { candidate } }: Entry) => candidate.id;
	const [best, second] = ran
		.map((entry) => ({ entry, size: sizeOf(entry) }))
		.filter(({ size }) => !Number.isNaN(size))
		.sort((a, b) => a.size - b.size);
	if (!best || !second) return null;
	const paired = pairedOf(best.entry, second.entry);
	if (!paired) return null;
	const names = distinctNames(
		request.candidates,
		(id) => ran.find((entry) => idOf(entry) === id)?.fit.constants,
	);
	const id = idOf(second.entry);
	return {
		id: idOf(best.entry),
		note: leadNote(paired, { id, name: names.get(id)! }, over, lossBy(seasonal())),
	};
}
