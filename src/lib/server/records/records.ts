import { MEASURE_IDS } from '$core/accuracy/measures';
import { keyed } from '$core/numbers/keyed';
import { isSame } from '$core/numbers/same';
import { NO_ROUNDING, type Rounding, finalFigure, changedTo } from '$core/grading/final';
import type { Candidate } from '$core/methods/registry';
import type { RangeKind, Start } from '$core/contract/candidate';
import type { EvaluateRequest } from '$core/questions/request';
import type { Frequency } from '$core/series/frequency';
import { heldAt } from '$core/questions/trial';
import { applyLayers, type Layered, layerWords } from '$core/series/layers';
import { parsePeriod } from '$core/series/period';
import type { GroupInput } from '$core/series/series';
import { version } from '../../../../package.json';
import type { Adopt, AdoptedForecast, AdoptedMeasures, AdoptedStep } from '../../wire/records';
import { loadSeries } from '../items/actuals';
import { type Queryable, snapshot } from '../database/database';
import { findItem } from '../items/item-records';
import { loadLayers } from '../items/layer-entries';
import { Refusal } from '../refusal';
import type { Forecast, Recordable, Seen } from '../threads/tasks';
import { type Asker, threads } from '../threads/threads';

/**
 * What a record keeps of its request. Actuals and layers are not in it: the record names the newest change and entry that it saw, and
 * the digest of the series they make.
 */
export interface RecordedRequest extends Pick<
	EvaluateRequest,
	'scoreFrom' | 'horizon' | 'levels' | 'service' | 'rangeRule'
> {
	/** As they were evaluated, the adopted one first. */
	candidates: EvaluateRequest['candidates'];
	/** Of the adopted candidate's ranges, so that they stay what they are whatever becomes usual. Older records say it in the candidate. */
	rangeKind?: RangeKind;
	/** What its group sold then: other items have changed since. Older records have it in their series. */
	group?: GroupInput | undefined;
	series?: { group?: GroupInput | undefined };
}

/** What goes on record of a forecast's request. */
export const recordedRequest = ({
	request,
	result,
}: Pick<Recordable, 'request' | 'result'>): RecordedRequest => ({
	candidates: request.candidates,
	rangeKind: result.rangeKind,
	scoreFrom: request.scoreFrom,
	horizon: request.horizon,
	levels: request.levels,
	service: request.service,
	rangeRule: request.rangeRule,
	group: request.series.group as GroupInput | undefined,
});

/** The candidates of a record, the adopted one with the kind of its ranges. */
function recordedCandidates({ request }: Pick<AdoptedRow, 'request'>): Candidate[] {
	const { candidates, rangeKind } = request;
	const [adopted, ...others] = candidates as Candidate[];
	return rangeKind === undefined ? [adopted!, ...others] : [{ ...adopted!, ranges: rangeKind }, ...others];
}

type Shaped = Pick<AdoptedRow, 'request' | 'asked' | 'held'>;
/** The candidates of a record as they were asked for when its sequence began. */
export const askedOf = ({ asked, request }: Pick<Shaped, 'request' | 'asked'>): Candidate[] =>
	asked ?? (request.candidates as Candidate[]);
/** The candidates of a record with their constants as they were found. */
export const heldOf = ({ held, request }: Pick<Shaped, 'request' | 'held'>): Candidate[] =>
	held ?? (request.candidates as Candidate[]);
/** Candidates beside those that the request says; null where they are the same. */
export const unlessAsked = (candidates: readonly Candidate[], { request }: Pick<Recordable, 'request'>) =>
	isSame(candidates, request.candidates) ? null : candidates;

/** What goes on record beside the figures that were calculated. */
export interface ToRecord extends Pick<Adopt, 'seen' | 'seenLayers' | 'reason' | 'changes' | 'rounding'> {
	carriedFrom: number | null;
	/** The candidates as they were asked for when its run began. */
	asked: readonly Candidate[];
	/** When it was adopted; null for now. */
	at?: Date | null;
}

/** The figures that are handed over, one a step. */
export function finalSteps(
	{ result: { ahead } }: { result: Pick<Forecast['result'], 'ahead'> },
	{ changes, rounding }: Pick<Adopt, 'changes' | 'rounding'>,
): { changedTo: number | null; rate: number | null; reason: string | null; final: number | null }[] {
	const byStep = new Map(changes.map((change) => [change.step, change]));
	return ahead.map(({ step, mean }) => {
		const change = byStep.get(step);
		const by = change?.by;
		return {
			changedTo: mean === null ? null : changedTo(mean, by),
			rate: by?.kind === 'rate' ? by.rate : null,
			reason: change?.reason ?? null,
			final: mean === null ? null : finalFigure(mean, by, rounding ?? NO_ROUNDING),
		};
	});
}

