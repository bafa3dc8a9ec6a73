/** (f) How often a sentence about the line-up is wrong where there is nothing to say: forecasts that are equally good, errors that are sound. */
import { isClear, type Loss } from '../../src/core/accuracy/lead';
import { pairedLead, shareLead } from '../../src/core/accuracy/paired';
import { seededNormal } from '../../src/core/numbers/random';
import type { CandidateResult } from '../../src/core/questions/answer';
import { evaluate } from '../../src/core/questions/evaluate';

const RUNS = 2000;
const LENGTHS = [6, 12, 24, 60, 120];

/** Two forecasts of the same worth: the level, each with slips of its own that may last. */
function equals(n: number, alike: number, seed: number) {
	const draw = seededNormal(seed);
	const slips = () => {
		let slip = 0;
		return Float64Array.from({ length: n }, () => 100 + (slip = alike * slip + 6 * draw()));
	};
	return { actual: Float64Array.from({ length: n }, () => 100 + 20 * draw()), one: slips(), other: slips() };
}

/** Share of runs in which one of two equals is said to lead by more than noise. */
export function falseLeads(n: number, alike: number, by: Loss = 'size', runs = RUNS): number {
	const positions = Int32Array.from({ length: n }, (_, i) => i);
	let claimed = 0;
	for (let run = 1; run <= runs; run++) {
		const { actual, one, other } = equals(n, alike, 977 * n + run);
		const lead = pairedLead(actual, one, other, positions, by);
		if (lead && isClear(lead)) claimed++;
	}
	return claimed / runs;
}

/** The same of trials: forecasts of all of the next 12 periods from each of the last so many origins. */
export function falseTrialLeads(origins: number, by: Loss, runs = RUNS): number {
	const horizon = 12;
	let claimed = 0;
	for (let run = 1; run <= runs; run++) {
		const { actual, one, other } = equals(origins + horizon, 0, 977 * origins + run);
		// From one origin all steps say the same.
		const missed = (said: Float64Array) =>
			Array.from({ length: origins }, (_, origin) => {
				const ahead = actual.subarray(origin + 1, origin + 1 + horizon);
				return ahead.reduce((sum, value) => {
					const error = value - said[origin]!;
					return sum + (by === 'square' ? error * error : Math.abs(error));
				}, 0);
			});
		const lead = shareLead(missed(one), missed(other));
		if (lead && isClear(lead)) claimed++;
	}
	return claimed / runs;
}

/** Share of runs in which a note is made about the overall mean of white noise, which is as good as a forecast can be. */
export function falseNotes(code: string, n: number, runs = RUNS): number {
	let claimed = 0;
	for (let run = 1; run <= runs; run++) {
		const draw = seededNormal(31 * n + run);
		const values = Array.from({ length: n + 1 }, () => 100 + 10 * draw());
		const [answer] = evaluate({
			series: { values, frequency: 'step' },
			candidates: [{ id: 'a', method: 'average' }],
			horizon: 0,
		}).candidates as CandidateResult[];
		if (answer!.notes.some((note) => note.code === code)) claimed++;
	}
	return claimed / runs;
}

const percent = (share: number) => (100 * share).toFixed(1);

export function measureClaims(): string[] {
	const row = (of: (n: number) => number) => LENGTHS.map((n) => `${n}: ${percent(of(n))}`).join(', ');
	return [
		`(f) sentences where there is nothing to say, % of ${RUNS} runs by periods compared`,
		`    a clear lead of one of two equals, slips by chance (5 meant): ${row((n) => falseLeads(n, 0))}`,
		`    the same, slips that last (0.7): ${row((n) => falseLeads(n, 0.7))}`,
		`    the same by squares, as of rare demand: ${row((n) => falseLeads(n, 0, 'square'))}`,
		`    in a trial of twelve steps from so many origins, by size: ${row((n) => falseTrialLeads(n, 'size'))}`,
		`    in a trial, by squares: ${row((n) => falseTrialLeads(n, 'square'))}`,
		`    errors said to lean to one side, unbiased ones (1 at most meant): ${row((n) => falseNotes('one-sided-errors', n))}`,
		`    the alarm said to stand outside, sound errors: ${row((n) => falseNotes('alarm', n))}`,
		`    its forecasts said to be worse than its fit, unbiased ones: ${row((n) => falseNotes('worse-beforehand', n))}`,
		`    its ranges said not to have held, sound errors (1 at most meant): ${row((n) => falseNotes('ranges-did-not-hold', n))}`,
		`    the last actual said to be outside its 95 % range, sound errors (5 meant): ${row((n) => falseNotes('last-actual-outside-range', n))}`,
	];
}
