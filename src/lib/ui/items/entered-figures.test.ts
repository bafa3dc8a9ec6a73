import { beforeEach, expect, test, vi } from 'vitest';
import { stubStorage } from '../../../../tests/support/storage';
import type { ItemRow } from '../../wire/list';
import { TableReader } from '../../reading/table-reader';
import { EnteredFigures } from './entered-figures.svelte';

const OCTOBER = 2026 * 12 + 9;
const row = (code: string, last = OCTOBER, more: Partial<ItemRow> = {}) =>
	({
		code,
		name: `Part ${code}`,
		unit: 'pieces',
		frequency: 'month',
		sum: null,
		retired: false,
		shown: { last },
		...more,
	}) as ItemRow;
const ROWS = [
	row('A-1'),
	row('A-2'),
	row('A-3', OCTOBER + 1),
	row('A-4'),
	row('W-1', 3000, { frequency: 'week' }),
];
const said = (have: number) => [
	{ frequency: 'week' as const, period: 3000, items: 1, have: 1, graded: 0, inside: 0, reasons: {} },
	{ frequency: 'month' as const, period: OCTOBER, items: 4, have, graded: 0, inside: 0, reasons: {} },
];
const begun = (have = 4) => {
	const entered = new EnteredFigures(() => Promise.resolve(new TableReader()));
	entered.begin(said(have));
	return entered;
};
const figures = (entered: EnteredFigures) => [...entered.figures].map(([code, { figure }]) => [code, figure]);

beforeEach(() => void stubStorage('sessionStorage'));

test('it begins with the next period of the frequency that most items have, or the newest while most lack it', () => {
	expect([begun().name, begun(3).name, begun(1).name]).toEqual(['Nov 2026', 'Nov 2026', 'Oct 2026']);
});

test('a figure can be entered where there is none, for items of that frequency', () => {
	const entered = begun();
	expect(ROWS.filter((each) => entered.canTake(each)).map(({ code }) => code)).toEqual(['A-1', 'A-2', 'A-4']);
	expect(
		[row('G', 0, { sum: {} as ItemRow['sum'] }), row('R', 0, { retired: true })].some((each) =>
			entered.canTake(each),
		),
	).toBe(false);
});

test('figures that are pasted go down from their row, in whatever spelling', async () => {
	const entered = begun();
	expect(await entered.paste('1,204.5\n\n(7)\n12 pcs\n', ROWS, ROWS, '.')).toMatchObject({
		problem: null,
		taken: 2,
	});
	// The third has its figure, and keeps it; the second is blank.
	expect(figures(entered)).toEqual([
		['A-1', 1204.5],
		['A-4', 12],
	]);
});

test('codes that are pasted with figures find their items, wherever they stand; others are named', async () => {
	const entered = begun();
	const pasted = await entered.paste('A-4\t40\nA-1\t12\nX-9\t3', ROWS.slice(2), ROWS, '.');
	expect(pasted).toEqual({ taken: 2, unknown: ['X-9'], problem: null });
	expect(figures(entered)).toEqual([
		['A-4', 40],
		['A-1', 12],
	]);
});

test('a table of another period is none of it, and a word is refused', async () => {
	const entered = begun();
	expect((await entered.paste('Item\tJan 2020\nA-1\t4\nA-2\t5', ROWS, ROWS, '.')).problem).toMatch(
		/Nothing of this is a figure of Nov 2026/,
	);
	expect((await entered.paste('12\nmany\n4', ROWS, ROWS, '.')).problem).toMatch(/“many”/);
	expect(entered.figures.size).toBe(0);
});

test('what was entered outlives a reload, and leaves as a table that says its period', async () => {
	begun().take(ROWS[0]!, 12);
	const entered = begun();
	expect([EnteredFigures.left, figures(entered)]).toEqual([true, [['A-1', 12]]]);
	const sent: string[] = [];
	vi.stubGlobal('fetch', async (_: string, { body }: { body: Blob }) => {
		sent.push(await body.text());
		return new Response(JSON.stringify([{ code: 'A-1', created: false, added: 1, corrected: 0, same: 0 }]));
	});
	expect(await entered.bringIn()).toHaveLength(1);
	expect(sent[0]).toContain('"item";"Nov 2026"\n"A-1";"12"');
	expect(sent[0]).toContain('"from":"A-1","code":"A-1","name":"Part A-1","unit":"pieces"');
	expect([entered.figures.size, entered.brought, EnteredFigures.left]).toEqual([0, 1, false]);
});