/** Ordinal of the last period that a forecast knew. */
export const originOf = ({ request: { series } }: Pick<Forecast, 'request'>): number =>
	parsePeriod(series.frequency, series.start!) + series.values.length - 1;

/** What goes on record for an item. */
export interface NewRecord extends ToRecord {
	itemId: number;
	forecast: Recordable;
}

/** Puts a forecast on record, under the item's lock. @returns its id */
export async function insertRecord(
	client: Queryable,
	workspaceId: number,
	record: NewRecord,
): Promise<number> {
	return (await insertRecords(client, workspaceId, [record])).get(record.itemId)!;
}

/**
 * Puts forecasts on record, at most one an item, under the items' locks.
 * @returns their ids by item
 */
export async function insertRecords(
	client: Queryable,
	workspaceId: number,
	records: readonly NewRecord[],
): Promise<Map<number, number>> {
	if (records.length === 0) return new Map();
	const json = (of: (record: NewRecord) => unknown) =>
		records.map((record) => {
			const value = of(record) ?? null;
			return value === null ? null : JSON.stringify(value);
		});
	const { rows } = await client.query<{ id: number; item_id: number }>(
		`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, start, measures, origin, reason, program_version, layer_entry_id, step_count, carried_from, rounding,
			together, asked, held, adopted_at)
		SELECT $1, made.item_id, seen, decode(digest, 'hex'), request, method, label, constants, start, measures, origin, reason, $2,
			seen_layers, step_count, carried_from, rounding, together, asked, held,
			-- Who waited for the lock adopts after who had it, whatever clocks say.
			greatest(coalesce(at, clock_timestamp()),
				(SELECT max(adopted_at) FROM adopted_forecast f WHERE f.workspace_id = $1 AND f.item_id = made.item_id))
		FROM unnest($3::bigint[], $4::bigint[], $5::text[], $6::jsonb[], $7::text[], $8::text[], $9::jsonb[], $10::jsonb[], $11::jsonb[],
			$12::integer[], $13::text[], $14::bigint[], $15::integer[], $16::bigint[], $17::jsonb[], $18::jsonb[], $19::jsonb[],
			$20::jsonb[], $21::timestamptz[])
			AS made (item_id, seen, digest, request, method, label, constants, start, measures, origin, reason, seen_layers, step_count,
				carried_from, rounding, together, asked, held, at)
		RETURNING id, item_id`,
		[
			workspaceId,
			version,
			records.map(({ itemId }) => itemId),
			records.map(({ seen }) => seen),
			records.map(({ forecast }) => forecast.digest),
			json(({ forecast }) => recordedRequest(forecast)),
			records.map(({ forecast }) => forecast.result.method),
			records.map(({ forecast }) => forecast.label),
			json(({ forecast }) => forecast.result.constants),
			json(({ forecast }) => forecast.result.start),
			json(
				({ forecast: { result } }) =>
					({ ...result.measures.own, alarm: result.alarm }) satisfies AdoptedMeasures,
			),
			records.map(({ forecast }) => originOf(forecast)),
			records.map(({ reason }) => reason),
			records.map(({ seenLayers }) => seenLayers),
			records.map(({ forecast }) => forecast.result.ahead.length),
			records.map(({ carriedFrom }) => carriedFrom),
			json(({ rounding }) => rounding),
			json(({ forecast }) => forecast.result.together),
			json(({ asked, forecast }) => unlessAsked(asked, forecast)),
			json(({ forecast }) => unlessAsked(forecast.held, forecast)),
			records.map(({ at = null }) => at),
		],
	);
	const ids = new Map(rows.map(({ id, item_id }) => [item_id, id]));
	await insertSteps(client, workspaceId, records, ids);
	return ids;
}

