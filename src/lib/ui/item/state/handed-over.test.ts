import { expect, test } from 'vitest';
import type { AdoptedForecast, AdoptedStep } from '../../../wire/records';
import { HandedOver } from './handed-over.svelte';

const NOV = 2026 * 12 + 10;
const step = (place: number, more: Partial<AdoptedStep> = {}) => ({
	step: place,
	period: NOV + place - 1,
	mean: 100,
	final: 100,
	changedTo: null,
	changeRate: null,
	changeReason: null,
	...more,
});
const adopted = (steps: object[], rounding: AdoptedForecast['rounding'] = null) =>
	({ steps, rounding }) as unknown as AdoptedForecast;

test('it begins with what the record before says of periods that are still ahead', () => {
	const before = adopted(
		[
			step(1, { changedTo: 80, changeReason: 'a strike' }),
			step(2, { changedTo: 120, changeRate: 1.2, changeReason: 'a fair' }),
			step(3),
		],
		{ pack: 10, way: 'up', floor: 0 },
	);
	const handed = new HandedOver(before, NOV);
	expect(handed.request(NOV, 6)).toEqual({
		changes: [{ step: 1, by: { kind: 'rate', rate: 1.2 }, reason: 'a fair' }],
		rounding: { pack: 10, way: 'up', floor: 0 },
	});
	// The rate is of what is computed now.
	expect(handed.finalOf(NOV + 1, 90)).toBe(110);
	expect(new HandedOver(null, NOV).request(NOV, 6)).toEqual({ changes: [], rounding: null });
});

test('changes stay with their periods, and need a reason each', () => {
	const handed = new HandedOver(null, NOV);
	handed.change([NOV + 1, NOV + 2], { kind: 'rate', rate: 1.1 }, 'agreed with sales');
	handed.change([NOV + 2], { kind: 'to', figure: 7 });
	expect(handed.unexplained(NOV + 1, NOV + 12)).toEqual([NOV + 2]);
	handed.explain('the shop is closed');
	expect(handed.unexplained(NOV + 1, NOV + 12)).toEqual([]);
	expect([NOV + 1, NOV + 2, NOV + 3].map((period) => handed.finalOf(period, 50))).toEqual([
		expect.closeTo(55, 9),
		7,
		50,
	]);
	// Fewer periods ahead leave out what lies beyond.
	expect(handed.request(NOV, 1).changes).toHaveLength(1);
	handed.takeBack([NOV + 1]);
	expect(handed.request(NOV, 12).changes.map(({ step, reason }) => [step, reason])).toEqual([
		[2, 'the shop is closed'],
	]);
	handed.takeBack();
	expect(handed.request(NOV, 12).changes).toEqual([]);
	expect(handed.finalOf(NOV + 1, null)).toBeNull();
});
