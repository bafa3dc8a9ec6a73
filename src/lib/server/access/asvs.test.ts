import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';

/** Every test file of the project, by its name. */
const TESTS = new Map(
	['src', 'tests'].flatMap((root) =>
		readdirSync(root, { recursive: true, encoding: 'utf8' })
			.filter((file) => file.endsWith('.test.ts'))
			.map((file) => [file.split('/').at(-1)!, readFileSync(join(root, file), 'utf8')] as const),
	),
);

test('what docs/access.md calls met of the standard names a test that is there', () => {
	const table = readFileSync('docs/access.md', 'utf8').split(/<!-- (?:end of )?asvs -->/)[1]!;
	const rows = table
		.split('\n')
		.filter((line) => line.startsWith('|') && !line.startsWith('|---'))
		.slice(1)
		.map((line) => line.split('|').map((cell) => cell.trim()));
	expect(rows.length).toBeGreaterThan(60);
	for (const [, , requirements, state, why] of rows) {
		expect(['met', 'not met', 'not tested', 'not applicable']).toContain(state);
		expect([requirements, why!.length > 5]).toEqual([requirements, true]);
		if (state !== 'met') continue;
		const [, file, title] = /^`([\w-]+\.test\.ts)`: (.+)$/.exec(why!) ?? [];
		expect([requirements, TESTS.get(file ?? '')?.includes(title!)]).toEqual([requirements, true]);
	}
	// Every chapter is there.
	for (let chapter = 1; chapter <= 14; chapter++)
		expect([chapter, new RegExp(`^\\| ${chapter}(\\.| )`, 'm').test(table)]).toEqual([chapter, true]);
});
