import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import { ALARM_LIMIT, alarmLimit, alarmOf, alarmRatios, chanceOfAlarm } from './alarm';
import { ALARM_TABLE } from './alarm-table';

const errors = fc.array(fc.double({ min: -100, max: 100, noNaN: true }), { minLength: 1, maxLength: 60 });
const positionsOf = (count: number) => Int32Array.from({ length: count }, (_, i) => i + 3);

describe('the ratio', () => {
	test('is smoothed error over smoothed size, by hand', () => {
		// E: 2, 0.6; M from 5: 6, 5.8.
		const [first, second] = alarmRatios(Float64Array.of(10, -5), 5);
		expect(first).toBeCloseTo(2 / 6, 12);
		expect(second).toBeCloseTo(0.6 / 5.8, 12);
	});

	test('lies between −1 and 1, turns with its errors and does not know their unit', () => {
		fc.assert(
			fc.property(errors, fc.double({ min: 0.01, max: 50, noNaN: true }), (list, size) => {
				const ratios = alarmRatios(Float64Array.from(list), size);
				expect(ratios.every((ratio) => Math.abs(ratio) <= 1)).toBe(true);
				const turned = alarmRatios(
					Float64Array.from(list, (error) => -7 * error),
					7 * size,
				);
				turned.forEach((ratio, i) => expect(ratio).toBeCloseTo(-ratios[i]!, 9));
			}),
		);
	});

	test('without a trial an error counts as a share of those so far, and nothing missed by is no ratio', () => {
		expect([...alarmRatios(Float64Array.of(0, 0), null)]).toEqual([NaN, NaN]);
		const own = alarmRatios(Float64Array.of(3), null)[0]!;
		expect(own).toBeCloseTo(0.2 / (0.8 * 0.798 + 0.2), 12);
		expect(alarmRatios(Float64Array.of(3000), null)[0]).toBeCloseTo(own, 12);
	});
});

test('it stands outside since the first period of the stretch that has not ended', () => {
	const draw = seededNormal(4);
	const list = Float64Array.from({ length: 40 }, (_, t) => draw() + (t >= 24 ? 3 : 0));
	const alarm = alarmOf(positionsOf(40), list, 0.8);
	const ratios = alarmRatios(list, 0.8);
	const since = ratios.findLastIndex((ratio) => ratio <= ALARM_LIMIT) + 1;
	expect(since).toBeGreaterThan(24);
	expect(alarm).toMatchObject({ limit: ALARM_LIMIT, since: since + 3 + 1 });
	const calm = alarmOf(positionsOf(24), list.subarray(0, 24), 0.8);
	expect(calm.since).toBeNull();
	expect(alarmOf(positionsOf(0), new Float64Array(0), null)).toEqual({
		ratio: null,
		limit: ALARM_LIMIT,
		chance: 0,
		since: null,
		size: null,
	});
});

describe('the chance of an unbiased forecast', () => {
	test('is a tenth within 24 periods, grows with the periods and shrinks with the limit', () => {
		expect(chanceOfAlarm(24)).toBeCloseTo(0.1, 1);
		expect(alarmLimit(0.1, 24)).toBeCloseTo(ALARM_LIMIT, 2);
		let before = 0;
		for (let periods = 1; periods <= 3000; periods += 7) {
			const chance = chanceOfAlarm(periods);
			expect(chance).toBeGreaterThanOrEqual(before);
			expect(chance).toBeLessThanOrEqual(1);
			expect(chanceOfAlarm(periods, 0.9)).toBeLessThanOrEqual(chance);
			before = chance;
		}
	});

	test('and its limit lead back to each other', () => {
		for (const span of ALARM_TABLE.spans)
			for (const chance of [0.05, 0.1, 0.2, 0.5])
				expect(chanceOfAlarm(span, alarmLimit(chance, span))).toBeCloseTo(chance, 9);
	});

	test('is what a count of sound series says', () => {
		const draw = seededNormal(99);
		let flagged = 0;
		const runs = 4000;
		for (let run = 0; run < runs; run++) {
			const list = Float64Array.from({ length: 24 }, () => draw());
			if (alarmRatios(list, 0.798).some((ratio) => Math.abs(ratio) > ALARM_LIMIT)) flagged++;
		}
		expect(Math.abs(flagged / runs - chanceOfAlarm(24))).toBeLessThan(0.02);
	});
});