/** @param ids of the records by their items */
async function insertSteps(
	client: Queryable,
	workspaceId: number,
	records: readonly NewRecord[],
	ids: ReadonlyMap<number, number>,
): Promise<void> {
	const steps = records.flatMap(({ itemId, forecast, changes, rounding }) => {
		const { result, naive, seasonalNaive } = forecast;
		const finals = finalSteps(forecast, { changes, rounding });
		return result.ahead.map((ahead, i) => ({
			record: ids.get(itemId)!,
			...ahead,
			period: originOf(forecast) + ahead.step,
			naive: naive[i] ?? null,
			seasonalNaive: seasonalNaive[i] ?? null,
			...finals[i]!,
		}));
	});
	await client.query(
		`INSERT INTO adopted_step (workspace_id, adopted_forecast_id, step, period, mean, ranges, spread, naive, seasonal_naive,
			final, changed_to, change_rate, change_reason)
		SELECT $1, record, step, period, mean, ranges, spread, naive, seasonal_naive, final, changed_to, rate, reason
		FROM unnest($2::bigint[], $3::integer[], $4::integer[], $5::double precision[], $6::jsonb[], $7::double precision[],
			$8::double precision[], $9::double precision[], $10::double precision[], $11::double precision[], $12::double precision[],
			$13::text[])
			AS ahead (record, step, period, mean, ranges, spread, naive, seasonal_naive, final, changed_to, rate, reason)`,
		[
			workspaceId,
			steps.map(({ record }) => record),
			steps.map(({ step }) => step),
			steps.map(({ period }) => period),
			steps.map(({ mean }) => mean),
			steps.map(({ ranges }) => JSON.stringify(ranges)),
			steps.map(({ spread }) => spread),
			steps.map(({ naive }) => naive),
			steps.map(({ seasonalNaive }) => seasonalNaive),
			steps.map(({ final }) => final),
			steps.map(({ changedTo }) => changedTo),
			steps.map(({ rate }) => rate),
			steps.map(({ reason }) => reason),
		],
	);
}

/** Older records have the relative MAE under another name, and some of the measures not at all. */
const measuresOf = ({ theil = null, ...own }: KeptMeasures): AdoptedMeasures => ({
	...keyed(MEASURE_IDS, () => null),
	count: 0,
	mapeCount: 0,
	maseLag: 1,
	relativeMae: theil,
	...own,
});
type KeptMeasures = Partial<AdoptedMeasures> & { theil?: number | null };

export interface AdoptedRow {
	id: number;
	item_id: number;
	request: RecordedRequest;
	method: string;
	label: string;
	constants: Record<string, number>;
	start: Start | null;
	measures: KeptMeasures;
	origin: number;
	reason: string;
	adopted_at: Date;
	by: string;
	program_version: string;
	series_sha256: Buffer;
	steps: AdoptedStep[] | null;
	frequency: Frequency;
	season_length: number;
	data_change_id: number;
	layer_entry_id: number;
	step_count: number;
	rounding: Rounding | null;
	carried_from: number | null;
	together: AdoptedForecast['together'] | null;
	/** Null where they are those of the request. */
	asked: Candidate[] | null;
	held: Candidate[] | null;
}

/** Which of an item's records are wanted: one, or the newest ones before one. */
interface Wanted {
	only?: number;
	before?: number;
	most: number;
}

const STEPS_AT_ONCE = 2000;

export async function loadRecords(
	database: Queryable,
	workspaceId: number,
	itemId: number,
	{ only, before, most }: Wanted,
): Promise<AdoptedRow[]> {
	const { rows } = await database.query<AdoptedRow>(
		`WITH chosen AS (
			SELECT *, sum(step_count) OVER (ORDER BY id DESC) - step_count AS steps_before
			FROM adopted_forecast
			WHERE workspace_id = $1 AND item_id = $2
				AND ($3::bigint IS NULL OR id = $3) AND ($4::bigint IS NULL OR id < $4)
			ORDER BY id DESC
			LIMIT $5
		)
		SELECT f.*, actor_name(f.adopted_by) AS by, item.frequency, item.season_length, (
			SELECT json_agg(json_build_object('step', s.step, 'period', s.period, 'mean', s.mean, 'ranges', s.ranges,
				'final', s.final, 'changedTo', s.changed_to, 'changeRate', s.change_rate, 'changeReason', s.change_reason,
				'spread', s.spread, 'naive', s.naive, 'seasonalNaive', s.seasonal_naive) ORDER BY s.step)
			FROM adopted_step s
			WHERE s.workspace_id = f.workspace_id AND s.adopted_forecast_id = f.id
		) AS steps
		FROM chosen f
		JOIN item ON item.workspace_id = f.workspace_id AND item.id = f.item_id
		-- The newest one whatever its length, and as many more as make an answer that is soon written.
		WHERE steps_before < ${STEPS_AT_ONCE}
		ORDER BY f.id DESC`,
		[workspaceId, itemId, only ?? null, before ?? null, most],
	);
	return rows;
}

