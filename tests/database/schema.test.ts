import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let workspace: number;
let other: number;
let item: number;
let change: number;
let forecast: number;

const one = async (sql: string, values: unknown[] = []) =>
	Number((await database.client.query(sql, values)).rows[0].id);

beforeAll(async () => {
	database = await makeDatabase();
	workspace = await one(`INSERT INTO workspace (name) VALUES ('ours') RETURNING id`);
	other = await one(`INSERT INTO workspace (name) VALUES ('theirs') RETURNING id`);
	item = await one(
		`INSERT INTO item (workspace_id, code, name, frequency, season_length, created_by)
		VALUES ($1, '70-214', 'Rear rack', 'month', 12, 'tester') RETURNING id`,
		[workspace],
	);
	const text = await one(
		`INSERT INTO raw_text (workspace_id, sha256, created_by) VALUES ($1, sha256('a'), 'tester') RETURNING id`,
		[workspace],
	);
	await database.client.query(
		`INSERT INTO raw_piece (workspace_id, raw_text_id, position, content) VALUES ($1, $2, 0, 'a')`,
		[workspace, text],
	);
	change = await one(
		`INSERT INTO data_change (workspace_id, raw_text_id, created_by) VALUES ($1, $2, 'tester') RETURNING id`,
		[workspace, text],
	);
	await database.client.query(
		`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
		VALUES ($1, $2, 24264, 1, 412, $3), ($1, $2, 24265, 1, NULL, $3)`,
		[workspace, item, change],
	);
	await database.client.query('BEGIN');
	forecast = await one(
		`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, measures, origin, program_version, adopted_by)
		VALUES ($1, $2, $3, sha256('x'), '{}', 'naive', 'Last actual', '{}', '{}', 24265, '0', 'tester') RETURNING id`,
		[workspace, item, change],
	);
	await database.client.query(
		`INSERT INTO adopted_step (workspace_id, adopted_forecast_id, step, period, mean, ranges)
		VALUES ($1, $2, 1, 24266, 412, '{}')`,
		[workspace, forecast],
	);
	await database.client.query('COMMIT');
});
afterAll(() => database.drop());
beforeEach(() => database.client.query('ROLLBACK'));

const ACTUAL = 'INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id) VALUES';
const STEP =
	'INSERT INTO adopted_step (workspace_id, adopted_forecast_id, step, period, mean, ranges) VALUES';

/** A layer of the item; the parts are SQL. */
const mend = (values: string) =>
	`INSERT INTO mend (workspace_id, item_id, kind, period, layer, setting, created_by)
	SELECT ${workspace}, ${item}, kind, period, layer, setting::jsonb, 'tester' FROM (VALUES (${values})) AS made (kind, period, layer, setting)`;

