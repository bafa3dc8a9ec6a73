import { createHash } from 'node:crypto';
import type { CandidateResult } from '$core/answer';
import type { CandidateInput, Start } from '$core/methods/method';
import { methodOf } from '$core/methods/registry';
import type { Measures } from '$core/accuracy/measures';
import { evaluate } from '$core/evaluate';
import type { EvaluateRequest } from '$core/request';
import type { Frequency } from '$core/series/frequency';
import { applyLayers, type Layered, layerWords } from '$core/series/layers';
import { parsePeriod } from '$core/series/period';
import { version } from '../../../package.json';
import type { Adopt, AdoptedForecast, AdoptedStep } from '../shapes';
import { loadSeries } from './actuals';
import { loadLayers } from './mends';
import { pool, type Queryable, transaction } from './database';
import { noItem, Refusal } from './refusal';
import type { Actor } from './workspaces';

/** Digest of a series as it stands in a request. */
const digest = (series: EvaluateRequest['series']) =>
	createHash('sha256').update(JSON.stringify(series)).digest();

function evaluateOne(request: EvaluateRequest): CandidateResult {
	const [answer] = evaluate(request).candidates;
	if (!answer?.ok) throw new Refusal(422, answer?.notes[0]?.text ?? 'There is no candidate to adopt.');
	return answer;
}

/**
 * Makes a candidate the item's forecast, for good. Figures are computed here from the stored actuals.
 * @returns the id of the record
 * @throws Refusal 409 where actuals came in since the browser looked, 422 where the candidate cannot run
 */
export async function adopt(actor: Actor, code: string, wish: Adopt): Promise<number> {
	const { workspaceId } = actor;
	return transaction(async (client) => {
		// The lock keeps the actuals as they are until the record is written.
		const { rows } = await client.query<{ id: number; frequency: Frequency; season_length: number }>(
			'SELECT id, frequency, season_length FROM item WHERE workspace_id = $1 AND code = $2 FOR UPDATE',
			[workspaceId, code],
		);
		const item = rows[0];
		if (!item) throw noItem(code);
		const seen = await newestChange(client, workspaceId, item.id);
		if (seen !== wish.seen) {
			throw new Refusal(
				409,
				'Actuals came in since this page was opened. Load it again and look once more before adopting.',
			);
		}
		const { layers, newest } = await loadLayers(workspaceId, item.id, null, client);
		if (newest !== wish.seenLayers) {
			throw new Refusal(
				409,
				'The figures were mended since this page was opened. Load it again and look once more before adopting.',
			);
		}
		const actuals = await loadSeries(workspaceId, item.id, null, client);
		const layered = applyLayers(actuals, item.frequency, item.season_length, layers);
		const request: EvaluateRequest = {
			series: layered.request as EvaluateRequest['series'],
			gaps: layered.gapRule,
			candidates: [wish.candidate, ...wish.others],
			scoreFrom: wish.scoreFrom,
			horizon: wish.horizon,
			levels: wish.levels,
		};
		const result = evaluateOne(request);
		return insertAdopted(client, actor, item.id, { seen, newest }, request, result, wish.reason);
	});
}

async function insertAdopted(
	client: Queryable,
	{ workspaceId, name: by }: Actor,
	itemId: number,
	saw: { seen: number; newest: number },
	request: EvaluateRequest,
	result: CandidateResult,
	reason: string,
): Promise<number> {
	const { series } = request;
	const candidate = request.candidates[0] as CandidateInput;
	const origin = parsePeriod(series.frequency, series.start!) + series.values.length - 1;
	const { rows } = await client.query<{ id: number }>(
		`INSERT INTO adopted_forecast (workspace_id, item_id, data_change_id, series_sha256, request, method, label,
			constants, start, measures, origin, reason, program_version, adopted_by, mend_id)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15) RETURNING id`,
		[
			workspaceId,
			itemId,
			saw.seen,
			digest(series),
			request,
			result.method,
			methodOf(result.method).label(candidate),
			result.constants,
			result.start,
			result.measures.own,
			origin,
			reason,
			version,
			by,
			saw.newest,
		],
	);
	const id = rows[0]!.id;
	const steps = result.ahead.filter(({ mean }) => mean !== null);
	await client.query(
		`INSERT INTO adopted_step (workspace_id, adopted_forecast_id, step, period, mean, ranges)
		SELECT $1, $2, step, $3::integer + step, mean, ranges::jsonb
		FROM unnest($4::integer[], $5::double precision[], $6::text[]) AS ahead (step, mean, ranges)`,
		[
			workspaceId,
			id,
			origin,
			steps.map(({ step }) => step),
			steps.map(({ mean }) => mean),
			steps.map(({ ranges }) => JSON.stringify(ranges)),
		],
	);
	return id;
}