/** Forecasts adopted for an item, the newest first. */
export async function loadAdopted(
	database: Queryable,
	workspaceId: number,
	itemId: number,
	wanted: Wanted,
): Promise<AdoptedForecast[]> {
	const records: AdoptedForecast[] = [];
	for (const row of await loadRecords(database, workspaceId, itemId, wanted)) {
		const layersUsed =
			row.layer_entry_id === 0 ? [] : layerWords(layeredOf(await seenBy(database, workspaceId, row)));
		records.push({
			id: row.id,
			method: row.method,
			label: row.label,
			candidate: recordedCandidates(row)[0]!,
			constants: row.constants,
			start: row.start,
			measures: measuresOf(row.measures),
			origin: row.origin,
			reason: row.reason,
			adoptedAt: row.adopted_at.toISOString(),
			adoptedBy: row.by,
			programVersion: row.program_version,
			steps: row.steps ?? [],
			rounding: row.rounding,
			carriedFrom: row.carried_from,
			together: row.together ?? [],
			service: row.request.service ?? null,
			saw: row.data_change_id,
			sawLayers: row.layer_entry_id,
			layersUsed,
		});
	}
	return records;
}

/** What an adopted forecast saw: actuals and layers as they stood then. */
export async function seenBy(
	database: Queryable,
	workspaceId: number,
	row: Pick<AdoptedRow, 'item_id' | 'frequency' | 'season_length' | 'data_change_id' | 'layer_entry_id'>,
): Promise<Seen> {
	const { layers } = await loadLayers(workspaceId, row.item_id, row.layer_entry_id, database);
	return {
		actuals: await loadSeries(workspaceId, row.item_id, row.data_change_id, database),
		frequency: row.frequency,
		seasonLength: row.season_length,
		layers,
		group: null,
	};
}

const layeredOf = ({ actuals, frequency, seasonLength, layers }: Seen): Layered =>
	applyLayers(actuals, frequency, seasonLength, layers);

/**
 * Computes an item's adopted forecast anew, from the actuals and layers as they stood when it was adopted, and compares step by step.
 * @returns whether data and every figure are the same as on record
 */
export async function recheckAdopted(
	workspaceId: number,
	code: string,
	id: number,
	asker: Asker,
): Promise<{ sameData: boolean; sameFigures: boolean }> {
	const { record, seen } = await snapshot(async (client) => {
		const item = await findItem(client, workspaceId, code);
		const [record] = await loadRecords(client, workspaceId, item.id, { only: id, most: 1 });
		if (!record) throw new Refusal(404, `${code} has no adopted forecast ${id}.`);
		return { record, seen: { ...(await seenBy(client, workspaceId, record)), group: groupOf(record) } };
	});
	const { scoreFrom, horizon, levels, service, rangeRule } = record.request;
	const [adopted, ...others] = recordedCandidates(record);
	// The first ones do not say what their ranges come from: those are made otherwise now, and searches find a little more.
	const first = adopted!.ranges === undefined;
	const { digest, result } = await threads().run(
		'forecast',
		{
			seen,
			candidates: [first ? heldAt(adopted!, { constants: record.constants }) : adopted!, ...others],
			scoreFrom: scoreFrom ?? null,
			horizon: horizon!,
			levels: levels!,
			service: service ?? null,
			// Those that do not say by which rule were made by the first one.
			rangeRule: rangeRule ?? 1,
		},
		asker,
	);
	const steps = new Map((record.steps ?? []).map((step) => [step.step, step]));
	return {
		sameData: digest === record.series_sha256.toString('hex'),
		// Records from before may lack steps that had no figure.
		sameFigures: result.ahead.every(({ step, mean, ranges }) => {
			const kept = steps.get(step);
			if (!kept) return mean === null;
			return first ? alike(mean, kept.mean) : mean === kept.mean && sameRanges(ranges, kept.ranges);
		}),
	};
}

/** What its group sold as it stands on record, in the order that it was written in: the database keeps another one. */
function groupOf({ request }: Pick<AdoptedRow, 'request'>): GroupInput | null {
	const group = request.group ?? request.series?.group;
	return group ? { name: group.name, values: group.values, start: group.start } : null;
}

/** Alike but for rounding. */
const alike = (a: number | null, b: number | null) =>
	a === b || (a !== null && b !== null && Math.abs(a - b) <= 1e-9 * Math.max(Math.abs(a), Math.abs(b)));

function sameRanges(a: AdoptedStep['ranges'], b: AdoptedStep['ranges']): boolean {
	return Object.entries(a).every(([level, range]) => {
		const other = b[level] ?? null;
		return (
			range === other || (range !== null && other !== null && range[0] === other[0] && range[1] === other[1])
		);
	});
}