test.each<[string, () => string, RegExp]>([
	[
		'overwrite an actual',
		() => 'UPDATE actual SET value = 1',
		/never overwritten; a correction is a new revision/,
	],
	['overwrite no row of actuals', () => 'UPDATE actual SET value = 1 WHERE false', /never overwritten/],
	['delete an actual', () => 'DELETE FROM actual', /never overwritten/],
	['empty the actuals', () => 'TRUNCATE actual', /never overwritten/],
	['delete an actual by deleting its item', () => 'DELETE FROM item', /on record/],
	[
		'store a revision twice',
		() => `${ACTUAL} (${workspace}, ${item}, 24264, 1, 5, ${change})`,
		/duplicate key/,
	],
	[
		'leave a revision out',
		() => `${ACTUAL} (${workspace}, ${item}, 24264, 3, 5, ${change})`,
		/no revision 2 to follow/,
	],
	[
		'begin at revision 0',
		() => `${ACTUAL} (${workspace}, ${item}, 24270, 0, 5, ${change})`,
		/revision_check/,
	],
	['store NaN', () => `${ACTUAL} (${workspace}, ${item}, 24270, 1, 'NaN', ${change})`, /value_check/],
	[
		'store Infinity',
		() => `${ACTUAL} (${workspace}, ${item}, 24270, 1, 'Infinity', ${change})`,
		/value_check/,
	],
	[
		'store minus Infinity',
		() => `${ACTUAL} (${workspace}, ${item}, 24270, 1, '-Infinity', ${change})`,
		/value_check/,
	],
	[
		'put an actual into another workspace',
		() => `${ACTUAL} (${other}, ${item}, 24270, 1, 5, ${change})`,
		/there is no item \d+ in its workspace/,
	],
	[
		'put an actual into a change that never was',
		() => `${ACTUAL} (${workspace}, ${item}, 24270, 1, 5, 999999)`,
		/there is no data change 999999 in its workspace/,
	],
	['empty the items', () => 'TRUNCATE item CASCADE', /on record|never overwritten/],
	['change a raw text', () => `UPDATE raw_piece SET content = 'b'`, /kept as they came/],
	['rename a raw text', () => `UPDATE raw_text SET file_name = 'b'`, /kept as they came/],
	['take a piece out of a raw text', () => 'DELETE FROM raw_piece', /kept as they came/],
	['change a layer', () => 'UPDATE mend SET setting = NULL', /taken away by a further entry/],
	['delete a layer', () => 'DELETE FROM mend', /taken away by a further entry/],
	['a layer of no known kind', () => mend(`'wish', NULL::integer, NULL, 'true'`), /mend_kind_check/],
	['a correction without its period', () => mend(`'correction', NULL::integer, NULL, '5'`), /mend_check/],
	['a correction that is no figure', () => mend(`'correction', 24264, NULL, '{"over": 4}'`), /mend_check/],
	['a gap rule that is none', () => mend(`'gap-rule', NULL::integer, NULL, '"guess"'`), /mend_check/],
	['an event without words', () => mend(`'event', 24264, NULL, '""'`), /mend_check/],
	['switch off what is no layer', () => mend(`'off', NULL::integer, NULL, 'true'`), /mend_check/],
	['delete a raw text', () => 'DELETE FROM raw_text', /kept as they came/],
	['rewrite who changed what', () => `UPDATE data_change SET created_by = 'nobody'`, /stays on record/],
	['delete what came in', () => 'DELETE FROM data_change', /stays on record/],
	[
		'alter an adopted forecast',
		() => `UPDATE adopted_forecast SET constants = '{"alpha": 1}'`,
		/is a record/,
	],
	['delete an adopted forecast', () => 'DELETE FROM adopted_forecast', /is a record/],
	['empty the adopted forecasts', () => 'TRUNCATE adopted_forecast CASCADE', /is a record/],
	['alter an adopted figure', () => 'UPDATE adopted_step SET mean = 1', /is a record/],
	['delete an adopted figure', () => 'DELETE FROM adopted_step', /is a record/],
	[
		'add a figure to a forecast afterwards',
		() => `${STEP} (${workspace}, ${forecast}, 2, 24267, 5, '{}')`,
		/earlier transaction/,
	],
	[
		'adopt for another workspace’s item',
		() => `${STEP} (${other}, ${forecast}, 2, 24267, 5, '{}')`,
		/violates foreign key/,
	],
	[
		'change a figure without a reason',
		() => `WITH again AS (
				INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
					constants, measures, origin, program_version, adopted_by)
				SELECT workspace_id, item_id, data_change_id, series_sha256, request, method, label,
					constants, measures, origin, program_version, adopted_by
				FROM adopted_forecast RETURNING workspace_id, id
			)
			INSERT INTO adopted_step SELECT workspace_id, id, 1, 24266, 5, '{}', 6, NULL FROM again`,
		/adopted_step_check/,
	],
	[
		'count an item at another frequency',
		() => `UPDATE item SET frequency = 'week'`,
		/counted at frequency month/,
	],
	['invent a frequency', () => `UPDATE item SET frequency = 'fortnight'`, /refused|check/],
	['give an item no name', () => `UPDATE item SET name = ''`, /name_check/],
	[
		'use a code twice',
		() =>
			`INSERT INTO item (workspace_id, code, name, frequency, season_length, created_by) VALUES (${workspace}, '70-214', 'x', 'month', 12, 't')`,
		/duplicate key/,
	],
])('plain SQL cannot %s', async (_what, sql, message) => {
	await expect(database.client.query(sql())).rejects.toThrow(message);
});

test('a correction is a new revision, and the old one stays', async () => {
	await database.client.query(`${ACTUAL} (${workspace}, ${item}, 24265, 2, 398, ${change})`);
	const { rows } = await database.client.query(
		'SELECT revision, value FROM actual WHERE period = 24265 ORDER BY revision',
	);
	expect(rows).toEqual([
		{ revision: 1, value: null },
		{ revision: 2, value: 398 },
	]);
});

test('one statement may carry several revisions of one period', async () => {
	await database.client.query(
		`${ACTUAL} (${workspace}, ${item}, 24280, 1, 1, ${change}), (${workspace}, ${item}, 24280, 2, 2, ${change})`,
	);
	const { rows } = await database.client.query(
		'SELECT count(*)::integer AS count FROM actual WHERE period = 24280',
	);
	expect(rows[0].count).toBe(2);
});
