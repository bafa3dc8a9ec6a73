import type { ClientBase } from 'pg';
import { to as copyTo } from 'pg-copy-streams';
import { copyIn } from '../bring-in/staging';

/**
 * A workspace as text: for each table a line of its name and columns, rows as COPY writes them, and a line of `\.`. Ids count from 1
 * and name each other; who the workspace is when a row was made and by whom is left out.
 */

/** Tables in the order that they rest on each other, what is written of them, and how their rows are ordered. */
const TABLES = {
	item: 'id, code, name, unit, frequency, season_length, line_up_version, carry, lead_time, price, labels',
	raw_text: 'id, file_name, sha256',
	raw_piece: 'raw_text_id, position, content',
	data_change: 'id, raw_text_id, reading',
	actual: 'item_id, period, revision, value, data_change_id',
	candidate: 'item_id, id, position, settings, shown',
	adopted_forecast:
		'id, item_id, data_change_id, series_sha256, request, method, label, constants, start, measures, origin, reason, program_version, adopted_at, step_count, carried_from, rounding, together, asked, held',
	adopted_step:
		'adopted_forecast_id, step, period, mean, ranges, changed_to, change_reason, final, change_rate, spread, naive, seasonal_naive',
	hide_entry: 'item_id, period, words',
} as const;
type Table = keyof typeof TABLES;

const columnsOf = (table: Table) => TABLES[table].split(', ');

/** Whose id a column holds, where it holds one. A candidate's own id is a name that its item knows it by. */
function ownerOf(table: Table, column: string): Table | null {
	if (column === 'id') return table === 'candidate' ? null : table;
	if (column === 'carried_from') return 'adopted_forecast';
	const named = column.replace(/_id$/, '');
	return column !== named && named in TABLES ? (named as Table) : null;
}

const END = '\\.';
const NOTHING = '\\N';
const MINUTE = 60_000;

/** All of a workspace, as text. */
export async function keptText(client: ClientBase, workspaceId: number): Promise<string> {
	let text = '';
	for (const table of Object.keys(TABLES) as Table[]) {
		const columns = TABLES[table];
		const order = columnsOf(table).slice(0, 3).join(', ');
		const rows = client.query(
			copyTo(
				`COPY (SELECT ${columns} FROM ${table} WHERE workspace_id = ${Number(workspaceId)} ORDER BY ${order}) TO STDOUT`,
			),
		);
		const parts: Buffer[] = [];
		for await (const part of rows) parts.push(part as Buffer);
		text += `${table} (${columns})\n${Buffer.concat(parts).toString()}${END}\n`;
	}
	return text;
}

/**
 * Lays a workspace that was kept as text out in one that has nothing in it.
 * @param client inside a transaction
 */
export async function layOutKept(client: ClientBase, workspaceId: number, text: string): Promise<void> {
	const lines = text.split('\n');
	const ids = new Map<Table, string[]>();
	const latest = Date.now() - MINUTE;
	for (let at = 0; at < lines.length - 1; at++) {
		const head = /^(\w+) \((.*)\)$/.exec(lines[at]!);
		const table = head?.[1] as Table;
		if (!head || head[2] !== TABLES[table])
			throw new Error(
				`Line ${at + 1} of the kept workspace is no table of this version. npm run demo makes it anew.`,
			);
		const end = lines.indexOf(END, at);
		const rows = lines.slice(at + 1, end).map((line) => line.split('\t'));
		at = end;
		const columns = columnsOf(table);
		if (columns[0] === 'id') ids.set(table, await newIds(client, table, rows.length));
		for (const [c, column] of columns.entries()) {
			const owner = ownerOf(table, column);
			const known = owner && ids.get(owner)!;
			for (const row of rows) {
				const value = row[c]!;
				if (known && value !== NOTHING) row[c] = known[Number(value) - 1]!;
				// Nothing was adopted later than now, whatever the calendar of this machine says.
				if (column === 'adopted_at' && Date.parse(value) > latest) row[c] = new Date(latest).toISOString();
			}
		}
		const rowsOfWorkspace = rows.map((row) => `${workspaceId}\t${row.join('\t')}\n`).join('');
		await copyIn(client, `${table} (workspace_id, ${TABLES[table]})`, Buffer.from(rowsOfWorkspace));
	}
}

async function newIds(client: ClientBase, table: Table, count: number): Promise<string[]> {
	const { rows } = await client.query<{ id: string }>(
		`SELECT nextval(pg_get_serial_sequence($1, 'id'))::text AS id FROM generate_series(1, $2)`,
		[table, count],
	);
	return rows.map(({ id }) => id);
}
