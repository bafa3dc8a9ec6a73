import { BOUNDS } from '$core/bounds';
import { applyLayers } from '$core/series/layers';
import type { Queryable } from '../database/database';
import { loadSeen } from './seen';

/** What the figures of several items come to. */

/** A part without a figure for a cycle more than the others, and so many periods at least, has ended, and is not waited for. */
const LEAST_ENDED_AFTER = 12;
export const endedAfter = (seasonLength: number): number => Math.max(LEAST_ENDED_AFTER, seasonLength);

/** A part, and where its figures begin and end; without figures it adds nothing. */
export interface Part {
	id: number;
	code: string;
	retired: boolean;
	/** Whether anything was decided about its figures, so that they are not simply those that came in. */
	adjusted: boolean;
	first: number;
	last: number;
	/** Its figures as they count, where it is adjusted: from `first` on. */
	values: (number | null)[] | null;
}

/** What the parts come to. */
export interface Added {
	first: number;
	/** Null where a part that should have a figure has none. */
	values: (number | null)[];
	/** Those whose figures reach to the end, and those that are not waited for. */
	going: Part[];
	ended: Part[];
	/** Those that have nothing newer, so that the sum ends there. */
	last: Part[];
	/** Periods of the sum that miss a figure of a part. */
	missing: number[];
}

/** Items that are to be added up, by id; those without a figure are left out. */
export async function loadParts(
	client: Queryable,
	workspaceId: number,
	ids: readonly number[],
): Promise<Part[]> {
	const { rows } = await client.query<Part>(
		`SELECT item.id, code, retired_at IS NOT NULL AS retired, extent.first, extent.last,
			EXISTS (SELECT FROM layer_entry WHERE layer_entry.workspace_id = $1 AND layer_entry.item_id = item.id) AS adjusted
		FROM item
		CROSS JOIN LATERAL (
			SELECT min(period) AS first, max(period) AS last FROM latest_actual($1, item.id) WHERE value IS NOT NULL
		) extent
		WHERE item.workspace_id = $1 AND item.id = ANY ($2) AND extent.first IS NOT NULL
		ORDER BY item.id`,
		[workspaceId, ids],
	);
	const parts = rows.map((row) => ({ ...row, values: null as Part['values'] }));
	const byId = new Map(parts.map((part) => [part.id, part]));
	const adjusted = parts.filter((part) => part.adjusted).map((part) => part.id);
	for (const { item, seen } of await loadSeen(client, workspaceId, adjusted)) {
		const laid = applyLayers(seen.actuals, seen.frequency, seen.seasonLength, seen.layers);
		// What is left out of the methods' sight came all the same.
		const values = laid.worked.map((value, i) => value ?? laid.values[i]!);
		const part = byId.get(item.id)!;
		part.first = laid.first + values.findIndex((value) => value !== null);
		part.last = laid.first + values.findLastIndex((value) => value !== null);
		part.values = values.slice(part.first - laid.first, part.last - laid.first + 1);
	}
	return parts;
}

/** Adds the parts up: as far as all of those that go on have figures. */
export async function addUp(
	client: Queryable,
	workspaceId: number,
	seasonLength: number,
	parts: readonly Part[],
): Promise<Added> {
	const newest = greatest(parts, ({ last }) => last);
	const goesOn = ({ retired, last }: Part) => !retired && last > newest - endedAfter(seasonLength);
	const going = parts.filter(goesOn);
	const ended = parts.filter((part) => !goesOn(part));
	if (parts.length === 0) return { first: 1, values: [], going, ended, last: [], missing: [] };
	const end = going.length > 0 ? -greatest(going, ({ last }) => -last) : newest;
	const first = Math.max(-greatest(parts, (part) => -part.first), end - BOUNDS.periods + 1);
	const length = Math.max(0, end - first + 1);
	const { rows } = await client.query<{ period: number; total: number; count: number }>(
		// As decimals: the order in which they are added up makes no difference to them.
		`SELECT period, sum(value::numeric)::double precision AS total, count(value) AS count
		FROM unnest($2::bigint[]) part (id) CROSS JOIN LATERAL latest_actual($1, part.id)
		WHERE period BETWEEN $3 AND $4 GROUP BY period`,
		[workspaceId, parts.filter(({ values }) => values === null).map(({ id }) => id), first, end],
	);
	const totals = new Float64Array(length);
	const counts = new Int32Array(length);
	const wanted = new Int32Array(length);
	for (const { period, total, count } of rows) {
		totals[period - first] = total ?? 0;
		counts[period - first] = Number(count);
	}
	for (const part of parts) {
		for (let t = Math.max(0, part.first - first); t <= Math.min(length - 1, part.last - first); t++) {
			wanted[t]!++;
			const value = part.values?.[first + t - part.first] ?? null;
			if (value === null) continue;
			totals[t]! += value;
			counts[t]!++;
		}
	}
	const values = Array.from(totals, (total, t) => (counts[t] === wanted[t] ? plain(total) : null));
	return {
		first,
		values,
		going,
		ended,
		last: going.filter(({ last }) => last === end && last < newest),
		missing: values.flatMap((value, t) => (value === null ? [first + t] : [])),
	};
}

/** Of however many. */
const greatest = (parts: readonly Part[], of: (part: Part) => number): number =>
	parts.reduce((most, part) => Math.max(most, of(part)), -Infinity);

/** In as many digits as its parts can be told by: 0.1 and 0.2 make 0.3. */
const plain = (total: number): number => Number(total.toPrecision(15));
