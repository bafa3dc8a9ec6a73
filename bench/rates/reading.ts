/**
 * Tables of every make, read: how many come out exactly, how many with the right reading among the doubts, how many
 * are refused, and how many are read otherwise without a word: npm run bench -- reading [tables] [first]. Reports are made by another
 * generator, which shares nothing with the reader: names of months are those of `Intl`.
 */
import { readText } from '../../src/lib/reading/read';
import { makeOrders } from '../../tests/made/orders';
import { evidenceOf, withEvidence } from '../../src/lib/reading/evidence';
import { makeKnown, makeReport, REPORT_KINDS } from '../../tests/made/reports';
import { judge, type MadeTable, makeTable, type Outcome } from '../../tests/made/tables';

const [, , , tables = '20000', from = '1'] = process.argv;

/** Reads tables of many seeds and says how they come out. */
function measure<Table extends MadeTable>(
	what: string,
	count: number,
	make: (seed: number) => Table,
	read: (table: Table) => typeof readText = () => readText,
): void {
	const counts: Record<Outcome, number> = { exactly: 0, 'in doubt': 0, asked: 0, silently: 0 };
	let orders = 0;
	const began = performance.now();
	for (let seed = Number(from); seed < Number(from) + count; seed++) {
		const table = make(seed);
		let outcome: Outcome;
		try {
			if (readText(table.text, table.said).doubts.some(({ code }) => code === 'order-lines')) orders++;
			outcome = judge(table, read(table));
		} catch (error) {
			console.log(`seed ${seed} throws ${String(error)}: ${table.how}`);
			throw error;
		}
		counts[outcome]++;
		if (outcome === 'silently' || process.env['SHOW'] === outcome || process.env['SHOW'] === 'all')
			console.log(`${outcome} ${what} of seed ${seed}: ${table.how}`);
	}
	const share = (part: number) => `${((100 * part) / count).toFixed(2)} %`;
	console.log(
		`\n${count} ${what} in ${((performance.now() - began) / 1000).toFixed(1)} s: read exactly ${share(counts.exactly)}, ` +
			`otherwise with the right reading among the doubts ${share(counts['in doubt'])}, refused or asked about ${share(counts.asked)}, ` +
			`read otherwise without a word ${share(counts.silently)}; taken for lines of orders ${share(orders)}`,
	);
}

measure('tables', Number(tables), makeTable);
measure('lists of orders', Math.ceil(Number(tables) / 10), makeOrders);
for (const kind of REPORT_KINDS)
	measure(`reports (${kind})`, Math.ceil(Number(tables) / 8), (seed) => makeReport(kind, seed));
measure(
	'tables of which something is known',
	Math.ceil(Number(tables) / 8),
	makeKnown,
	({ known }) =>
		(text, choices = {}) =>
			readText(text, withEvidence(evidenceOf(readText(text, choices), known, String).choices, choices)),
);
