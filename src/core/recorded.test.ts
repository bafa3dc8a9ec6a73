import { expect, test } from 'vitest';
import recorded from './fixtures/recorded.json';
import type { CandidateResult } from './questions/answer';
import { evaluate } from './questions/evaluate';
import { heldAt } from './questions/trial';
import type { Candidate } from './methods/registry';

/** Forecasts as they were recorded while a rule of ranges was the newest: they come out the same by that rule for ever. */
const RECORDS = Object.entries(recorded.rules).flatMap(([rule, records]) =>
	records.map((record) => ({ rule: Number(rule), method: record.request.candidates[0]!.method, ...record })),
);

test.each(RECORDS)('rule $rule, $method', ({ rule, request, constants, ahead, together }) => {
	const [found] = evaluate({ ...request, rangeRule: rule }).candidates as CandidateResult[];
	expect(found!.constants).toEqual(constants);
	expect(found!.ahead.map(({ mean, ranges }) => ({ mean, ranges }))).toEqual(ahead);
	expect(found!.together).toEqual(together);
});

/** Records from before ranges had a kind: searches have become better since, so that they are checked with the constants they had. */
test.each(recorded.before)(
	'before there were rules, $request.candidates.0.method',
	({ request, constants, ahead }) => {
		const [candidate] = request.candidates as unknown as [Candidate];
		const known = Object.fromEntries(
			Object.entries(constants).filter((each): each is [string, number] => each[1] !== undefined),
		);
		const [found] = evaluate({ ...request, candidates: [heldAt(candidate, { constants: known })] })
			.candidates as CandidateResult[];
		found!.ahead.forEach(({ mean }, i) => expect(mean! / ahead[i]!.mean).toBeCloseTo(1, 9));
	},
);
