// Everything as one archive of CSV and JSON that any program reads. Passwords, keys and what is derived stay out.
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** Tables in the order that they rest on each other, with what each has. @type {Readonly<Record<string, string>>} */
const TABLES = {
	workspace: 'the workspace and what is set in it',
	actor: 'who did something: people, tokens, this machine, the demo; without passwords and keys',
	access_event: 'sign-ins, changes of access, refusals',
	item: 'items: code, name, unit, frequency, season, plan, labels; who made them; when they were retired',
	item_change: 'what items were called, planned with and labelled before, by whom and why',
	raw_text: 'tables as they were brought in: name and digest',
	raw_piece: 'their bytes, in pieces of a megabyte, as hexadecimal digits',
	data_change: 'what came in together: by whom, from which text, read with which choices',
	actual: 'figures by item, period (an ordinal), and revision; the highest revision holds',
	layer_entry: 'the log of adjustments: corrections, gap rules, what is left out',
	candidate: 'line-ups',
	sweep: 'what was done to many items',
	adopted_forecast: 'adopted forecasts: what each saw, asked for and found',
	adopted_step: 'their figures, computed and final, with ranges and reasons',
	hide_entry: 'what was hidden until its next actual',
	sweep_batch: 'parts of sweeps',
	sweep_row: 'what came of each item of a sweep',
	kept_view: 'saved views of the list',
};

/** The day that a period begins on, an hour with its time; null for a step. */
const BEGINS = `CASE frequency
	WHEN 'year' THEN lpad(period::text, 4, '0') || '-01-01'
	WHEN 'half-year' THEN lpad((period / 2)::text, 4, '0') || CASE period % 2 WHEN 0 THEN '-01-01' ELSE '-07-01' END
	WHEN 'quarter' THEN lpad((period / 4)::text, 4, '0') || (ARRAY['-01-01', '-04-01', '-07-01', '-10-01'])[period % 4 + 1]
	WHEN 'month' THEN lpad((period / 12)::text, 4, '0') || '-' || lpad((period % 12 + 1)::text, 2, '0') || '-01'
	WHEN 'week' THEN to_char(date '1969-12-29' + 7 * period, 'YYYY-MM-DD')
	WHEN 'weekday' THEN to_char(date '1969-12-29' + 7 * floor(period / 5.0)::integer + mod(mod(period, 5) + 5, 5), 'YYYY-MM-DD')
	WHEN 'day' THEN to_char(date '1970-01-01' + period, 'YYYY-MM-DD')
	WHEN 'hour' THEN to_char(timestamp '1970-01-01' + period * interval '1 hour', 'YYYY-MM-DD HH24:MI')
END AS begins`;

/** What is there to read without our program, by its file. @type {Readonly<Record<string, { has: string, sql: string }>>} */
const FIGURES = {
	'figures.csv': {
		has: 'the figures that hold: item, period, figure',
		sql: `SELECT code, name, unit, frequency, period, ${BEGINS}, value FROM item CROSS JOIN LATERAL latest_actual(item.workspace_id, item.id) ORDER BY code, period`,
	},
	'forecasts.csv': {
		has: 'the forecast in force of each item: item, method, period, computed and final figure, by whom, when, why',
		sql: `SELECT code, name, unit, frequency, newest.label AS method, step.period, ${BEGINS}, mean AS computed, final, change_reason, actor_name(newest.adopted_by) AS by, newest.adopted_at AS at, newest.reason
			FROM item CROSS JOIN LATERAL newest_record(item.workspace_id, item.id) newest
			JOIN adopted_step step ON step.workspace_id = newest.workspace_id AND step.adopted_forecast_id = newest.id ORDER BY code, step.period`,
	},
};

/**
 * @typedef {object} Described
 * @property {string} version
 * @property {string} at
 * @property {number} items
 * @property {string[]} migrations that the database had
 * @property {Record<string, string[]>} tables columns of each table
 */

/** @param {Described} described */
const readme = ({ version, at, items }) =>
	[
		'# Everything of a Ventrel',
		'',
		`${items} items with all that was done, as of ${at}, of version ${version}.`,
		'',
		'To read it elsewhere: CSV with a head, comma, UTF-8, and JSON within cells.',
		'',
		...Object.entries(FIGURES).map(([file, { has }]) => `- \`${file}\`: ${has}`),
		'- `tables/`: everything, table by table, so that nothing is lost:',
		...Object.entries(TABLES).map(([table, has]) => `  - \`${table}.csv\`: ${has}`),
		'',
		'Periods are numbers. Years, half-years, quarters and months count from the year 0 (month 24322 is Nov 2026); weeks, and weekdays five to a week, from Monday, 29 December 1969; days and hours from 1 January 1970; steps are as they were written. `begins` in the files above says the day, of an hour the time too.',
		'',
		'To bring it back: `npm run restore FILE.zip` into an empty database. People are there by name; each needs a new link (`npm run person -- link NAME`), since passwords and keys are not in here.',
		'',
	].join('\n');

/**
 * Columns of a table that are kept: all but those that the database makes of others.
 * @param {import('pg').ClientBase} client
 * @param {string} table
 * @returns {Promise<string[]>}
 */
async function columnsOf(client, table) {
	const { rows } = await client.query(
		`SELECT column_name AS name FROM information_schema.columns
		WHERE table_schema = 'public' AND table_name = $1 AND is_generated = 'NEVER' ORDER BY ordinal_position`,
		[table],
	);
	return rows.map(({ name }) => name);
}

/**
 * Writes everything, as the transaction of a connection sees it. What cannot be sent on yet is not read.
 * @param {import('pg').ClientBase} client
 * @param {string} version of the program
 * @param {import('node:stream').Writable} out
 * @returns {Promise<{ items: number, bytes: number }>}
 */
export async function writeEverythingTo(client, version, out) {
	// Here alone: commands begin before packages are installed.
	const [{ ZipFile }, { to: copyTo }] = await Promise.all([import('yazl'), import('pg-copy-streams')]);
	const { rows: done } = await client.query('SELECT migrations_run() AS name');
	const { rows: counted } = await client.query('SELECT count(*)::integer AS items FROM item');
	/** @type {Described} */
	const described = {
		version,
		at: new Date().toISOString(),
		items: counted[0].items,
		migrations: done.map(({ name }) => name),
		tables: {},
	};
	for (const table of Object.keys(TABLES)) described.tables[table] = await columnsOf(client, table);
	const zip = new ZipFile();
	zip.addBuffer(Buffer.from(JSON.stringify(described, null, '\t')), 'description.json');
	zip.addBuffer(Buffer.from(readme(described)), 'README.md');
	let bytes = 0;
	const counting = new Transform({
		transform(part, _, pass) {
			bytes += part.length;
			pass(null, part);
		},
	});
	const fail = (/** @type {Error} */ error) => counting.destroy(error);
	zip.on('error', fail);
	/** @param {string} name @param {string} sql */
	const add = (name, sql) =>
		zip.addReadStreamLazy(name, (take) => {
			const rows = client.query(copyTo(`COPY (${sql}) TO STDOUT (FORMAT csv, HEADER)`));
			// Also one that breaks when nobody reads any more.
			rows.on('error', fail);
			take(null, rows);
		});
	for (const [name, { sql }] of Object.entries(FIGURES)) add(name, sql);
	for (const [table, columns] of Object.entries(described.tables))
		add(`tables/${table}.csv`, `SELECT ${columns.join(', ')} FROM ${table} ORDER BY 1, 2`);
	zip.end();
	await pipeline(Readable.from(zip.outputStream), counting, out);
	return { items: described.items, bytes };
}
