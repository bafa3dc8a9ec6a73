import { expect, test } from 'vitest';
import { cycleParts } from './cycle-totals';
import { parsePeriod } from './period';

test('months are split by years, and a year that is not all there says so', () => {
	const first = parsePeriod('month', '2026-11');
	expect(cycleParts('month', 12, first, 16)).toEqual([
		{ name: '2026', from: 0, to: 1, whole: false },
		{ name: '2027', from: 2, to: 13, whole: true },
		{ name: '2028', from: 14, to: 15, whole: false },
	]);
});

test('a year of 53 weeks stays one, days are split by weeks, years are not split', () => {
	const weeks = cycleParts('week', 52, parsePeriod('week', '2026-W52'), 3);
	expect(weeks.map(({ name, from, to }) => [name, from, to])).toEqual([
		['2026', 0, 1],
		['2027', 2, 2],
	]);
	const days = cycleParts('day', 7, parsePeriod('day', '2026-11-26'), 11);
	expect(days.map(({ name, whole }) => [name, whole])).toEqual([
		['Thu 26 Nov 2026 – Sun 29 Nov 2026', false],
		['Mon 30 Nov 2026 – Sun 6 Dec 2026', true],
	]);
	expect(cycleParts('year', 1, parsePeriod('year', '2026'), 3)).toEqual([]);
	expect(cycleParts('step', 1, 5, 3)).toEqual([]);
});
