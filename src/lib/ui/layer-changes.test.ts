import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type Layers, LAYERS, NO_LAYERS } from '$core/series/layers';
import type { Mend } from '../shapes';
import { layerChanges, without } from './layer-changes';
import { mendWords } from './layer-words';

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

/** What the server makes of a log of entries. */
function replay(from: Layers, entries: readonly Mend[]): Layers {
	const to = structuredClone(from) as { -readonly [Key in keyof Layers]: Layers[Key] };
	const put = <T>(list: Readonly<Record<number, T>>, key: number, value: T | null) =>
		value === null ? without(list, [key]) : { ...list, [key]: value };
	for (const entry of entries) {
		if (entry.kind === 'correction') to.corrections = put(to.corrections, entry.period, entry.setting);
		if (entry.kind === 'gap') to.gaps = put(to.gaps, entry.period, entry.setting);
		if (entry.kind === 'event') to.events = put(to.events, entry.period, entry.setting);
		if (entry.kind === 'left-out')
			to.leftOut = entry.setting
				? [...to.leftOut, entry.period].sort((a, b) => a - b)
				: to.leftOut.filter((each) => each !== entry.period);
		if (entry.kind === 'gap-rule') to.gapRule = entry.setting ?? 'skip';
		if (entry.kind === 'per-day') to.perDay = entry.setting === true;
		if (entry.kind === 'season-length') to.seasonLength = entry.setting;
		if (entry.kind === 'off')
			to.off = LAYERS.filter((layer) =>
				layer === entry.layer ? entry.setting === true : to.off.includes(layer),
			);
	}
	return to;
}

test('the entries between two states of the layers lead from one to the other, and back', () => {
	fc.assert(
		fc.property(layers, layers, (from, to) => {
			expect(replay(from, layerChanges(from, to))).toEqual(to);
			expect(replay(to, layerChanges(to, from))).toEqual(from);
			expect(layerChanges(from, from)).toEqual([]);
		}),
	);
});

test('each entry of the record has its words', () => {
	const words = (to: Partial<Layers>, from: Partial<Layers> = {}) =>
		layerChanges({ ...NO_LAYERS, ...from }, { ...NO_LAYERS, ...to }).map((entry) =>
			mendWords(entry, 'month', 0),
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
