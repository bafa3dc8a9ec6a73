import type { RangeKind } from '$core/ranges/ranges';
import type { Candidate } from '$core/methods/registry';
import type { Start } from '$core/contract/candidate';
import type { EvaluateRequest } from '$core/questions/request';
import type { Frequency } from '$core/series/frequency';
import { applyLayers, type Layered, layerWords } from '$core/series/layers';
import { describePeriod, parsePeriod } from '$core/series/period';
import { writtenDecimals } from '$core/numbers/figure';
import { version } from '../../../package.json';
import { figure } from '$core/numbers/figure';
import { entryWords } from '$core/words/layers';
import type { Adopt, AdoptedForecast, AdoptedMeasures, AdoptedStep } from '../shapes';
import { figuresSince, loadSeries, newestChange } from './actuals';
import { type Queryable, snapshot, transaction } from './database';
import { findItem, type ItemRecord, lockItem } from './item-records';
import { loadEntries, loadLayers, newestEntry } from './layer-entries';
import { Refusal } from './refusal';
import type { Seen, Forecast } from './threads/tasks';
import { type Asker, threads } from './threads/threads';
import type { Actor } from './workspaces';

/**
 * Makes a candidate the item's forecast, for good. Its figures are worked out here from what is stored, apart from serving and outside
 * any lock; then, under the lock, it is recorded if nothing came in meanwhile.
 * @returns the record that was made
 * @throws Refusal 409 where actuals or layers came in since its adopter looked, or the figures differ from those that were shown;
 * 422 where the candidate cannot run or does not say every step
 */
export async function adopt(
	actor: Actor,
	code: string,
	request: Adopt,
	asker: Asker,
): Promise<AdoptedForecast> {
	const { workspaceId } = actor;
	const { item, seen } = await snapshot(async (client) => {
		const item = await findItem(client, workspaceId, code);
		await refuseStale(client, workspaceId, item, request);
		const { id: item_id, frequency, season_length } = item;
		const saw = {
			item_id,
			frequency,
			season_length,
			data_change_id: request.seen,
			mend_id: request.seenLayers,
		};
		return { item, seen: await seenBy(client, workspaceId, saw) };
	});
	const { candidate, others, scoreFrom, horizon, levels } = request;
	const forecast = await threads().run(
		'forecast',
		{ seen, candidates: [candidate, ...others], scoreFrom, horizon, levels },
		asker,
	);
	refuseGaps(forecast);
	refuseOther(forecast, request.shown, seen.actuals.values);
	return transaction(async (client) => {
		const locked = await lockItem(client, workspaceId, code);
		await refuseStale(client, workspaceId, locked, request);
		const id = await insertAdopted(client, actor, item.id, request, forecast);
		const [made] = await loadAdopted(client, workspaceId, item.id, { only: id, most: 1 });
		return made!;
	});
}

const FIGURES_SAID = 5;

/** What came into an item since somebody looked, in words. */
async function refuseStale(
	client: Queryable,
	workspaceId: number,
	{ id, frequency }: ItemRecord,
	request: Pick<Adopt, 'seen' | 'seenLayers'>,
): Promise<void> {
	const seen = await newestChange(client, workspaceId, id);
	const newest = await newestEntry(client, workspaceId, id);
	if (seen === request.seen && newest === request.seenLayers) return;
	const figures = await figuresSince(client, workspaceId, id, request.seen, FIGURES_SAID);
	const entries = await loadEntries(client, workspaceId, id, request.seenLayers);
	const decimals = writtenDecimals([
		...figures.flatMap(({ value, before }) => [value, before]),
		...entries.flatMap((entry) =>
			entry.kind === 'correction' && entry.setting ? [entry.setting.to, entry.setting.over] : [],
		),
	]);
	const between = [
		...figures.map(
			({ period, value, before, by }) =>
				`${by}: ${describePeriod(frequency, period)} ${figure(value, decimals)}${before === null ? '' : `, it was ${figure(before, decimals)}`}`,
		),
		...entries.map((entry) => `${entry.by}: ${entryWords(entry, frequency, decimals)}`),
	];
	const more = Math.max(0, (figures[0]?.count ?? 0) - figures.length);
	const what =
		between.length > 0 ? ` ${between.slice(0, 3).join('; ')}${between.length > 3 ? '; …' : ''}.` : '';
	throw new Refusal(
		409,
		`This item was changed since it was looked at.${what} Look once more before adopting.`,
		[],
		null,
		{ between: more > 0 ? [...between, `and ${more} more figures`] : between },
	);
}

