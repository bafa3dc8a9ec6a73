/**
 * Tables of every make, read: how many come out exactly, how many with the right reading among the doubts, how many
 * are refused, and how many are read otherwise without a word: npm run bench -- reading [tables] [first].
 */
import { readText } from '../src/lib/reading/read';
import { judge, makeTable, type Outcome } from '../tests/support/tables';

const [, , , tables = '20000', from = '1'] = process.argv;
const counts: Record<Outcome, number> = { exactly: 0, 'in doubt': 0, asked: 0, silently: 0 };
const began = performance.now();
for (let seed = Number(from); seed < Number(from) + Number(tables); seed++) {
	const table = makeTable(seed);
	let outcome: Outcome;
	try {
		outcome = judge(table, readText);
	} catch (error) {
		console.log(`seed ${seed} throws ${String(error)}: ${table.how}`);
		throw error;
	}
	counts[outcome]++;
	if (outcome === 'silently' || process.env['SHOW'] === outcome || process.env['SHOW'] === 'all')
		console.log(`${outcome} seed ${seed}: ${table.how}`);
}
const share = (count: number) => `${((100 * count) / Number(tables)).toFixed(2)} %`;
console.log(
	`\n${tables} tables in ${((performance.now() - began) / 1000).toFixed(1)} s: read exactly ${share(counts.exactly)}, ` +
		`otherwise with the right reading among the doubts ${share(counts['in doubt'])}, refused or asked about ${share(counts.asked)}, ` +
		`read otherwise without a word ${share(counts.silently)}`,
);
