import { BOUNDS } from '$core/bounds';
import type { About, Happened, HappenedAsked, HappenedWindow } from '../../wire/access';
import { pool } from '../database/database';
import { Refusal } from '../refusal';
import type { Caller } from './caller';
import { changing } from '../database/workspaces';

/**
 * What happened, from where each thing is on record: nothing of it is written twice. What one statement did to many items is one row.
 */

interface Source {
	about: About;
	table: string;
	/** Columns of who and when. */
	by: string;
	at: string;
	/** What else is selected, in one row of all that was done at once. */
	kind: string;
	code?: string;
	items?: string;
	sweep?: string;
	whom?: string;
	words?: string;
	/** Which rows, and by what they are one. */
	where?: string;
	together?: string;
	key: string;
}

const ONE_ITEM = '(SELECT code FROM item WHERE item.id = min(t.item_id))';

/** Kinds of what was kept from happening. */
const REFUSALS = `('refused', 'sign-in failed', 'sign-in slowed')`;
const ACCESS_EVENTS = {
	table: 'access_event',
	by: 'done_by',
	at: 'at',
	kind: 't.kind',
	whom: 'actor_name(t.about)',
	words: 't.words',
	key: 't.id::text',
};

const SOURCES: readonly Source[] = [
	{
		about: 'figures',
		table: 'data_change',
		by: 'created_by',
		at: 'created_at',
		kind: `'brought in'`,
		words: `CASE WHEN count(*) > 1 THEN count(*) || ' tables' ELSE coalesce((SELECT file_name FROM raw_text WHERE raw_text.id = min(t.raw_text_id)), '') END`,
		// What group totals come to follows from what came in.
		where: `NOT EXISTS (SELECT FROM actor WHERE actor.id = t.created_by AND kind = 'sum')`,
		together: '()',
		key: 'min(t.id)::text',
	},
	{
		about: 'figures',
		table: 'layer_entry',
		by: 'created_by',
		at: 'created_at',
		kind: 'min(t.kind)',
		code: ONE_ITEM,
		items: 'count(DISTINCT t.item_id)',
		together: 't.kind',
		key: 'min(t.id)::text',
	},
	{
		about: 'forecasts',
		table: 'adopted_forecast',
		by: 'adopted_by',
		at: 'adopted_at',
		kind: `'adopted'`,
		code: '(SELECT code FROM item WHERE item.id = t.item_id)',
		words: `t.label || CASE WHEN t.reason = '' THEN '' ELSE ': ' || t.reason END`,
		where: 't.sweep_id IS NULL',
		key: 't.id::text',
	},
	{
		about: 'forecasts',
		table: 'sweep',
		by: 'created_by',
		at: 'created_at',
		kind: `'sweep: ' || t.kind`,
		items: 't.items',
		sweep: 't.id',
		words: 't.reason',
		key: 't.id::text',
	},
	{
		about: 'forecasts',
		table: 'sweep',
		by: 'stopped_by',
		at: 'stopped_at',
		kind: `'sweep stopped'`,
		items: 't.items',
		sweep: 't.id',
		where: 't.stopped_at IS NOT NULL',
		key: 't.id::text',
	},
	{
		about: 'items',
		table: 'item_change',
		by: 'created_by',
		at: 'created_at',
		kind: 'min(t.kind)',
		code: ONE_ITEM,
		items: 'count(DISTINCT t.item_id)',
		words: 'min(t.reason)',
		together: 't.kind',
		key: 'min(t.id)::text',
	},
	{
		about: 'items',
		table: 'hide_entry',
		by: 'created_by',
		at: 'created_at',
		kind: `CASE WHEN bool_and(t.period IS NULL) THEN 'shown again' ELSE 'hidden' END`,
		code: ONE_ITEM,
		items: 'count(*)',
		words: 'min(t.words)',
		together: 't.period IS NULL',
		key: 'min(t.id)::text',
	},
	{ ...ACCESS_EVENTS, about: 'access', where: `t.kind NOT IN ${REFUSALS}` },
	{ ...ACCESS_EVENTS, about: 'refused', where: `t.kind IN ${REFUSALS}` },
];