/** A forecast without a figure for one of its steps is none. */
function refuseGaps({ result: { ahead } }: Forecast): void {
	const without = ahead.filter(({ mean }) => mean === null);
	if (without.length === 0) return;
	throw new Refusal(
		422,
		without.length === ahead.length
			? 'This candidate has no figure for any of the periods ahead, so there is nothing to adopt.'
			: `This candidate has no figure for ${without.length} of the ${ahead.length} periods ahead, first for ${without[0]!.period}. Adopt fewer periods, or choose another candidate.`,
	);
}

/** Two browsers, or a browser and this program, may differ in the last digits of a power or a logarithm. */
const SAME = 1e-9;

/** What is adopted is what was seen: every step and every end of a range. */
function refuseOther(
	{ result: { ahead } }: Forecast,
	shown: Adopt['shown'],
	actuals: readonly (number | null)[],
): void {
	const size = actuals.reduce<number>((most, value) => Math.max(most, Math.abs(value ?? 0)), 0);
	const same = (a: number | null, b: number | null) =>
		a === b ||
		(a !== null && b !== null && Math.abs(a - b) <= SAME * Math.max(Math.abs(a), Math.abs(b), size));
	const refuse = (what: string) => {
		throw new Refusal(
			409,
			`What is saved gives other figures than were shown: ${what}. Nothing was adopted. Look once more; if it stays so, load the page again.`,
		);
	};
	if (shown.length !== ahead.length) refuse(`${ahead.length} periods ahead, not ${shown.length}`);
	ahead.forEach(({ period, mean, ranges }, i) => {
		const seen = shown[i]!;
		const decimals = writtenDecimals([mean, seen.mean].map((value) => value && Number(value.toPrecision(6))));
		const said = (value: number | null) => figure(value && Number(value.toPrecision(6)), decimals);
		if (!same(mean, seen.mean)) refuse(`for ${period} ${said(mean)}, not ${said(seen.mean)}`);
		for (const [level, range] of Object.entries(ranges)) {
			const before = seen.ranges[level];
			if (before === undefined) continue;
			if (range === before || (range && before && same(range[0], before[0]) && same(range[1], before[1])))
				continue;
			refuse(`another range at ${Math.round(Number(level) * 100)} % for ${period}`);
		}
	});
}

/** The adopted candidate with the kind of its ranges said, so that it stays what it is whatever becomes usual. */
const withRanges = ([adopted, ...others]: EvaluateRequest['candidates'], ranges: RangeKind) =>
	[{ ...adopted!, ranges }, ...others] as Candidate[];

async function insertAdopted(
	client: Queryable,
	{ workspaceId, name: by }: Actor,
	itemId: number,
	{ seen, seenLayers, reason }: Adopt,
	{ request, digest, result, label }: Forecast,
): Promise<number> {
	const { series } = request;
	const origin = parsePeriod(series.frequency, series.start!) + series.values.length - 1;
	const { rows } = await client.query<{ id: number }>(
		`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, start, measures, origin, reason, program_version, adopted_by, mend_id, step_count)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16) RETURNING id`,
		[
			workspaceId,
			itemId,
			seen,
			Buffer.from(digest),
			{ ...request, candidates: withRanges(request.candidates, result.rangeKind) },
			result.method,
			label,
			result.constants,
			result.start,
			{ ...result.measures.own, alarm: result.alarm } satisfies AdoptedMeasures,
			origin,
			reason,
			version,
			by,
			seenLayers,
			result.ahead.length,
		],
	);
	const id = rows[0]!.id;
	await client.query(
		`INSERT INTO adopted_step (workspace_id, adopted_forecast_id, step, period, mean, ranges)
		SELECT $1, $2, step, $3::integer + step, mean, ranges::jsonb
		FROM unnest($4::integer[], $5::double precision[], $6::text[]) AS ahead (step, mean, ranges)`,
		[
			workspaceId,
			id,
			origin,
			result.ahead.map(({ step }) => step),
			result.ahead.map(({ mean }) => mean),
			result.ahead.map(({ ranges }) => JSON.stringify(ranges)),
		],
	);
	return id;
}

