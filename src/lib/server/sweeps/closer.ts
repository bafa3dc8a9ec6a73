import { isClear } from '$core/accuracy/lead';
import { directBesideSum, latestOrigins } from '$core/questions/bottom-up';
import { parseRequest } from '$core/questions/request';
import { parsePeriod } from '$core/series/period';
import type { Closer } from '../../wire/groups';
import { carriedShape } from '../records/carrying';
import { snapshot } from '../database/database';
import { Refusal } from '../refusal';
import { addUpSum, findSum } from '../records/sums';
import { loadSwept, type SweptItem } from './evidence';
import { requestOf } from '../threads/forecast';
import type { ForecastTask } from '../threads/tasks';
import { type Asker, threads } from '../threads/threads';

/** Which is closer of a group: its own forecast, or the sum of its items'. */

/** So many items are asked about at once, and so many questions are put. */
const LEAST_AT_ONCE = 20;
const QUESTIONS = 12;

/**
 * Which came closer from the same earlier origins: what is adopted for a sum, or what is adopted for its items, added up; all with
 * their constants as they stand on record.
 * @throws Refusal 404 where there is no such item, 422 where it is no sum, or there is nothing to compare
 */
export async function closerOf(workspaceId: number, code: string, asker: Asker): Promise<Closer> {
	const { sum, parts } = await snapshot(async (client) => {
		const item = await findSum(client, workspaceId, code);
		const { going, ended } = await addUpSum(client, { ...item, workspace_id: workspaceId });
		const ids = [...going, ...ended].map(({ id }) => id);
		const [sum] = await loadSwept(client, workspaceId, [item.id]);
		return { sum: sum!, parts: { all: await loadSwept(client, workspaceId, ids), going } };
	});
	refuseWithout(code, sum, parts);
	const taskOf = ({ before, seen, item }: SweptItem): ForecastTask => ({
		// What ended without a forecast is taken at its last actual.
		...(before
			? carriedShape({ ...item, carry: 'keep' }, before)
			: { candidates: [{ id: 'naive', method: 'naive' } as const], scoreFrom: null }),
		seen,
		horizon: sum.before!.step_count,
		levels: [],
		service: null,
	});
	const whole = taskOf(sum);
	const { series } = requestOf(whole);
	const origins = latestOrigins(parsePeriod(series.frequency, series.start!) + series.values.length - 1);
	const size = Math.max(LEAST_AT_ONCE, Math.ceil(parts.all.length / QUESTIONS));
	const batches = Array.from({ length: Math.ceil(parts.all.length / size) }, (_, i) =>
		parts.all.slice(i * size, (i + 1) * size).map(taskOf),
	);
	const [direct, ...sums] = await Promise.all(
		[[whole], ...batches].map((forecasts, i) =>
			threads().run('beforehand', { forecasts, origins, parts: i > 0 }, asker),
		),
	);
	const summed = direct!.map((row, place) =>
		row.map((_, h) => sums.reduce((total, rows) => total + rows[place]![h]!, 0)),
	);
	const found = directBesideSum(parseRequest(requestOf(whole)), direct!, summed, origins);
	return found && found.count > 0
		? { origins: found.count, gain: found.gain, clear: isClear(found) }
		: { origins: 0, gain: null, clear: false };
}

function refuseWithout(
	code: string,
	sum: SweptItem,
	{ all, going }: { all: readonly SweptItem[]; going: readonly { id: number }[] },
): void {
	if (!sum.before) throw new Refusal(422, `Nothing is adopted for ${code}, so there is nothing to compare.`);
	const waited = new Set(going.map(({ id }) => id));
	const without = all.filter(({ before, item }) => !before && waited.has(item.id));
	if (without.length === 0) return;
	throw new Refusal(
		422,
		`${without.length} of its ${going.length} items ${without.length === 1 ? 'has' : 'have'} no forecast, ${without[0]!.item.code} first. Adopt one for each to compare their sum with ${code}.`,
	);
}
