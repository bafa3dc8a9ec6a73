import pg from 'pg';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { asTester, makeDatabase, type TestDatabase } from '../support/database';

let database: TestDatabase;
let workspace: number;
let other: number;
let item: number;
let change: number;
let forecast: number;
let tester: number;

const one = async (sql: string, values: unknown[] = []) =>
	Number((await database.client.query(sql, values)).rows[0].id);

beforeAll(async () => {
	database = await makeDatabase();
	workspace = await one(`INSERT INTO workspace (name) VALUES ('ours') RETURNING id`);
	other = await one(`INSERT INTO workspace (name) VALUES ('theirs') RETURNING id`);
	tester = await asTester(database.client, workspace);
	item = await one(
		`INSERT INTO item (workspace_id, code, name, frequency, season_length)
		VALUES ($1, '70-214', 'Rear rack', 'month', 12) RETURNING id`,
		[workspace],
	);
	const text = await one(
		`INSERT INTO raw_text (workspace_id, sha256) VALUES ($1, sha256('a')) RETURNING id`,
		[workspace],
	);
	await database.client.query(
		`INSERT INTO raw_piece (workspace_id, raw_text_id, position, content) VALUES ($1, $2, 0, 'a')`,
		[workspace, text],
	);
	change = await one(`INSERT INTO data_change (workspace_id, raw_text_id) VALUES ($1, $2) RETURNING id`, [
		workspace,
		text,
	]);
	await database.client.query(
		`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
		VALUES ($1, $2, 24264, 1, 412, $3), ($1, $2, 24265, 1, NULL, $3)`,
		[workspace, item, change],
	);
	await database.client.query('BEGIN');
	forecast = await one(
		`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, measures, origin, program_version, step_count)
		VALUES ($1, $2, $3, sha256('x'), '{}', 'naive', 'Naive', '{}', '{}', 24265, '0', 1) RETURNING id`,
		[workspace, item, change],
	);
	await database.client.query(
		`INSERT INTO adopted_step (workspace_id, adopted_forecast_id, step, period, mean, final, ranges)
		VALUES ($1, $2, 1, 24266, 412, 412, '{}')`,
		[workspace, forecast],
	);
	await database.client.query('COMMIT');
});
afterAll(() => database.drop());
beforeEach(() => database.client.query('ROLLBACK'));

const ACTUAL = 'INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id) VALUES';
const STEP =
	'INSERT INTO adopted_step (workspace_id, adopted_forecast_id, step, period, mean, final, ranges) VALUES';

