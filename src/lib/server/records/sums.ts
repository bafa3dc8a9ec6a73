import { BOUNDS } from '$core/bounds';
import { type Frequency, periodWord } from '$core/series/frequency';
import { labelName } from '../../wire/asked';
import type { Wanted } from '../../wire/labels';
import type { ItemParts, NewSum } from '../../wire/groups';
import type { Sweep } from '../../wire/sweeps';
import { insertDataChange, loadSeries } from '../items/actuals';
import { type Added, addUp, endedAfter, loadParts, type Part } from '../items/adding-up';
import { Bound, hasLabels } from '../items/asked-sql';
import { type Queryable, snapshot } from '../database/database';
import { findItem, type ItemRecord } from '../items/item-records';
import { loadAdopted } from './records';
import { Refusal } from '../refusal';
import { actAs, type Actor, changing } from '../database/workspaces';

/**
 * Sums: items whose figures are those of other items added up, so that a group is forecast, adopted and watched as one. What is
 * part of one is the view `part`.
 */

/** Codes that are named one by one. */
const NAMED = 5;

type SumItem = Pick<ItemRecord, 'id' | 'season_length'> & { workspace_id: number };

/** What the parts of a sum come to. */
export async function addUpSum(
	client: Queryable,
	{ id, workspace_id, season_length }: SumItem,
): Promise<Added> {
	const { rows } = await client.query<{ item_id: number }>(
		'SELECT item_id FROM part WHERE workspace_id = $1 AND sum_id = $2',
		[workspace_id, id],
	);
	const ids = rows.map(({ item_id }) => item_id);
	return addUp(client, workspace_id, season_length, await loadParts(client, workspace_id, ids));
}

/** Brings the figures of sums up to what their parts come to, under their locks; what differs comes in as a revision. */
export async function renewSums(client: Queryable, sums: readonly SumItem[]): Promise<void> {
	for (const sum of sums) {
		const { first, values } = await addUpSum(client, sum);
		const kept = await loadSeries(sum.workspace_id, sum.id, null, client);
		const at = (series: { first: number; values: readonly (number | null)[] }, period: number) =>
			series.values[period - series.first] ?? null;
		const ends = [kept, { first, values }].filter((series) => series.values.length > 0);
		const from = Math.min(...ends.map((series) => series.first));
		const to = Math.max(...ends.map((series) => series.first + series.values.length - 1));
		const periods: number[] = [];
		for (let period = from; period <= to; period++)
			if (at(kept, period) !== at({ first, values }, period)) periods.push(period);
		if (periods.length === 0) continue;
		await actAs(client, { workspaceId: sum.workspace_id, way: 'sum', proof: '' });
		const change = await insertDataChange(client, {
			workspaceId: sum.workspace_id,
			rawTextId: null,
			reading: {},
		});
		await client.query(
			`INSERT INTO actual (workspace_id, item_id, period, revision, value, data_change_id)
			SELECT $1, $2, period, 1 + coalesce((
				SELECT max(revision) FROM actual WHERE workspace_id = $1 AND item_id = $2 AND actual.period = made.period
			), 0), value, $5
			FROM unnest($3::integer[], $4::double precision[]) AS made (period, value)`,
			[sum.workspace_id, sum.id, periods, periods.map((period) => at({ first, values }, period)), change],
		);
	}
}

/** What a group is called: “Brakes · Quay”. */
const nameOf = (labels: Wanted): string =>
	labels.map(([of, label]) => labelName(of, label)).join(' · ') || 'All items';

/**
 * Makes an item of the items that have some labels, with their figures added up; where there is one already, that one.
 * @returns its code
 * @throws Refusal 422 where they are none, or cannot be added up
 */
export const makeSum = (actor: Actor, { labels }: NewSum): Promise<{ code: string }> =>
	changing(actor, async (client) => {
		const { workspaceId } = actor;
		const bound = new Bound();
		const { rows: kinds } = await client.query<{
			frequency: Frequency;
			unit: string;
			season_length: number;
			items: number;
		}>(
			`SELECT frequency, unit, mode() WITHIN GROUP (ORDER BY season_length) AS season_length, count(*) AS items FROM item
			WHERE workspace_id = ${bound.of(workspaceId)} AND sum_of IS NULL AND retired_at IS NULL
				AND ${hasLabels('item.labels', labels, bound)}
			GROUP BY 1, 2 ORDER BY 4 DESC, 1, 2`,
			bound.values,
		);
		const name = nameOf(labels);
		const [kind] = kinds;
		if (!kind) throw new Refusal(422, `There is no item “${name}” to add up.`);
		if (kinds.length > 1) throw new Refusal(422, mixed(name, kinds));
		const sumOf = { unit: kind.unit, labels: Object.fromEntries(labels) };
		const { rows: there } = await client.query<{ code: string }>(
			'SELECT code FROM item WHERE workspace_id = $1 AND frequency = $2 AND sum_of = $3',
			[workspaceId, kind.frequency, sumOf],
		);
		if (there[0]) return there[0];
		const { rows: made } = await client.query<{ id: number; code: string }>(
			// The first of “Brakes”, “Brakes 2”, … that is free.
			`INSERT INTO item (workspace_id, code, name, unit, frequency, season_length, sum_of)
			SELECT $1, code, 'group total', $3, $4, $5, $6
			FROM generate_series(1, 1000) n
			CROSS JOIN LATERAL (SELECT left($2, ${BOUNDS.code - 5}) || CASE WHEN n > 1 THEN ' ' || n ELSE '' END AS code) named
			WHERE NOT EXISTS (SELECT FROM item other WHERE other.workspace_id = $1 AND other.code = named.code)
			ORDER BY n LIMIT 1
			ON CONFLICT DO NOTHING RETURNING id, code`,
			[workspaceId, name, kind.unit, kind.frequency, kind.season_length, sumOf],
		);
		if (!made[0])
			throw new Refusal(409, `“${name}” was made by somebody else at the same moment. Check it again.`);
		await renewSums(client, [
			{ id: made[0].id, season_length: kind.season_length, workspace_id: workspaceId },
		]);
		return { code: made[0].code };
	});

