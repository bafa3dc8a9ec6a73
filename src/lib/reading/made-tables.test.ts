import { expect, test } from 'vitest';
import { judge, makeTable, type MadeTable, type Outcome } from '../../../tests/made/tables';
import { makeKnown, makeReport, REPORT_KINDS } from '../../../tests/made/reports';
import { makeOrders } from '../../../tests/made/orders';
import { evidenceOf, withEvidence } from './evidence';
import { readText } from './read';
import { runs } from '../../../tests/support/runs';

const TABLES = runs(400);

/** A few hundred of the tables that `npm run bench -- reading` makes by the thousand. */
test('made-up tables of every layout come out as they are meant, and none otherwise without a word', () => {
	const by = new Map<Outcome, MadeTable[]>();
	for (let seed = 1; seed <= TABLES; seed++) {
		const table = makeTable(seed);
		const outcome = judge(table, readText);
		by.set(outcome, [...(by.get(outcome) ?? []), table]);
	}
	expect(by.get('silently') ?? []).toEqual([]);
	expect(by.get('exactly')!.length).toBeGreaterThanOrEqual(0.97 * TABLES);
}, 60_000);

test('made-up tables are of many layouts, spellings and separators, and some have a cell that is broken', () => {
	const tables = Array.from({ length: 400 }, (_, i) => makeTable(i + 1));
	const said = (pattern: RegExp) => tables.filter(({ how }) => pattern.test(how)).length;
	for (const pattern of [
		/blocks? /,
		/subtotals/,
		/labels given once/,
		/a total row/,
		/“box”/,
		/newest first/,
		/a price/,
	])
		expect(said(pattern)).toBeGreaterThan(1);
	expect(tables.filter(({ broken }) => broken).length).toBeGreaterThan(1);
	expect(new Set(tables.map(({ frequency }) => frequency)).size).toBe(9);
});

test('made-up lists of orders are known for what they are, and no other table is taken for one', () => {
	const otherwise = Array.from({ length: runs(60) }, (_, i) => makeOrders(i + 1)).filter(
		(table) => judge(table, readText) !== 'exactly',
	);
	// Of a few lines over nine days nothing shows what they are.
	expect(otherwise.filter(({ how }) => !/over \d days/.test(how)).map(({ how }) => how)).toEqual([]);
	expect(otherwise.length).toBeLessThan(2);
	const taken = Array.from({ length: runs(300) }, (_, i) => makeTable(i + 1)).filter(({ text, said }) =>
		readText(text, said).doubts.some(({ code }) => code === 'order-lines'),
	);
	expect(taken).toEqual([]);
}, 60_000);

test.each(REPORT_KINDS)(
	'made-up reports come out as they are meant, and none otherwise without a word: %s',
	(kind) => {
		const count = runs(80);
		const outcomes = Array.from({ length: count }, (_, i) => {
			const table = makeReport(kind, i + 1);
			return { outcome: judge(table, readText), how: table.how };
		});
		expect(outcomes.filter(({ outcome }) => outcome === 'silently')).toEqual([]);
		expect(outcomes.filter(({ outcome }) => outcome === 'exactly').length).toBeGreaterThanOrEqual(
			0.97 * count,
		);
	},
	60_000,
);

test('tables of which something is known are read by it', () => {
	const count = runs(60);
	const outcomes = Array.from({ length: count }, (_, i) => {
		const table = makeKnown(i + 1);
		const outcome = judge(table, (text, choices) => {
			const { choices: known } = evidenceOf(readText(text, choices), table.known, String);
			return readText(text, withEvidence(known, choices));
		});
		return { outcome, how: table.how };
	});
	expect(outcomes.filter(({ outcome }) => outcome !== 'exactly')).toEqual([]);
});