/** A layer of the item; the parts are SQL. */
const layerEntry = (values: string) =>
	`INSERT INTO layer_entry (workspace_id, item_id, kind, period, layer, setting)
	SELECT ${workspace}, ${item}, kind, period, layer, setting::jsonb FROM (VALUES (${values})) AS made (kind, period, layer, setting)`;

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
	['change a layer', () => 'UPDATE layer_entry SET setting = NULL', /taken away by a further entry/],
	['delete a layer', () => 'DELETE FROM layer_entry', /taken away by a further entry/],
	[
		'a layer of no known kind',
		() => layerEntry(`'wish', NULL::integer, NULL, 'true'`),
		/layer_entry_kind_check/,
	],
	[
		'a correction without its period',
		() => layerEntry(`'correction', NULL::integer, NULL, '5'`),
		/layer_entry_check/,
	],
	[
		'a correction that is no figure',
		() => layerEntry(`'correction', 24264, NULL, '{"over": 4}'`),
		/layer_entry_check/,
	],
	[
		'a gap rule that is none',
		() => layerEntry(`'gap-rule', NULL::integer, NULL, '"guess"'`),
		/layer_entry_check/,
	],
	['an event without words', () => layerEntry(`'event', 24264, NULL, '""'`), /layer_entry_check/],
	[
		'switch off what is no layer',
		() => layerEntry(`'off', NULL::integer, NULL, 'true'`),
		/layer_entry_check/,
	],
	['delete a raw text', () => 'DELETE FROM raw_text', /kept as they came/],
	['rewrite who changed what', () => `UPDATE data_change SET created_by = created_by`, /stays on record/],
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
		() => `${STEP} (${workspace}, ${forecast}, 2, 24267, 5, 5, '{}')`,
		/earlier transaction/,
	],
	[
		'adopt for another workspace’s item',
		() => `${STEP} (${other}, ${forecast}, 2, 24267, 5, 5, '{}')`,
		/violates foreign key/,
	],
	[
		'change a figure without a reason',
		() => `WITH again AS (
				INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
					constants, measures, origin, program_version, step_count)
				SELECT workspace_id, item_id, data_change_id, series_sha256, request, method, label,
					constants, measures, origin, program_version, 1
				FROM adopted_forecast RETURNING workspace_id, id
			)
			INSERT INTO adopted_step SELECT workspace_id, id, 1, 24266, 5, '{}', 6, NULL, 6 FROM again`,
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
			`INSERT INTO item (workspace_id, code, name, frequency, season_length) VALUES (${workspace}, '70-214', 'x', 'month', 12)`,
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

/** A record that says so many steps, with those that are given. */
const record = async (says: number, steps: readonly number[]) => {
	await database.client.query('BEGIN');
	const id = await one(
		`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, measures, origin, program_version, step_count)
		SELECT workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, measures, origin, program_version, $2
		FROM adopted_forecast WHERE id = $1 RETURNING id`,
		[forecast, says],
	);
	for (const step of steps)
		await database.client.query(`${STEP} ($1, $2, $3, 24265 + $3, 5, 5, '{}')`, [workspace, id, step]);
	await database.client.query('COMMIT');
};

test.each<[number, number[]]>([
	[3, [1, 2]],
	[3, []],
	[2, [1, 2, 3]],
	[2, [1, 3]],
])('a record that says %i steps and has %j is refused', async (says, steps) => {
	await expect(record(says, steps)).rejects.toThrow(/refused: it says \d steps and has \d/);
});

test('a record whose steps are as many as it says is kept; one of none is not', async () => {
	await record(3, [1, 2, 3]);
	await expect(record(0, [])).rejects.toThrow(/adopted_forecast_has_steps/);
});

/** A record of one step as it is tried in plain SQL; further columns and their values beside. */
async function tried(record: Record<string, string>, step: Record<string, string>): Promise<void> {
	const columns = (of: Record<string, string>) =>
		Object.keys(of)
			.map((key) => `, ${key}`)
			.join('');
	const values = (of: Record<string, string>) =>
		Object.values(of)
			.map((value) => `, ${value}`)
			.join('');
	await database.client.query('BEGIN');
	const id = await one(
		`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, measures, origin, program_version, step_count${columns(record)})
		SELECT workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, measures, origin, program_version, 1${values(record)}
		FROM adopted_forecast WHERE id = $1 RETURNING id`,
		[forecast],
	);
	const all = { step: '1', period: '24266', mean: '5', final: '5', ranges: `'{}'`, ...step };
	await database.client.query(
		`INSERT INTO adopted_step (workspace_id, adopted_forecast_id${columns(all)}) VALUES ($1, $2${values(all)})`,
		[workspace, id],
	);
	await database.client.query('COMMIT');
}

test.each<[string, Record<string, string>, Record<string, string>, RegExp]>([
	['a final figure that nothing explains', {}, { final: '6' }, /nothing says why the final figure of step 1/],
	['a step without a final figure', {}, { final: 'NULL' }, /null value in column "final"/],
	['a change without a reason', {}, { changed_to: '6', final: '6' }, /check constraint/],
	['a rate that changes nothing', {}, { change_rate: '1.1' }, /check constraint/],
	['a final figure without an end', {}, { final: `'Infinity'` }, /final_check/],
	['a step that does not follow its origin', {}, { period: '24267' }, /step 1 is not so many periods after/],
	[
		'rounding in a way that is none',
		{ rounding: `'{"pack": 5, "way": "down", "floor": null}'` },
		{},
		/rounding/,
	],
	['rounding without a way', { rounding: `'{"pack": 5, "floor": null}'` }, {}, /rounding/],
	['carried on from a record that is none', { carried_from: '0' }, {}, /foreign key|carried_from/],
	['carried on from a later one', { carried_from: '999999' }, {}, /carried_from_check|check constraint/],
	['adopted in the future', { adopted_at: `now() + interval '1 day'` }, {}, /in the future, or before/],
	['adopted before the one before', { adopted_at: `'2001-01-01'` }, {}, /in the future, or before/],
])('a record is refused: %s', async (_, record, step, words) => {
	// A record of another item, for who would carry it on here.
	await expect(tried(record, step)).rejects.toThrow(words);
});

test('a record that says why its final figure is another one is kept', async () => {
	const rounding = { rounding: `'{"pack": 5, "way": "up", "floor": null}'` };
	await tried({ ...rounding, carried_from: String(forecast) }, { final: '10' });
	await tried({}, { changed_to: '6', change_reason: `'a promotion'`, change_rate: '1.2', final: '6' });
});

test('a record is not carried on for another item', async () => {
	const { rows } = await database.client.query(
		`INSERT INTO item (workspace_id, code, name, frequency, season_length)
		VALUES ($1, '70-999', 'Front rack', 'month', 12) RETURNING id`,
		[workspace],
	);
	await expect(
		database.client.query(
			`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
				constants, measures, origin, program_version, step_count, carried_from)
			SELECT workspace_id, $2, data_change_id, series_sha256, request, method, label,
				constants, measures, origin, program_version, 1, id
			FROM adopted_forecast WHERE id = $1`,
			[forecast, rows[0].id],
		),
	).rejects.toThrow(/foreign key/);
});

test('what an item was called is written down whoever changes it, and stays', async () => {
	await database.client.query(`UPDATE item SET code = '70-215', name = 'Rear rack, steel' WHERE id = $1`, [
		item,
	]);
	await database.client.query(`UPDATE item SET retired_at = now() WHERE id = $1`, [item]);
	await database.client.query(
		`UPDATE item SET retired_at = NULL, code = '70-214', name = 'Rear rack' WHERE id = $1`,
		[item],
	);
	const { rows } = await database.client.query(
		'SELECT kind, code, name, created_by FROM item_change WHERE item_id = $1 ORDER BY id',
		[item],
	);
	expect(rows.map(({ kind, code, name }) => [kind, code, name])).toEqual([
		['renamed', '70-214', 'Rear rack'],
		['retired', '70-215', 'Rear rack, steel'],
		['renamed', '70-215', 'Rear rack, steel'],
		['returned', '70-214', 'Rear rack'],
	]);
	expect(rows.map(({ created_by }) => Number(created_by))).toEqual(rows.map(() => tester));
	await expect(database.client.query('DELETE FROM item_change')).rejects.toThrow(/stays on record/);
	await expect(database.client.query(`UPDATE item_change SET code = 'x'`)).rejects.toThrow(/stays on record/);
});

describe('the application’s own role', () => {
	let client: pg.Client;
	beforeAll(async () => {
		client = new pg.Client({ connectionString: database.url });
		await client.connect();
	});
	afterAll(() => client.end());

	test('is no superuser and owns nothing', async () => {
		const { rows } = await client.query(
			`SELECT rolsuper, rolcreaterole, rolcreatedb, (SELECT count(*)::integer FROM pg_class WHERE relowner = oid) AS owned
			FROM pg_roles WHERE rolname = current_user`,
		);
		expect(rows).toEqual([{ rolsuper: false, rolcreaterole: false, rolcreatedb: false, owned: 0 }]);
	});

	test.each([
		`UPDATE item SET frequency = 'week'`,
		`UPDATE item SET created_by = created_by`,
		'DELETE FROM item',
		'UPDATE actual SET value = 1',
		'DELETE FROM adopted_step',
		'DELETE FROM hide_entry',
		'UPDATE hide_entry SET period = NULL',
		'TRUNCATE layer_entry',
		'UPDATE adopted_forecast SET reason = reason',
		`INSERT INTO item_change (workspace_id, item_id, kind, code, name, unit) VALUES (1, 1, 'renamed', 'a', 'b', '')`,
		'SELECT * FROM application_login',
		'SELECT * FROM migration',
		'ALTER TABLE actual DISABLE TRIGGER ALL',
		'DROP TRIGGER actual_is_append_only ON actual',
		'CREATE TABLE mine (id integer)',
		`SET session_replication_role = 'replica'`,
		`COPY (SELECT 1) TO PROGRAM 'true'`,
		`SELECT pg_read_file('/etc/passwd')`,
	])('may not: %s', async (sql) => {
		await expect(client.query(sql)).rejects.toThrow(/permission denied|must be (owner|superuser)/);
	});

	test('may rename an item, and the record says who', async () => {
		await client.query('BEGIN');
		await client.query(`SELECT act($1, 'machine', 'anna', '')`, [workspace]);
		await client.query(`UPDATE item SET name = 'Rack' WHERE id = $1`, [item]);
		const { rows } = await client.query(
			'SELECT name, actor_name(created_by) AS by FROM item_change ORDER BY id DESC LIMIT 1',
		);
		await client.query('ROLLBACK');
		expect(rows).toEqual([{ name: 'Rear rack', by: 'anna' }]);
	});
});

test.each([
	[`UPDATE item SET carry = 'perhaps'`, /carry_check/],
	['UPDATE item SET lead_time = 0', /lead_time_check/],
	['UPDATE item SET price = -1', /price_check/],
	[`UPDATE item SET price = 'NaN'`, /price_check/],
	[`UPDATE item SET labels = '[]'`, /labels_check/],
	[`UPDATE item SET labels = '{"Family": 4}'`, /labels_check/],
	[`UPDATE item SET labels = '{"": "Brakes"}'`, /labels_check/],
	[`UPDATE item SET labels = '{"Family": ""}'`, /labels_check/],
	[
		`UPDATE item SET labels = (SELECT jsonb_object_agg(n, 'x') FROM generate_series(1, 21) n)`,
		/labels_check/,
	],
	['UPDATE workspace SET alarm_chance = 0.9', /alarm_chance_check/],
])('how items are planned with and watched is refused: %s', async (sql, words) => {
	await expect(database.client.query(sql)).rejects.toThrow(words);
});

test('how an item was planned with is written down, and who hid it stays', async () => {
	await database.client.query(`UPDATE item SET lead_time = 3, carry = 'keep' WHERE id = $1`, [item]);
	await database.client.query(`UPDATE item SET price = 4.5 WHERE id = $1`, [item]);
	const { rows } = await database.client.query(
		`SELECT plan FROM item_change WHERE item_id = $1 AND kind = 'planned' ORDER BY id`,
		[item],
	);
	expect(rows.map(({ plan }) => plan)).toEqual([
		{ carry: 'search', leadTime: null, price: null },
		{ carry: 'keep', leadTime: 3, price: null },
	]);
	await database.client.query(
		`INSERT INTO hide_entry (workspace_id, item_id, period) VALUES ($1, $2, 24264)`,
		[workspace, item],
	);
	for (const sql of ['UPDATE hide_entry SET period = 0', 'DELETE FROM hide_entry', 'TRUNCATE hide_entry'])
		await expect(database.client.query(sql)).rejects.toThrow(/who saw what and when stays on record/);
});

test('whatever touches an item is said to whoever settles how it stands', async () => {
	const touches = async (sql: string) => {
		await database.client.query('DELETE FROM status_queue');
		await database.client.query(sql, /\$2/.test(sql) ? [workspace, item] : [item]);
		const { rows } = await database.client.query('SELECT item_id FROM status_queue');
		return rows.some(({ item_id }) => Number(item_id) === item);
	};
	expect(await touches(`${ACTUAL} ($1, $2, 24290, 1, 5, ${change})`)).toBe(true);
	expect(await touches(`INSERT INTO hide_entry (workspace_id, item_id) VALUES ($1, $2)`)).toBe(true);
	expect(
		await touches(
			`INSERT INTO layer_entry (workspace_id, item_id, kind, setting) VALUES ($1, $2, 'per-day', 'true')`,
		),
	).toBe(true);
	expect(await touches('UPDATE item SET lead_time = 5 WHERE id = $1')).toBe(true);
	expect(await touches(`UPDATE item SET name = 'Rear rack' WHERE id = $1`)).toBe(false);
	await database.client.query('DELETE FROM status_queue');
	await tried({}, {});
	expect((await database.client.query('SELECT 1 FROM status_queue')).rowCount).toBe(1);
	await database.client.query('UPDATE workspace SET alarm_chance = 0.2 WHERE id = $1', [workspace]);
	expect((await database.client.query('SELECT 1 FROM status_queue')).rowCount).toBeGreaterThan(1);
});