/** The newest change of an item's actuals. */
export async function newestChange(
	database: Queryable,
	workspaceId: number,
	itemId: number,
): Promise<number> {
	const { rows } = await database.query<{ newest: number }>(
		'SELECT coalesce(max(data_change_id), 0) AS newest FROM actual WHERE workspace_id = $1 AND item_id = $2',
		[workspaceId, itemId],
	);
	return rows[0]!.newest;
}

interface AdoptedRow {
	id: number;
	request: EvaluateRequest;
	method: string;
	label: string;
	constants: Record<string, number>;
	start: Start | null;
	measures: Measures;
	origin: number;
	reason: string;
	adopted_at: Date;
	adopted_by: string;
	program_version: string;
	steps: AdoptedStep[] | null;
	frequency: Frequency;
	season_length: number;
	data_change_id: number;
	mend_id: number;
}

/** The forecasts adopted for an item, the newest first. */
export async function loadAdopted(
	workspaceId: number,
	itemId: number,
	most: number,
): Promise<AdoptedForecast[]> {
	const { rows } = await pool().query<AdoptedRow>(
		`SELECT f.*, item.frequency, item.season_length, (
			SELECT json_agg(json_build_object('step', s.step, 'period', s.period, 'mean', s.mean, 'ranges', s.ranges)
				ORDER BY s.step)
			FROM adopted_step s
			WHERE s.workspace_id = f.workspace_id AND s.adopted_forecast_id = f.id
		) AS steps
		FROM adopted_forecast f
		JOIN item ON item.workspace_id = f.workspace_id AND item.id = f.item_id
		WHERE f.workspace_id = $1 AND f.item_id = $2
		ORDER BY f.id DESC
		LIMIT $3`,
		[workspaceId, itemId, most],
	);
	const layersUsed = await Promise.all(
		rows.map(async (row) =>
			row.mend_id === 0 ? [] : layerWords(await seriesSeen(workspaceId, itemId, row)),
		),
	);
	return rows.map((row, i) => ({
		id: row.id,
		method: row.method,
		label: row.label,
		candidate: row.request.candidates[0] as CandidateInput,
		constants: row.constants,
		start: row.start,
		measures: row.measures,
		origin: row.origin,
		reason: row.reason,
		adoptedAt: row.adopted_at.toISOString(),
		adoptedBy: row.adopted_by,
		programVersion: row.program_version,
		steps: row.steps ?? [],
		layersUsed: layersUsed[i]!,
	}));
}

/** The series that an adopted forecast saw: actuals and layers as they stood then. */
async function seriesSeen(
	workspaceId: number,
	itemId: number,
	saw: { frequency: Frequency; season_length: number; data_change_id: number; mend_id: number },
): Promise<Layered> {
	const [actuals, { layers }] = await Promise.all([
		loadSeries(workspaceId, itemId, saw.data_change_id),
		loadLayers(workspaceId, itemId, saw.mend_id),
	]);
	return applyLayers(actuals, saw.frequency, saw.season_length, layers);
}

/**
 * Computes an adopted forecast anew, from the actuals as they stood when it was adopted, and compares.
 * @returns whether data and every figure are the same as on record
 */
export async function recheckAdopted(
	workspaceId: number,
	id: number,
): Promise<{ sameData: boolean; sameFigures: boolean }> {
	const { rows } = await pool().query<{
		item_id: number;
		frequency: Frequency;
		season_length: number;
		data_change_id: number;
		mend_id: number;
		series_sha256: Buffer;
		request: EvaluateRequest;
		steps: AdoptedStep[] | null;
	}>(
		`SELECT f.item_id, item.frequency, item.season_length, f.data_change_id, f.mend_id, f.series_sha256, f.request, (
			SELECT json_agg(json_build_object('step', s.step, 'mean', s.mean, 'ranges', s.ranges) ORDER BY s.step)
			FROM adopted_step s
			WHERE s.workspace_id = f.workspace_id AND s.adopted_forecast_id = f.id
		) AS steps
		FROM adopted_forecast f
		JOIN item ON item.workspace_id = f.workspace_id AND item.id = f.item_id
		WHERE f.workspace_id = $1 AND f.id = $2`,
		[workspaceId, id],
	);
	const record = rows[0];
	if (!record) throw new Refusal(404, `There is no adopted forecast ${id} here.`);
	const { request, gapRule } = await seriesSeen(workspaceId, record.item_id, record);
	const series = request as EvaluateRequest['series'];
	const { ahead } = evaluateOne({ ...record.request, series, gaps: gapRule });
	const steps = record.steps ?? [];
	return {
		sameData: digest(series).equals(record.series_sha256),
		sameFigures:
			ahead.length === steps.length &&
			ahead.every(({ mean, ranges }, i) => mean === steps[i]!.mean && sameRanges(ranges, steps[i]!.ranges)),
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
