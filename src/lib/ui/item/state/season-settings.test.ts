import type { Candidate } from '$core/methods/registry';
import { describe, expect, test } from 'vitest';
import type { Evaluated } from '$core/questions/answer';
import type { ItemState } from './item-state.svelte';
import {
	cycleName,
	holdIndex,
	holdLine,
	holdOf,
	type Indexed,
	type Lined,
	setSeasonLength,
	settingsOf,
	withHeld,
	withSeason,
} from './season-settings';

/** A itemState that only remembers what was set. */
function deskOf(series: object = { seasonLength: 4 }) {
	const set: { id: string; change: { optimise?: unknown }; stroke: string | null }[] = [];
	const adjusted: object[] = [];
	const itemState = {
		series,
		item: { series: { seasonLength: 4 } },
		lineUp: {
			set: ({ id }: Candidate, change: object, stroke: string | null) => set.push({ id, change, stroke }),
			layOver: (change: object) => adjusted.push(change),
		},
	} as unknown as ItemState;
	return { itemState, set, adjusted };
}

const INDICES: Indexed = {
	id: 'i',
	method: 'seasonal-index',
	season: 'additive',
	index: { rule: 'ratio-to-trend', held: [null, 5, null, null] },
};
const LINE: Lined = {
	id: 'l',
	method: 'trend-seasonal',
	season: 'multiplicative',
	optimise: { criterion: 'mad', hold: { slope: 2 } },
};

describe('held indices', () => {
	test('one is held, let go, and with the last of them the list goes', () => {
		expect(withHeld(undefined, 4, 2, 1.3)).toEqual([null, null, 1.3, null]);
		expect(withHeld([null, 5, null, null], 4, 0, -2)).toEqual([-2, 5, null, null]);
		expect(withHeld([null, 5, null, null], 4, 1, null)).toBeUndefined();
		// A list of another season's length is cut or filled.
		expect(withHeld([1, 2], 4, 3, 9)).toEqual([1, 2, null, 9]);
	});

	test('of a rule stand in its index, of a line in what its search holds', () => {
		const { itemState, set } = deskOf();
		holdIndex(itemState, INDICES, 0, -3, 'stroke');
		expect(set.at(-1)).toEqual({
			id: 'i',
			change: { index: { rule: 'ratio-to-trend', held: [-3, 5, null, null] } },
			stroke: 'stroke',
		});
		holdIndex(itemState, INDICES, 1, null);
		expect(set.at(-1)!.change).toEqual({ index: { rule: 'ratio-to-trend' } });
		holdIndex(itemState, LINE, 3, 0.8);
		expect(set.at(-1)!.change).toEqual({
			optimise: { criterion: 'mad', hold: { slope: 2, indices: [null, null, null, 0.8] } },
		});
	});

	test('of a line: intercept and slope are held and let go beside each other', () => {
		const { itemState, set } = deskOf();
		holdLine(itemState, LINE, { intercept: 100 });
		expect(set.at(-1)!.change.optimise).toEqual({ criterion: 'mad', hold: { slope: 2, intercept: 100 } });
		holdLine(itemState, LINE, { slope: null });
		expect(set.at(-1)!.change.optimise).toEqual({ criterion: 'mad', hold: {} });
		expect(holdOf({ id: 'x', method: 'trend-seasonal', season: 'additive' })).toEqual({});
	});
});

test('another kind of season lets go what was typed for the one before', () => {
	expect(withSeason(INDICES, 'additive')).toBe(INDICES);
	expect(withSeason(INDICES, 'multiplicative')).toEqual({
		...INDICES,
		season: 'multiplicative',
		index: { rule: 'ratio-to-trend' },
	});
	const given: Indexed = {
		...INDICES,
		index: { rule: 'given', indices: [1, 2, -1, -2], normalise: false },
	};
	expect(withSeason(given, 'multiplicative')).toEqual({
		...INDICES,
		season: 'multiplicative',
		index: { rule: 'ratio-to-moving-average', normalise: false },
	});
	const held: Lined = { ...LINE, optimise: { hold: { slope: 2, indices: [0.8, null, null, null] } } };
	expect(withSeason(held, 'additive')).toEqual({
		...LINE,
		season: 'additive',
		optimise: { hold: { slope: 2 } },
	});
	const smoothed: Candidate = { id: 'h', method: 'holt-winters', season: 'additive' };
	expect(withSeason(smoothed, 'multiplicative')).toEqual({ ...smoothed, season: 'multiplicative' });
});

test('the settings of a season are the candidate’s own, or none', () => {
	expect(settingsOf(undefined, undefined)).toBeNull();
	expect(settingsOf({ id: 'n', method: 'naive' }, undefined)).toBeNull();
	expect(settingsOf(INDICES, undefined)).toEqual({ kind: 'additive', input: INDICES.index, found: null });
	const result = {
		perPeriod: { line: { intercept: 90, slope: 2 }, indices: [0.8, 1.2, 1.3, 0.7] },
	} as unknown as Evaluated;
	expect(settingsOf(LINE, result)).toEqual({
		kind: 'multiplicative',
		input: { rule: 'given', held: undefined },
		found: { line: { intercept: 90, slope: 2 }, indices: [0.8, 1.2, 1.3, 0.7] },
	});
	expect(settingsOf(LINE, undefined)!.found).toBeNull();
});

test('another season length is laid over the item; its own takes the layer away', () => {
	const { itemState, adjusted } = deskOf();
	for (const length of [12, 4]) setSeasonLength(itemState, length);
	expect(adjusted).toEqual([{ seasonLength: 12 }, { seasonLength: null }]);
});

test('cycles go by their year, by their last day, or by number', () => {
	const of = (series: object, cycle: number, lead = 0) => cycleName(deskOf(series).itemState, cycle, lead);
	const values = new Array(10).fill(1);
	// Ordinals of months count from year 0.
	expect(of({ frequency: 'month', first: 2023 * 12, seasonLength: 12, values }, 0)).toBe('2023');
	expect(of({ frequency: 'step', first: 1, seasonLength: 4, values }, 1)).toBe('cycle 2');
	// Day 20,000 is 4 October 2024, and its cycle of seven ends six days on.
	expect(of({ frequency: 'day', first: 20_000, seasonLength: 7, values }, 0)).toBe('10 Oct 24');
	expect(of({ frequency: 'hour', first: 480_000, seasonLength: 24, values }, 0)).toBe('4 Oct 24');
	expect(of({ frequency: 'quarter', first: 8100, seasonLength: 4, values }, 1)).toBe('2026');
});