/** The newest of one source, before a place. Values: workspace, who, when, key, how many. */
function selectOf(source: Source, place: number): string {
	const { about, table, by, at, kind, where = 'true', together, key } = source;
	const {
		code = 'NULL::text',
		items = '1',
		sweep = 'NULL::bigint',
		whom = 'NULL::text',
		words = `''`,
	} = source;
	const group = together === undefined ? '' : `GROUP BY t.${at}, t.${by}, ${together}`;
	return `(SELECT * FROM (
		SELECT '${about}' AS about, ${kind} AS kind, t.${at} AS at, t.${by} AS by, ${code} AS code, ${items} AS items, ${sweep} AS sweep,
			${whom} AS whom, ${words} AS words, '${place}:' || ${key} AS key
		FROM ${table} t WHERE t.workspace_id = $1 AND ($2::bigint IS NULL OR t.${by} = $2) AND t.${at} <= $3 AND ${where} ${group}
	) rows WHERE (at, key) < ($3, $4) ORDER BY at DESC, key DESC LIMIT $5)`;
}

/** Who did something, to ask for. */
async function loadActors(workspaceId: number): Promise<HappenedWindow['actors']> {
	const { rows } = await pool().query<{ id: number; name: string }>(
		`SELECT id, actor_name(id) AS name FROM actor WHERE workspace_id = $1 AND kind <> 'sum' ORDER BY ended_at IS NOT NULL, lower(name) LIMIT 500`,
		[workspaceId],
	);
	return rows;
}

/**
 * What happened, the newest first. Sign-ins, changes of access and what was refused are for who manages.
 * @throws Refusal 403 where they are asked for by somebody who does not
 */
export async function loadHappened(
	{ role, actor: { workspaceId } }: Caller,
	asked: HappenedAsked,
): Promise<HappenedWindow> {
	const open = role === 'manage';
	if (!open && (asked.about === 'access' || asked.about === 'refused'))
		throw new Refusal(403, 'Sign-ins and what was refused are shown to those who manage.');
	const sources = SOURCES.map((source, place) => ({ source, place })).filter(
		({ source }) =>
			(asked.about === null || source.about === asked.about) &&
			(open || !['access', 'refused'].includes(source.about)),
	);
	const [at, key] = asked.from?.split('~') ?? ['infinity', ''];
	const { rows } = await pool().query<Happened & { key: string }>(
		`SELECT about, kind, to_json(at) #>> '{}' AS at, actor_name(by) AS by, code, items::integer AS items, sweep, whom, words, key
		FROM (${sources.map(({ source, place }) => selectOf(source, place)).join(' UNION ALL ')}) happened
		ORDER BY happened.at DESC, key DESC LIMIT $5`,
		[workspaceId, asked.by, at, key, BOUNDS.happened + 1],
	);
	const events = rows.slice(0, BOUNDS.happened);
	const last = events.at(-1);
	return {
		events: events.map(({ about, kind, at, by, code, items, sweep, whom, words }) => ({
			about,
			kind,
			at,
			by,
			code,
			items,
			sweep,
			whom,
			words,
		})),
		next: rows.length > events.length && last ? `${last.at}~${last.key}` : null,
		actors: await loadActors(workspaceId),
	};
}

/** Refusals of one caller that are put on record within a minute: whoever tries everything is told by the first ones. */
const MOST_A_MINUTE = 20;
const refused = new Map<string, number[]>();

/** Puts on record that a caller was refused something. */
export async function recordRefusal({ actor, turn }: Caller, what: string): Promise<void> {
	const now = Date.now();
	const lately = (refused.get(turn) ?? []).filter((at) => at > now - 60_000);
	if (lately.length >= MOST_A_MINUTE) return;
	if (refused.size > 1_000) refused.clear();
	refused.set(turn, [...lately, now]);
	await changing(actor, (client) =>
		client.query(
			`INSERT INTO access_event (workspace_id, kind, done_by, words) VALUES ($1, 'refused', (SELECT actor FROM acting()), $2)`,
			[actor.workspaceId, what.slice(0, 500)],
		),
	);
}
