import { expect, test } from 'vitest';
import { parsePeriod } from '../series/period';
import { besideWords, closerSentence, type SumSaid, sumSentences } from './sum';

const END = parsePeriod('month', '2026-09');
const NONE = { items: 0, codes: [] };
const PLAIN: SumSaid = {
	items: 3,
	ended: { ...NONE, after: 12 },
	last: NONE,
	missing: { periods: 0, latest: null },
	ahead: [],
};
const SCALE = { power: 0, decimals: 0 };

test('of items that are all there, nothing needs to be said', () => {
	expect(sumSentences(PLAIN, 'month', END)).toEqual([]);
	expect(besideWords(PLAIN, 'month', END + 1, 100, SCALE)).toBeNull();
});

test('for whom a sum waits, what it misses and who has ended is said by name', () => {
	const said = sumSentences(
		{
			...PLAIN,
			last: { items: 7, codes: ['A', 'B', 'C', 'D', 'E'] },
			missing: { periods: 2, latest: END - 3 },
			ended: { items: 2, codes: ['X', 'Y'], after: 12 },
		},
		'month',
		END,
	);
	expect(said).toEqual([
		'It ends with Sep 2026: A, B, C, D, E and 2 more have nothing newer.',
		'2 months are missing, the latest Jun 2026: an item has no figure there, and no gap rule that fills it.',
		'X and Y were retired, or had nothing for 12 months: they count as far as they go.',
	]);
	expect(sumSentences({ ...PLAIN, last: { items: 1, codes: ['A'] } }, 'month', END)).toEqual([
		'It ends with Sep 2026: A has nothing newer.',
	]);
});

test('what the items’ forecasts come to is said with how many of them have one', () => {
	const ahead = [{ period: END + 1, figure: 1240, items: 2 }];
	expect(besideWords({ ...PLAIN, ahead }, 'month', END + 1, 1310, SCALE)).toBe(
		'Oct 2026: the sum of its items’ forecasts is 1\u202f240 (of 2 of 3; the others have no forecast for it); 1\u202f310 is adopted for the group.',
	);
	expect(besideWords({ ...PLAIN, items: 2, ahead }, 'month', END + 1, null, SCALE)).toBe(
		'Oct 2026: the sum of its items’ forecasts is 1\u202f240.',
	);
});

test('which came closer, and what to plan by', () => {
	const said = (gain: number | null, clear = true, origins = 24) =>
		closerSentence({ origins, gain, clear }, 'month');
	expect(said(0.125)).toBe(
		'In a trial on 24 past months the group’s forecast missed by 13 % less than the sum of its items’ (a clear difference): plan the group by it.',
	);
	// Missed by a quarter more: the sum missed by a fifth less.
	expect(said(-0.25, false)).toBe(
		'In a trial on 24 past months the sum of its items’ forecasts missed by 20 % less than the group’s (may be chance): plan the group by the sum.',
	);
	expect(said(0)).toMatch(/missed by the same\.$/);
	expect(said(0.5, true, 5)).toBe(
		'5 past months to compare them on, of at least 6: keep the items’ own forecasts.',
	);
	expect(said(null, false, 0)).toMatch(/^0 past months/);
});
