import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Found } from '../../src/lib/wire/list';
import { type App, startApp } from '../support/app';
import { asTester, makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let app: App;
beforeAll(async () => {
	database = await makeDatabase();
	app = await startApp(database.url);
	await asTester(database.client, 1);
	await database.client.query(
		`INSERT INTO item (workspace_id, code, name, frequency, season_length, labels, retired_at)
		SELECT (SELECT id FROM workspace), code, name, 'month', 12, labels::jsonb, CASE WHEN code = 'C-9' THEN now() END
		FROM (VALUES
			('C-1', 'Chain, 8-speed', '{"Family": "Drivetrain", "Site": "North"}'),
			('C-2', 'Chain guard', '{"Family": "Guards"}'),
			('G-7', 'Tool for C-1 chains', '{}'),
			('C-9', 'Chain, 5-speed', '{"Site": "North"}'),
			('P%1', 'Kettenöl 100_ml', '{}')
		) made (code, name, labels)`,
	);
});
afterAll(async () => {
	await app.stop();
	await database.drop();
});

const find = async (words: string) => {
	const { status, body } = await app.call<Found>('GET', `/find?words=${encodeURIComponent(words)}`);
	expect(status).toBe(200);
	return body.items.map(({ code }) => code);
};

test.each<[string, string[]]>([
	['c-1', ['C-1', 'G-7']],
	['chain', ['C-1', 'C-2', 'C-9', 'G-7']],
	['NORTH chain', ['C-1', 'C-9']],
	['family', []],
	['drive', ['C-1']],
	['%', ['P%1']],
	['_', ['P%1']],
	['KETTENÖL', ['P%1']],
	['  ', []],
	['chain nothing', []],
])('“%s” finds %j', async (words, codes) => {
	const found = await find(words);
	expect(found.toSorted()).toEqual(codes.toSorted());
});

test('a code that begins so comes first, what is retired last; how many there are is said', async () => {
	expect(await find('chain')).toEqual(['C-1', 'C-2', 'G-7', 'C-9']);
	expect(await find('c-1')).toEqual(['C-1', 'G-7']);
	await database.client.query(
		`INSERT INTO item (workspace_id, code, name, frequency, season_length)
		SELECT (SELECT id FROM workspace), 'M-' || n, 'Many', 'month', 12 FROM generate_series(1, 40) n`,
	);
	const { body } = await app.call<Found>('GET', '/find?words=many');
	expect([body.items.length, body.total]).toEqual([9, 40]);
});

test('what is no question is refused with a sentence', async () => {
	const { status, body } = await app.call<{ message: string }>('GET', `/find?words=${'x'.repeat(201)}`);
	expect([status, body.message]).toEqual([422, expect.stringMatching(/200 characters/)]);
});

test('a renamed or relabelled item is found by what it is called now', async () => {
	await database.client.query(
		`UPDATE item SET name = 'Roller', labels = '{"Site": "Quay"}' WHERE code = 'C-2'`,
	);
	expect(await find('guard')).toEqual([]);
	expect(await find('roller quay')).toEqual(['C-2']);
});
