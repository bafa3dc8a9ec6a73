import { describe, expect, test } from 'vitest';
import { lines } from '../../../tests/support/shaped';
import type { Choices } from './choices';
import { decisionOf } from './decision';
import { codesByName, evidenceOf, further, type Known, type LastTable, makeOf, wordsOf } from './evidence';
import { readText } from './read';
import type { Doubt } from './reading';

const day = (iso: string) => iso.slice(0, 10);
const none: Known = { items: [], last: null };
const item = (code: string, newest: number | null = 24_321) => ({
	code,
	name: `Part ${code}`,
	frequency: 'month' as const,
	newest,
});

/** How a table is kept once it is brought in. */
function kept(text: string, choices: Choices = {}): LastTable {
	const reading = readText(text, choices);
	const { heads, doubts, columns, frequency, decimal } = decisionOf(reading, choices);
	return {
		fileName: 'issues-10.csv',
		at: '2026-11-03T08:00:00Z',
		choices,
		heads,
		doubts,
		columns,
		frequency: frequency as 'month',
		decimal,
	};
}
const OCTOBER = lines('Part;Zone;Jan 2026;Feb 2026', 'A-1;4;10;12', 'A-2;5;20;22', 'A-3;4;7;9');
const NOVEMBER = lines(
	'Part;Zone;Jan 2026;Feb 2026;Mar 2026',
	'A-1;4;10;12;14',
	'A-2;5;20;22;24',
	'A-3;4;7;9;8',
);

describe('items that are here', () => {
	test('a row of their codes is no row of weeks', () => {
		const text = lines('W1;W2;W3', '10;4;7', '12;5;6', '9;3;8');
		const bare = readText(text, {});
		const { choices, said } = evidenceOf(
			bare,
			{ ...none, items: ['W1', 'W2', 'W3'].map((code) => item(code)) },
			day,
		);
		expect(choices).toEqual({ rows: { 0: 'item' }, frequency: 'month' });
		expect(said.map(({ code }) => code)).toContain('known-items');
		const reading = readText(text, { ...choices, frequency: 'month', first: '2026-01' });
		expect(reading.items.map(({ code, values }) => [code, values])).toEqual([
			['W1', [10, 12, 9]],
			['W2', [4, 5, 3]],
			['W3', [7, 6, 8]],
		]);
	});

	test('some words that happen to be codes make no line of items', () => {
		const bare = readText(OCTOBER, {});
		expect(evidenceOf(bare, { ...none, items: [item('4')] }, day).choices).toEqual({});
	});

	test('a table that calls them by their names has their codes', () => {
		const items = ['A-1', 'A-2'].map((code) => item(code));
		expect([...codesByName({ items })]).toEqual([
			['Part A-1', 'A-1'],
			['Part A-2', 'A-2'],
		]);
		// A name that two items have is neither's.
		expect([...codesByName({ items: [...items, { ...item('B-1'), name: 'Part A-1' }] }).keys()]).toEqual([
			'Part A-2',
		]);
		const bare = readText(lines('Part A-1;Part A-2', '10;4', '12;5', '9;3'), {});
		expect(evidenceOf(bare, { ...none, items }, day).choices).toMatchObject({ frequency: 'month' });
	});

	test('where a table says no period, the one that its items wait for is one press away', () => {
		const bare = readText(lines('Code;Pieces', 'A-1;40', 'A-2;12', 'A-3;7'), {});
		expect(bare.problem).toMatch(/Say which month/);
		const known = { ...none, items: ['A-1', 'A-2', 'A-3'].map((code) => item(code)) };
		const offered = further(bare, known).find(({ code }) => code === 'next-period')!;
		expect(offered.options[0]!.label).toBe('the figures are of Nov 2026');
		const reading = readText(lines('Code;Pieces', 'A-1;40', 'A-2;12', 'A-3;7'), offered.options[0]!.choices);
		expect(reading.items.map(({ first, values }) => [first, values])).toEqual([
			[24_322, [40]],
			[24_322, [12]],
			[24_322, [7]],
		]);
	});
});

describe('the last table of the same make', () => {
	test('a month more is the same make; other headings are not', () => {
		expect(makeOf(readText(NOVEMBER, {}))).toBe(makeOf(readText(OCTOBER, {})));
		expect(makeOf(readText(OCTOBER.replace('Zone', 'Bay'), {}))).not.toBe(makeOf(readText(OCTOBER, {})));
		expect(makeOf(readText(lines('Jan 2026;4', 'Feb 2026;5'), {}))).toBeNull();
		const twice = (...months: string[]) =>
			makeOf(
				readText(
					lines(
						`Part;${months.join(';;')};`,
						`;${months.map(() => 'Issued;Budget').join(';')}`,
						...['A-1', 'A-2'].map((code) => `${code};${months.map(() => '4;5').join(';')}`),
					),
					{},
				),
			);
		expect(twice('Jan 2026', 'Feb 2026', 'Mar 2026')).toBe(twice('Jan 2026', 'Feb 2026'));
		expect(twice('Jan 2026', 'Feb 2026')).toContain('issued|budget');
	});

	test('what was chosen by hand holds for it too, where its headings stand now', () => {
		const last = kept(OCTOBER, { columns: { 1: 'label' } });
		const wider = NOVEMBER.split('\n')
			.map((row, i) => row.replace(';', i === 0 ? ';Bin;' : ';x;'))
			.join('\n');
		expect(evidenceOf(readText(NOVEMBER, {}), { items: [], last }, day)).toMatchObject({
			choices: { columns: { 1: 'label' } },
			said: [{ text: 'Read in the same way as “issues-10.csv”, 2026-11-03.' }],
		});
		expect(evidenceOf(readText(wider, {}), { items: [], last }, day).choices.columns).toEqual({ 2: 'label' });
	});

	test('where it has another mark or other columns, it says so', () => {
		const last = kept(OCTOBER);
		expect(further(readText(NOVEMBER, {}), { items: [], last })).toEqual([]);
		const points = lines(
			'Part;Zone;Jan 2026;Feb 2026',
			'A-1;4;10,5;12,5',
			'A-2;5;20,5;22,25',
			'A-3;4;7,5;9,5',
		);
		const [doubt] = further(readText(points, {}), { items: [], last }) as [Doubt];
		expect(doubt.text).toMatch(/the decimal mark is a comma, it was a point/);
		expect(doubt.options[0]!.choices).toEqual({ decimal: '.' });
		const years = lines('Part;Zone;2024;2025', 'A-1;4;10;12', 'A-2;5;20;22', 'A-3;4;7;9');
		expect(further(readText(years, {}), { items: [], last })[0]!.text).toMatch(
			/periods are years, they were months/,
		);
	});
});

test('the words that are looked up are those of the table, each once, none of them too long', () => {
	const words = wordsOf(readText(lines(`Part;Jan 2026;Feb 2026`, `A-1;4;5`, `${'x'.repeat(90)};4;6`), {}));
	expect(words).toEqual(['Part', 'Jan 2026', 'Feb 2026', 'A-1', '4', '5', '6']);
});
