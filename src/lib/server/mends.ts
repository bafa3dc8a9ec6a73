import { BOUNDS, written } from '$core/bounds';
import { type Layers, NO_LAYERS } from '$core/series/layers';
import type { ItemLayers, Mend, RecordedMend } from '../shapes';
import { loadSeries } from './actuals';
import { pool, type Queryable, transaction } from './database';
import { noItem, Refusal } from './refusal';
import type { Actor } from './workspaces';

const HISTORY = 100;

interface MendRow {
	id: number;
	kind: Mend['kind'];
	period: number | null;
	layer: Layers['off'][number] | null;
	setting: unknown;
}

/** The layers of an item, as they stood after an entry of the log (or now). */
export async function loadLayers(
	workspaceId: number,
	itemId: number,
	upTo: number | null = null,
	database: Queryable = pool(),
): Promise<{ layers: Layers; newest: number }> {
	const { rows } = await database.query<MendRow>(
		`SELECT DISTINCT ON (kind, layer, period) id, kind, period, layer, setting
		FROM mend
		WHERE workspace_id = $1 AND item_id = $2 AND ($3::bigint IS NULL OR id <= $3)
		ORDER BY kind, layer, period, id DESC`,
		[workspaceId, itemId, upTo],
	);
	return { layers: layersOf(rows), newest: rows.reduce((newest, { id }) => Math.max(newest, id), 0) };
}

function layersOf(rows: readonly MendRow[]): Layers {
	const of = (kind: Mend['kind']) => rows.filter((row) => row.kind === kind && row.setting !== null);
	const byPeriod = <T>(kind: Mend['kind']) =>
		Object.fromEntries(of(kind).map(({ period, setting }) => [period, setting as T]));
	return {
		corrections: byPeriod('correction'),
		gaps: byPeriod('gap'),
		leftOut: of('left-out').map(({ period }) => period!),
		events: byPeriod('event'),
		gapRule: (of('gap-rule')[0]?.setting as Layers['gapRule'] | undefined) ?? NO_LAYERS.gapRule,
		perDay: of('per-day').length > 0,
		seasonLength: (of('season-length')[0]?.setting as number | undefined) ?? null,
		off: of('off').map(({ layer }) => layer!),
	};
}

/** The layers of an item with their newest entries, who made them and when. */
export async function loadItemLayers(workspaceId: number, itemId: number): Promise<ItemLayers> {
	const [now, { rows }] = await Promise.all([
		loadLayers(workspaceId, itemId),
		pool().query<MendRow & { created_at: Date; created_by: string }>(
			`SELECT id, kind, period, layer, setting, created_at, created_by FROM mend
			WHERE workspace_id = $1 AND item_id = $2
			ORDER BY id DESC LIMIT ${HISTORY}`,
			[workspaceId, itemId],
		),
	]);
	const history = rows.map(({ id, kind, period, layer, setting, created_at, created_by }) => ({
		id,
		kind,
		...(period !== null && { period }),
		...(layer !== null && { layer }),
		setting,
		at: created_at.toISOString(),
		by: created_by,
	})) as RecordedMend[];
	return { ...now, history };
}

/**
 * Puts entries on the record of an item's layers.
 * @returns the layers as they are now
 * @throws Refusal where a correction would stretch the series beyond what an item holds
 */
export async function addMends(actor: Actor, code: string, entries: readonly Mend[]): Promise<ItemLayers> {
	const { workspaceId, name: by } = actor;
	const itemId = await transaction(async (client) => {
		const { rows } = await client.query<{ id: number }>(
			'SELECT id FROM item WHERE workspace_id = $1 AND code = $2 FOR UPDATE',
			[workspaceId, code],
		);
		const item = rows[0];
		if (!item) throw noItem(code);
		const { first, values } = await loadSeries(workspaceId, item.id, null, client);
		for (const [i, entry] of entries.entries()) {
			if (entry.kind !== 'correction' || entry.setting === null) continue;
			const span = Math.max(first + values.length - 1, entry.period) - Math.min(first, entry.period) + 1;
			if (span <= BOUNDS.periods) continue;
			const message = `A figure there would stretch the series over ${span.toLocaleString('en')} periods; an item holds at most ${written(BOUNDS.periods)}`;
			throw new Refusal(422, `${message}.`, [{ path: `entries.${i}.period`, message }]);
		}
		await client.query(
			`INSERT INTO mend (workspace_id, item_id, kind, period, layer, setting, created_by)
			SELECT $1, $2, kind, period, layer, setting::jsonb, $3
			FROM unnest($4::text[], $5::integer[], $6::text[], $7::text[]) WITH ORDINALITY AS entry (kind, period, layer, setting, position)
			ORDER BY position`,
			[
				workspaceId,
				item.id,
				by,
				entries.map(({ kind }) => kind),
				entries.map((entry) => ('period' in entry ? entry.period : null)),
				entries.map((entry) => ('layer' in entry ? entry.layer : null)),
				entries.map(({ setting }) => (setting === null ? null : JSON.stringify(setting))),
			],
		);
		return item.id;
	});
	return loadItemLayers(workspaceId, itemId);
}
