import { describe, expect, test } from 'vitest';
import { seededNormal } from '../numbers/random';
import { isClear, isClearlyCloser } from './lead';
import { shareLead } from './paired';

const ORIGINS = 36;
const list = (of: (i: number) => number) => Array.from({ length: ORIGINS }, (_, i) => of(i));

describe('which of two came closer from the same origins', () => {
	test('is told by the share of what they missed by, not by how much', () => {
		const normal = seededNormal(3);
		// Closer by 60 % throughout, while what is missed by swings from 1 to 400.
		const other = list((i) => 200 * (1.005 + Math.sin(i / 3)) * Math.exp(0.1 * normal()));
		const own = other.map((each) => 0.4 * each * Math.exp(0.05 * normal()));
		const lead = shareLead(own, other)!;
		const sum = (of: readonly number[]) => of.reduce((a, b) => a + b, 0);
		expect(lead.gain).toBeCloseTo(1 - sum(own) / sum(other), 12);
		expect(lead.lead).toBeCloseTo(Math.log(2.5), 1);
		expect(isClearlyCloser(lead)).toBe(true);
		// The other way round the same is said of the other one.
		const back = shareLead(other, own)!;
		expect([back.lead, back.noise]).toEqual([
			expect.closeTo(-lead.lead, 12),
			expect.closeTo(lead.noise!, 12),
		]);
		expect(isClearlyCloser(back)).toBe(false);
	});

	test('a few origins where much was missed do not decide alone', () => {
		const other = list((i) => (i < 2 ? 1000 : 10));
		const own = list((i) => (i < 2 ? 100 : 10.5));
		const lead = shareLead(own, other)!;
		expect(lead.gain).toBeGreaterThan(0.7);
		expect(isClear(lead)).toBe(false);
	});

	test('less than one in a hundred is no clear difference, however sure it is', () => {
		const other = list((i) => 100 + i);
		const lead = shareLead(
			other.map((each) => 0.995 * each),
			other,
		)!;
		expect(lead.lead).toBeGreaterThan(lead.noise!);
		expect([isClear(lead), isClearlyCloser(lead)]).toEqual([false, false]);
	});

	test('nothing is told of the same errors, nor of fewer than six origins', () => {
		const same = list(() => 5);
		expect(shareLead(same, same)).toMatchObject({ lead: 0, gain: 0, noise: 0 });
		expect(shareLead([1, 2, 3], [4, 5, 6])!.noise).toBeNull();
		expect(shareLead([], [])).toMatchObject({ lead: 0, count: 0, noise: null });
		expect(shareLead([Infinity], [1])).toBeNull();
	});

	test('who missed by nothing is not infinitely closer', () => {
		const lead = shareLead(
			list((i) => i % 2),
			list(() => 1),
		)!;
		expect(lead.lead).toBeLessThan(Math.log(100));
		expect(
			shareLead(
				list(() => 1),
				list(() => 0),
			)!.gain,
		).toBe(-Infinity);
	});
});