interface AdoptedRow {
	id: number;
	item_id: number;
	request: EvaluateRequest;
	method: string;
	label: string;
	constants: Record<string, number>;
	start: Start | null;
	measures: AdoptedMeasures;
	origin: number;
	reason: string;
	adopted_at: Date;
	adopted_by: string;
	program_version: string;
	series_sha256: Buffer;
	steps: AdoptedStep[] | null;
	frequency: Frequency;
	season_length: number;
	data_change_id: number;
	mend_id: number;
}

/** Which of an item's records are wanted: one, or the newest ones before one. */
interface Wanted {
	only?: number;
	before?: number;
	most: number;
}

const STEPS_AT_ONCE = 2000;

async function loadRecords(
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
		SELECT f.*, item.frequency, item.season_length, (
			SELECT json_agg(json_build_object('step', s.step, 'period', s.period, 'mean', s.mean, 'ranges', s.ranges)
				ORDER BY s.step)
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
			row.mend_id === 0 ? [] : layerWords(layeredOf(await seenBy(database, workspaceId, row)));
		records.push({
			id: row.id,
			method: row.method,
			label: row.label,
			candidate: row.request.candidates[0] as Candidate,
			constants: row.constants,
			start: row.start,
			measures: row.measures,
			origin: row.origin,
			reason: row.reason,
			adoptedAt: row.adopted_at.toISOString(),
			adoptedBy: row.adopted_by,
			programVersion: row.program_version,
			steps: row.steps ?? [],
			layersUsed,
		});
	}
	return records;
}

/** What an adopted forecast saw: actuals and layers as they stood then. */
async function seenBy(
	database: Queryable,
	workspaceId: number,
	row: Pick<AdoptedRow, 'item_id' | 'frequency' | 'season_length' | 'data_change_id' | 'mend_id'>,
): Promise<Seen> {
	const { layers } = await loadLayers(workspaceId, row.item_id, row.mend_id, database);
	return {
		actuals: await loadSeries(workspaceId, row.item_id, row.data_change_id, database),
		frequency: row.frequency,
		seasonLength: row.season_length,
		layers,
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
		return { record, seen: await seenBy(client, workspaceId, record) };
	});
	const { candidates, scoreFrom, horizon, levels } = record.request;
	const { digest, result } = await threads().run(
		'forecast',
		{
			seen,
			// Records that do not say which ranges they have were given those of the model, where there was one.
			candidates: withRanges(candidates, candidates[0]!.ranges ?? 'model'),
			scoreFrom: scoreFrom ?? null,
			horizon: horizon!,
			levels: levels!,
		},
		asker,
	);
	const steps = new Map((record.steps ?? []).map((step) => [step.step, step]));
	return {
		sameData: Buffer.from(digest).equals(record.series_sha256),
		// Records from before may lack steps that had no figure.
		sameFigures: result.ahead.every(({ step, mean, ranges }) => {
			const kept = steps.get(step);
			return kept ? mean === kept.mean && sameRanges(ranges, kept.ranges) : mean === null;
		}),
	};
}

function sameRanges(a: AdoptedStep['ranges'], b: AdoptedStep['ranges']): boolean {
	return Object.entries(a).every(([level, range]) => {
		const other = b[level] ?? null;
		return (
			range === other || (range !== null && other !== null && range[0] === other[0] && range[1] === other[1])
		);
	});
}
