import { expect, test } from 'vitest';
import { decisionOf, fingerprintOf } from './decision';
import { readText } from './read';

const TABLE = 'Month;Chain;Pedal\n2024-01;1;4\n2024-02;2;5\n2024-03;;6';

test('a decision says how a table was read, in full', () => {
	const choices = { duplicates: 'mean' as const };
	expect(decisionOf(readText(TABLE, choices), choices)).toMatchObject({
		choices,
		kind: 'text',
		delimiter: ';',
		decimal: '.',
		columns: ['period', 'figure', 'figure'],
		headings: { 0: 'item' },
		frequency: 'month',
		seasonLength: 12,
		spelling: 'months',
		doubts: [],
	});
	expect(decisionOf(readText(TABLE), {}).program).toMatch(/^\d+\.\d+\.\d+$/);
});

test('two readings share a fingerprint if and only if they come to the same figures', () => {
	const of = (text: string, choices = {}) => fingerprintOf(readText(text, choices));
	const own = of(TABLE);
	expect(own).toMatch(/^[0-9a-f]{16}$/);
	// However it is written, what it says is the same.
	expect(of('month\tChain\tPedal\nJan 2024\t1\t4\nFeb 2024\t2\t5\nMar 2024\t\t6')).toBe(own);
	const others = [
		TABLE.replace('1;4', '1;4.5'),
		TABLE.replace('Chain', 'Chains'),
		TABLE.replace('2024-03;;6', '2024-03;0;6'),
		TABLE.replaceAll('2024-', '2023-'),
		'Item;2024-01;2024-02;2024-03\nPedal;4;5;6\nChain;1;2;',
	];
	expect(new Set([own, ...others.map((text) => of(text))]).size).toBe(others.length + 1);
});
