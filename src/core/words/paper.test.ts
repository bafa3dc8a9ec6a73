import { expect, test } from 'vitest';
import { parsePeriod } from '../series/period';
import { type PaperSaid, paperSentences } from './paper';

const at = (period: string) => parsePeriod('month', period);
const SCALE = { power: 0, decimals: 1 };
const SAID: PaperSaid = {
	name: 'Combination of 7',
	besideAdopted: false,
	unit: 'pieces',
	ahead: [at('2026-11'), at('2027-10')],
	mad: 12.44,
	compared: 35,
	trial: 'In a trial on 36 past months its average error was 40 % below naive’s (a clear difference).',
	level: 0.8,
	changes: [],
	rounding: null,
};
const PACKS = { pack: 12, way: 'nearest', floor: null } as const;
const said = (change: Partial<PaperSaid>) => paperSentences({ ...SAID, ...change }, 'month', SCALE);

test('a page says in five sentences what is forecast, by what, how good it was, what the range means and what was changed', () => {
	expect(said({})).toEqual([
		'Demand in pieces is forecast for 12 months, Nov 2026 – Oct 2027, by Combination of 7.',
		'Over the 35 months compared its forecasts were off by 12.4 pieces a month on average (MAD).',
		SAID.trial,
		'The 80 % range is where 80 of 100 actuals should lie, if errors stay as they were.',
		'No figure was changed by hand.',
	]);
});

test('what cannot be said is left out', () => {
	expect(
		said({ ahead: [at('2026-11'), at('2026-11')], unit: '', mad: null, trial: null, level: null }),
	).toEqual(['Demand is forecast for Nov 2026, by Combination of 7.', 'No figure was changed by hand.']);
	expect(said({ besideAdopted: true })[0]).toMatch(/by Combination of 7, which is not adopted\.$/);
	expect(said({ ahead: null })).toEqual(['Combination of 7 forecasts no period ahead.']);
});

test.each([
	[[['2026-11', 'fair']], null, 'Changed by hand: Nov 2026 (“fair”).'],
	[
		[
			['2026-11', 'fair'],
			['2026-12', 'fair'],
			['2027-01', ''],
		],
		PACKS,
		'Changed by hand: Nov 2026 and Dec 2026 (“fair”), Jan 2027 (no reason given yet); figures are rounded: packs of 12.',
	],
	[
		[],
		{ ...PACKS, way: 'up', floor: 24 },
		'No figure was changed by hand; figures are rounded: packs of 12, always up, at least 24.',
	],
	[[], PACKS, 'No figure was changed by hand; figures are rounded: packs of 12.'],
	[
		[
			['2026-11', 'a'],
			['2026-12', 'a'],
			['2027-01', 'a'],
			['2027-02', 'b'],
			['2027-03', 'c'],
			['2027-04', 'd'],
		],
		null,
		'Changed by hand: Nov 2026 and 2 more (“a”), Feb 2027 (“b”), Mar 2027 (“c”), and for 1 more reason.',
	],
] as [[string, string][], PaperSaid['rounding'], string][])(
	'changes %j, rounding %j',
	(changes, rounding, sentence) => {
		expect(
			said({ changes: changes.map(([period, reason]) => ({ period: at(period), reason })), rounding }).at(-1),
		).toBe(sentence);
	},
);
