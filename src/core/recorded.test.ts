import { expect, test } from 'vitest';
import recorded from './fixtures/recorded.json';
import type { CandidateResult } from './questions/answer';
import { evaluate } from './questions/evaluate';

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
