import { expect, test } from 'vitest';
import {
	gainSentences,
	gainWords,
	sharedSentence,
	shareReason,
	type SweepCounts,
	sweptSentence,
} from './sweep';

const COUNTS: SweepCounts = {
	rows: 20_000,
	refused: 12,
	ready: 19_988,
	adopted: 0,
	beside: 19_000,
	clear: 212,
	closer: 11_000,
	rare: 0,
	wapeBefore: 18.24,
	wape: 17.13,
	wapeClear: 17.9,
};

test('how many would have been closer, and what that comes to over all', () => {
	expect(gainSentences(COUNTS)).toEqual([
		'Of 19\u202f000 items 212 had clearly smaller errors than what is adopted in a trial on past periods, 10\u202f788 slightly smaller, 8\u202f000 not.',
		'WAPE over all of them would fall from 18.2 to 17.1 %. With only the clearly smaller ones it would fall to 17.9 %.',
	]);
});

test('figures that differ are told apart, and what got worse is said so', () => {
	expect(gainSentences({ ...COUNTS, clear: 0, wapeBefore: 3.671, wape: 3.673, wapeClear: 3.671 })).toEqual([
		expect.stringContaining('Of 19\u202f000 items none had'),
		'WAPE over all of them would rise from 3.671 to 3.673 %.',
	]);
	expect(gainSentences({ ...COUNTS, wape: 18.24 })[1]).toMatch(/would stay at 18\.2 %/);
	expect(gainSentences({ ...COUNTS, beside: 0 })).toEqual([]);
	expect(gainSentences({ ...COUNTS, wape: null })).toHaveLength(1);
	const [compared, measured] = gainSentences({ ...COUNTS, rare: 40 });
	expect(compared).toMatch(/40 items have rare demand: compared by MSE, and not in WAPE\.$/);
	expect(measured).toMatch(/^WAPE over the others/);
});

test('what became of all of them', () => {
	expect(sweptSentence(COUNTS, ['proposal', 'proposals'], false)).toBe(
		'19\u202f988 proposals; 12 items not possible, each with its reason.',
	);
	expect(sweptSentence({ ...COUNTS, rows: 1, refused: 0, adopted: 1 }, ['update', 'updates'], false)).toBe(
		'1 update; 1 adopted.',
	);
	expect(
		sweptSentence(
			{ ...COUNTS, rows: 9, refused: 2, adopted: 7 },
			['forecast was adopted', 'forecasts were adopted'],
			true,
		),
	).toBe('7 forecasts were adopted; 2 items not possible, each with its reason.');
	expect(sweptSentence({ ...COUNTS, rows: 0 }, ['item compared', 'items compared'], false)).toBe(
		'No item is done yet.',
	);
});

test('a gain in words', () => {
	expect([0.123, -0.0521, 0].map(gainWords)).toEqual(['12 % smaller', '5.2 % larger', 'the same']);
});

test('what a sum says and what its items come to, and what is not shared', () => {
	const periods = [{ figure: 1310 }, { figure: 1320 }];
	expect(sharedSentence({ by: 'cycle', ahead: 2, periods }, 1290)).toBe(
		'The group’s forecast is 1\u202f310 for the first period; shared by demand of the last cycle, its items sum to 1\u202f290. 2 periods are shared. Shared by demand of the last cycle, items were forecast 21 % worse in tests than by their own forecasts. Share by these where there are any.',
	);
	expect(sharedSentence({ by: 'forecasts', ahead: 5, periods }, 1310)).toMatch(
		/2 periods are shared; for 3 more the items have no forecasts\.$/,
	);
	expect([0.125, 0.0321].map((part) => shareReason('Brakes', 'cycle', part))).toEqual([
		'13 % of “Brakes”, by demand of the last cycle',
		'3.2 % of “Brakes”, by demand of the last cycle',
	]);
});
