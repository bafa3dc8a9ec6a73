import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { METHODS } from './registry';

test('each method has its heading in the documentation', () => {
	const headings = readFileSync('docs/methods.md', 'utf8')
		.split('\n')
		.filter((line) => line.startsWith('### '))
		.join('\n');
	expect(METHODS.filter(({ id }) => !headings.includes(`\`${id}\``)).map(({ id }) => id)).toEqual([]);
});
