import type { Encoding } from '../reading/decode';
import { openBytes } from '../reading/source';
import { type ReadItem, type Reading, readSource } from '../reading/read';
import type { BringIn, BroughtIn, ItemWish, NewItem, StoredSeries } from '../shapes';
import { insertDataChange, spread } from './actuals';
import { pool, transaction } from './database';
import { insertRawText } from './raw-texts';
import { Refusal } from './refusal';
import { makeStaging, type StagedItem, stageFigures, takeStaged } from './staging';
import type { Actor } from './workspaces';

/** A table's bytes, and how its reader in the browser had it read. */
export interface Table {
	content: Buffer;
	fileName: string | null;
}

async function read(content: Buffer, choices: BringIn['choices']): Promise<Reading> {
	const source = await openBytes(content, choices.encoding as Encoding | undefined);
	const reading = readSource(source, choices);
	if (reading.problem) throw new Refusal(422, reading.problem, [{ path: 'text', message: reading.problem }]);
	return reading;
}

/**
 * Reads a table again, as the browser showed it, and keeps what was asked for: the bytes as they came, new items,
 * new periods, corrections as revisions; all or nothing.
 * @returns what became of each item
 * @throws Refusal with the reading's problem, or with what is wrong about an item
 */
export async function bringIn(actor: Actor, table: Table, wish: BringIn): Promise<BroughtIn[]> {
	const reading = await read(table.content, wish.choices);
	return store(actor, table, wish.choices, reading, chosenItems(reading, wish.items));
}

/** Keeps the one series of a text as a new item. @throws Refusal 409 where the code is taken */
export async function bringInNew(actor: Actor, request: NewItem): Promise<{ code: string; periods: number }> {
	const content = Buffer.from(request.text, 'utf8');
	const reading = await read(content, request.choices);
	if (reading.items.length > 1) {
		const message = `This text holds ${reading.items.length} items, and one is made at a time here.`;
		throw new Refusal(422, message, [{ path: 'text', message }]);
	}
	const { code, name, unit } = request;
	const chosen = [{ ...reading.items[0]!, code, name, unit }];
	await store(actor, { content, fileName: request.fileName ?? null }, request.choices, reading, chosen, true);
	return { code, periods: reading.items[0]!.values.length };
}

/** The items that are wanted, with the code, name and unit they are to have. */
function chosenItems(reading: Reading, wishes: readonly ItemWish[]): ReadItem[] {
	const known = new Map(reading.items.map((item) => [item.code, item]));
	const taken = new Set<string>();
	return wishes.map((wish, i) => {
		const item = known.get(wish.from);
		const refuse = (message: string) =>
			new Refusal(422, `${message}. Nothing was stored.`, [{ path: `items.${i}`, message }]);
		if (!item) throw refuse(`The table has no item “${wish.from.slice(0, 80)}”`);
		if (item.problem) throw refuse(`${wish.code}: ${item.problem}`);
		if (taken.has(wish.code)) throw refuse(`Two items are given the code ${wish.code}`);
		taken.add(wish.code);
		return { ...item, code: wish.code, name: wish.name, unit: wish.unit };
	});
}

async function store(
	actor: Actor,
	table: Table,
	choices: object,
	{ frequency, seasonLength }: Reading,
	items: readonly ReadItem[],
	onlyNew = false,
): Promise<BroughtIn[]> {
	const { workspaceId, name: by } = actor;
	return transaction(async (client) => {
		const rawTextId = await insertRawText(client, { workspaceId, ...table, by });
		const dataChangeId = await insertDataChange(client, { workspaceId, rawTextId, reading: choices, by });
		await makeStaging(client);
		const staged = items.map(({ code, name, unit }, number): StagedItem => ({
			number,
			code,
			name,
			unit,
			frequency,
			seasonLength,
		}));
		const figures = { numbers: [] as number[], periods: [] as number[], values: [] as (number | null)[] };
		for (const [number, { first, values }] of items.entries()) {
			for (let i = 0; i < values.length; i++) {
				figures.numbers.push(number);
				figures.periods.push(first + i);
				figures.values.push(values[i]!);
			}
		}
		await stageFigures(client, figures);
		return takeStaged(client, actor, dataChangeId, staged, { onlyNew });
	});
}

/** What is kept of items with these codes, for comparing with a table before it is brought in. */
export async function storedSeries(workspaceId: number, codes: readonly string[]): Promise<StoredSeries[]> {
	const { rows } = await pool().query<{
		code: string;
		name: string;
		unit: string;
		frequency: StoredSeries['frequency'];
		figures: { period: number; value: number | null }[] | null;
	}>(
		`SELECT code, name, unit, frequency, (
			SELECT json_agg(json_build_object('period', period, 'value', value) ORDER BY period)
			FROM (
				SELECT DISTINCT ON (period) period, value FROM actual
				WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id
				ORDER BY period, revision DESC
			) latest
		) AS figures
		FROM item
		WHERE workspace_id = $1 AND code = ANY ($2)`,
		[workspaceId, codes],
	);
	return rows.map(({ figures, ...item }) => ({ ...item, ...spread(figures ?? []) }));
}
