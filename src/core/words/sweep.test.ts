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
		'In a trial on earlier periods, 212 of 19\u202f000 items would have been clearly closer than what is adopted, 10\u202f788 slightly closer, 8\u202f000 no closer.',
		'WAPE over all of them would have fallen from 18.2 to 17.1 %. With only those that are clearly closer it would have fallen to 17.9 %.',
	]);
});

test('figures that differ are told apart, and what got worse is said so', () => {
	expect(gainSentences({ ...COUNTS, clear: 0, wapeBefore: 3.671, wape: 3.673, wapeClear: 3.671 })).toEqual([
		expect.stringContaining('none of 19\u202f000 items'),
		'WAPE over all of them would have risen from 3.671 to 3.673 %.',
	]);
	expect(gainSentences({ ...COUNTS, wape: 18.24 })[1]).toMatch(/would have stayed at 18\.2 %/);
	expect(gainSentences({ ...COUNTS, beside: 0 })).toEqual([]);
	expect(gainSentences({ ...COUNTS, wape: null })).toHaveLength(1);
	const [compared, measured] = gainSentences({ ...COUNTS, rare: 40 });
	expect(compared).toMatch(/40 items have rare demand: compared by squared errors, and not in WAPE\.$/);
	expect(measured).toMatch(/^WAPE over the others/);
});

test('what became of all of them', () => {
	expect(sweptSentence(COUNTS, 'propose')).toBe(
		'19\u202f988 proposals; of 12 items nothing came, each with its reason.',
	);
	expect(sweptSentence({ ...COUNTS, rows: 1, refused: 0, adopted: 1 }, 'carry-on')).toBe(
		'1 forecast that can be carried on; 1 adopted.',
	);
	expect(sweptSentence({ ...COUNTS, rows: 9, refused: 2, adopted: 7 }, 'adopt')).toBe(
		'7 forecasts were adopted, 2 refused, each with its reason.',
	);
	expect(sweptSentence({ ...COUNTS, rows: 0 }, 'try')).toBe('Nothing has come of it yet.');
});

test('a gain in words', () => {
	expect([0.123, -0.0521, 0].map(gainWords)).toEqual(['12 % closer', '5.2 % further off', 'as close']);
});

test('what a sum says and what its items come to, and what is not shared', () => {
	const periods = [{ figure: 1310 }, { figure: 1320 }];
	expect(sharedSentence({ by: 'cycle', ahead: 2, periods }, 1290)).toBe(
		'As one they are forecast at 1\u202f310 for the first period; shared by demand of the last cycle, they come to 1\u202f290. It is shared for 2 periods. Shared by demand of the last cycle, items were forecast 21 % worse in tests than by their own forecasts. Share by these where there are any.',
	);
	expect(sharedSentence({ by: 'forecasts', ahead: 5, periods }, 1310)).toMatch(
		/It is shared for 2 periods, not for 3 that the items have no forecasts for\.$/,
	);
	expect([0.125, 0.0321].map((part) => shareReason('Brakes', 'cycle', part))).toEqual([
		'13 % of “Brakes”, by demand of the last cycle',
		'3.2 % of “Brakes”, by demand of the last cycle',
	]);
});
