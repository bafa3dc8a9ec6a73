import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type Layers, LAYERS, NO_LAYERS } from '$core/series/layers';
import { layerChanges, withEntries } from './layer-entries';
import { entryWords } from '$core/words/layers';

const periods = fc.integer({ min: 1, max: 9 });
const record = <T>(value: fc.Arbitrary<T>) =>
	fc.dictionary(periods.map(String), value) as unknown as fc.Arbitrary<Record<number, T>>;
const rule = fc.constantFrom('skip', 'carry-forward', 'interpolate', 'seasonal', 'zero');
const layers: fc.Arbitrary<Layers> = fc.record({
	corrections: record(fc.record({ to: fc.integer(), over: fc.option(fc.integer()) })),
	gaps: record(rule),
	leftOut: fc.uniqueArray(periods).map((list) => list.sort((a, b) => a - b)),
	events: record(fc.string({ minLength: 1 })),
	gapRule: rule,
	perDay: fc.boolean(),
	seasonLength: fc.option(periods),
	off: fc.subarray([...LAYERS]),
});

/** Layers with their lists in order: a set says nothing of it. */
const ordered = (of: Layers): Layers => ({ ...of, leftOut: [...of.leftOut].sort((a, b) => a - b) });

test('the entries between two states of the layers lead from one to the other, and back', () => {
	fc.assert(
		fc.property(layers, layers, (from, to) => {
			expect(ordered(withEntries(from, layerChanges(from, to)))).toEqual(to);
			expect(ordered(withEntries(to, layerChanges(to, from)))).toEqual(from);
			expect(layerChanges(from, from)).toEqual([]);
		}),
	);
});

test('each entry of the record has its words', () => {
	const words = (to: Partial<Layers>, from: Partial<Layers> = {}) =>
		layerChanges({ ...NO_LAYERS, ...from }, { ...NO_LAYERS, ...to }).map((entry) =>
			entryWords(entry, 'month', 0),
		);
	const march = 2024 * 12 + 2;
	expect(words({ corrections: { [march]: { to: 412, over: 398 } } })).toEqual([
		'Mar 2024 corrected from 398 to 412',
	]);
	expect(words({ corrections: { [march]: { to: 412, over: null } } })).toEqual(['Mar 2024 typed in: 412']);
	expect(words({}, { corrections: { [march]: { to: 412, over: 398 } } })).toEqual([
		'Mar 2024 as it came in again',
	]);
	expect(words({ leftOut: [march] })).toEqual(['Mar 2024 left out']);
	expect(words({}, { leftOut: [march] })).toEqual(['Mar 2024 put back']);
	expect(words({ gapRule: 'zero', perDay: true, seasonLength: 6, off: ['event'] })).toEqual([
		'a missing figure is zero',
		'the rate per day worked on',
		'season length set to 6',
		'events switched off',
	]);
	expect(words({ gaps: { [march]: 'interpolate' }, events: { [march]: 'fair' } })).toEqual([
		'the gap in Mar 2024 lies between its neighbours',
		'event in Mar 2024: fair',
	]);
});