function mixed(
	name: string,
	kinds: readonly { frequency: Frequency; unit: string; items: number }[],
): string {
	const units = new Set(kinds.map(({ unit }) => unit));
	const said = kinds
		.map(({ frequency, unit, items }) =>
			units.size > 1
				? `${items} in ${unit === '' ? 'no unit' : `“${unit}”`}`
				: `${items} by the ${periodWord(frequency, 1)}`,
		)
		.join(', ');
	return `The items of “${name}” cannot be added up: ${said}. Group items of one unit and one frequency.`;
}

/**
 * What a sum is made of, and what its parts' own forecasts come to together.
 * @throws Refusal 404 where there is no such item, 422 where it is no sum
 */
export const partsOf = (workspaceId: number, code: string): Promise<ItemParts> =>
	snapshot(async (client) => {
		const item = await findSum(client, workspaceId, code);
		const sum = { ...item, workspace_id: workspaceId };
		const { first, values, going, ended, last, missing } = await addUpSum(client, sum);
		const named = (parts: readonly Part[]) => ({
			items: parts.length,
			codes: parts.slice(0, NAMED).map((part) => part.code),
		});
		const end = first + values.length - 1;
		return {
			items: going.length,
			ended: { ...named(ended), after: endedAfter(sum.season_length) },
			last: named(last),
			missing: { periods: missing.length, latest: missing.at(-1) ?? null },
			ahead: await forecastsOf(
				client,
				workspaceId,
				going.map(({ id }) => id),
				end,
			),
		};
	});

/** What a sum's forecast is shared by: for each period its figure, and what the shares are parts of. */
export type Shared = NonNullable<Sweep['settings']['share']>;

/**
 * What a sum's newest record hands over for periods to come, to be shared among the items that go on.
 * @returns ids of these beside it
 * @throws Refusal 404 where there is no such item, 422 where there is nothing to share, or nothing to share it by
 */
export async function toShare(
	client: Queryable,
	workspaceId: number,
	code: string,
	by: Shared['by'],
): Promise<{ share: Shared; ids: number[] }> {
	const item = await findSum(client, workspaceId, code);
	const { first, values, going } = await addUpSum(client, { ...item, workspace_id: workspaceId });
	const ids = going.map(({ id }) => id);
	const end = first + values.length - 1;
	const [adopted] = await loadAdopted(client, workspaceId, item.id, { most: 1 });
	const steps = (adopted?.steps ?? []).filter(({ period }) => period > end);
	if (!adopted || steps.length === 0)
		throw new Refusal(
			422,
			`Nothing is adopted for ${code} that could be shared. Adopt a forecast for it first.`,
		);
	const weights = by === 'forecasts' ? await forecastsOf(client, workspaceId, ids, end) : null;
	const sizes = by === 'cycle' ? await sizesOf(client, workspaceId, ids) : null;
	const allSizes = sizes && [...sizes.values()].reduce((sum, size) => sum + size, 0);
	const periods = steps.flatMap(({ period, final: figure }) => {
		const whole = allSizes ?? weights!.find((each) => each.period === period)?.figure ?? 0;
		return whole > 0 ? [{ period, figure, whole }] : [];
	});
	if (periods.length === 0)
		throw new Refusal(
			422,
			by === 'cycle'
				? 'Its items had no demand in their last cycle to share it by.'
				: 'Its items have no forecasts for these periods to share it by. Adopt some for them, or share by the last cycle.',
		);
	return { share: { by, of: code, record: adopted.id, ahead: steps.length, periods }, ids };
}

/** Mean sizes of demand over the last cycle, by item. */
export async function sizesOf(
	client: Queryable,
	workspaceId: number,
	ids: readonly number[],
): Promise<Map<number, number>> {
	const { rows } = await client.query<{ item_id: number; size: number }>(
		'SELECT item_id, size FROM item_status WHERE workspace_id = $1 AND item_id = ANY ($2) AND size IS NOT NULL',
		[workspaceId, ids],
	);
	return new Map(rows.map(({ item_id, size }) => [item_id, size]));
}

/** What is handed over for items after a period, added up. */
async function forecastsOf(
	client: Queryable,
	workspaceId: number,
	ids: readonly number[],
	end: number,
): Promise<ItemParts['ahead']> {
	const { rows } = await client.query<ItemParts['ahead'][number]>(
		`SELECT step.period, sum(step.final) AS figure, count(*) AS items
		FROM unnest($2::bigint[]) going (id)
		CROSS JOIN LATERAL newest_record($1, going.id) newest
		JOIN adopted_step step ON step.workspace_id = $1 AND step.adopted_forecast_id = newest.id
		WHERE step.period > $3
		GROUP BY 1 ORDER BY 1`,
		[workspaceId, ids, end],
	);
	return rows;
}

/** @throws Refusal 404 where there is no such item, 422 where it is no sum */
export async function findSum(
	client: Queryable,
	workspaceId: number,
	code: string,
): Promise<ItemRecord & { sum_of: NonNullable<ItemRecord['sum_of']> }> {
	const item = await findItem(client, workspaceId, code);
	if (item.sum_of === null) throw new Refusal(422, `${code} is an item of its own, not the sum of others.`);
	return { ...item, sum_of: item.sum_of };
}
