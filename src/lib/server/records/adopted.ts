import { writtenDecimals, figure } from '$core/numbers/figure';
import { describePeriod } from '$core/series/period';
import { entryWords } from '$core/words/layers';
import type { Adopt, AdoptedForecast, UpdateAdopted } from '../../wire/records';
import { figuresSince, newestChange } from '../items/actuals';
import { carriedChanges, carriedShape, NOTHING_NEW } from './carrying';
import { type Queryable, snapshot } from '../database/database';
import { findItem, type ItemRecord, lockItem } from '../items/item-records';
import { loadEntries, newestEntry } from '../items/layer-entries';
import {
	finalSteps,
	askedOf,
	insertRecord,
	loadAdopted,
	loadRecords,
	originOf,
	seenBy,
	type ToRecord,
} from './records';
import { withGroups } from '../items/lending';
import { Refusal } from '../refusal';
import type { Forecast, Seen } from '../threads/tasks';
import { type Asker, threads } from '../threads/threads';
import { type Actor, changing } from '../database/workspaces';

/** What was seen of an item when it was decided to adopt. */
type SeenThen = Pick<Adopt, 'seen' | 'seenLayers'>;

/**
 * Makes a candidate the item's forecast, for good. Its figures are calculated here from what is stored, apart from serving and outside
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
	const { item, seen } = await snapshot((client) => seenFor(client, actor, code, request));
	const { candidate, others, scoreFrom, horizon, levels, service, changes } = request;
	const beyond = changes.find(({ step }) => step > horizon);
	if (beyond)
		throw new Refusal(
			422,
			`Step ${beyond.step} is changed, and the forecast has ${horizon}. Leave that change out, or adopt more periods.`,
		);
	const candidates = [candidate, ...others];
	const task = { seen, candidates, scoreFrom, horizon, levels, service };
	const forecast = await threads().run('forecast', task, asker);
	refuseGaps(forecast);
	refuseOther(forecast, request, seen.actuals.values);
	return record(
		actor,
		item,
		{ ...request, carriedFrom: null, asked: candidates },
		forecast,
		request.seenRecord,
	);
}

/**
 * Adopts an item's newest record again on the actuals as they are now: the same candidates, their constants searched anew or kept
 * as the item says, the same number of periods, the same rounding, and the changes by hand to periods that are still ahead.
 * @throws Refusal 409 where actuals or layers came in since they were seen, or another forecast was adopted meanwhile; 422 where there
 * is nothing to update, or nothing new since
 */
export async function updateAdopted(
	actor: Actor,
	code: string,
	request: UpdateAdopted,
	asker: Asker,
): Promise<AdoptedForecast> {
	const { item, seen, before } = await snapshot(async (client) => {
		const { item, seen } = await seenFor(client, actor, code, request);
		const [before] = await loadRecords(client, actor.workspaceId, item.id, { most: 1 });
		return { item, seen, before };
	});
	if (!before)
		throw new Refusal(
			422,
			`Nothing is adopted for ${item.code} yet, so there is nothing to update. Adopt a forecast first.`,
		);
	if (before.data_change_id === request.seen && before.layer_entry_id === request.seenLayers)
		throw new Refusal(422, NOTHING_NEW);
	const forecast = await threads().run('forecast', { ...carriedShape(item, before), seen }, asker);
	refuseGaps(forecast);
	const changes = carriedChanges(before.steps ?? [], originOf(forecast), before.step_count);
	return record(
		actor,
		item,
		{ ...request, changes, rounding: before.rounding, carriedFrom: before.id, asked: askedOf(before) },
		forecast,
		before.id,
	);
}

/** An item, its actuals and layers as they were seen. @throws Refusal 409 where they are not as they were seen */
async function seenFor(
	client: Queryable,
	{ workspaceId }: Actor,
	code: string,
	request: SeenThen,
): Promise<{ item: ItemRecord; seen: Seen }> {
	const item = await findItem(client, workspaceId, code);
	await refuseStale(client, workspaceId, item, request);
	const { id: item_id, frequency, season_length } = item;
	const saw = {
		item_id,
		frequency,
		season_length,
		data_change_id: request.seen,
		layer_entry_id: request.seenLayers,
	};
	const [lent] = await withGroups(client, workspaceId, [
		{ item, seen: await seenBy(client, workspaceId, saw) },
	]);
	return { item, seen: lent!.seen };
}

/**
 * Puts a forecast on record if nothing came in while it was calculated.
 * @param newest the newest record that was seen; null where there was none
 */
async function record(
	actor: Actor,
	item: ItemRecord,
	toRecord: ToRecord,
	forecast: Forecast,
	newest: number | null,
): Promise<AdoptedForecast> {
	const { workspaceId } = actor;
	return changing(actor, async (client) => {
		const locked = await lockItem(client, workspaceId, item.code);
		await refuseStale(client, workspaceId, locked, toRecord);
		await refuseOvertaken(client, workspaceId, item.id, newest ?? 0);
		const id = await insertRecord(client, workspaceId, { ...toRecord, itemId: item.id, forecast });
		const [made] = await loadAdopted(client, workspaceId, item.id, { only: id, most: 1 });
		return made!;
	});
}

/** @throws Refusal 409 where another forecast was adopted since the newest one that was seen */
async function refuseOvertaken(
	client: Queryable,
	workspaceId: number,
	itemId: number,
	seen: number,
): Promise<void> {
	const { rows } = await client.query<{ label: string; by: string }>(
		`SELECT label, actor_name(adopted_by) AS by FROM adopted_forecast
		WHERE workspace_id = $1 AND item_id = $2 AND id > $3 ORDER BY id DESC LIMIT 1`,
		[workspaceId, itemId, seen],
	);
	const [newer] = rows;
	if (!newer) return;
	const message = `${newer.by} adopted “${newer.label}” for it meanwhile. Check it again before you adopt.`;
	throw new Refusal(409, message, [], null, { between: [message] });
}

const FIGURES_SAID = 5;

/** What came into an item since somebody looked, in words. */
async function refuseStale(
	client: Queryable,
	workspaceId: number,
	{ id, frequency }: ItemRecord,
	request: SeenThen,
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
		`This item was changed since you opened it.${what} Check it again before you adopt.`,
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
	forecast: Pick<Forecast, 'result'>,
	{ shown, changes, rounding }: Pick<Adopt, 'shown' | 'changes' | 'rounding'>,
	actuals: readonly (number | null)[],
): void {
	const { ahead } = forecast.result;
	const finals = finalSteps(forecast, { changes, rounding });
	const size = actuals.reduce<number>((most, value) => Math.max(most, Math.abs(value ?? 0)), 0);
	const same = (a: number | null, b: number | null) =>
		a === b ||
		(a !== null && b !== null && Math.abs(a - b) <= SAME * Math.max(Math.abs(a), Math.abs(b), size));
	const refuse = (what: string) => {
		throw new Refusal(
			409,
			`What is saved gives other figures than were shown: ${what}. Nothing was adopted. Check it again; if it stays so, load the page again.`,
		);
	};
	if (shown.length !== ahead.length) refuse(`${ahead.length} periods ahead, not ${shown.length}`);
	ahead.forEach(({ period, mean, ranges }, i) => {
		const seen = shown[i]!;
		const decimals = writtenDecimals([mean, seen.mean].map((value) => value && Number(value.toPrecision(6))));
		const said = (value: number | null) => figure(value && Number(value.toPrecision(6)), decimals);
		if (!same(mean, seen.mean)) refuse(`for ${period} ${said(mean)}, not ${said(seen.mean)}`);
		const { final } = finals[i]!;
		const shownFinal = seen.final === undefined ? seen.mean : seen.final;
		if (!same(final, shownFinal))
			refuse(`for ${period} a final forecast of ${said(final)}, not ${said(shownFinal)}`);
		for (const [level, range] of Object.entries(ranges)) {
			const before = seen.ranges[level];
			if (before === undefined) continue;
			if (range === before || (range && before && same(range[0], before[0]) && same(range[1], before[1])))
				continue;
			refuse(`another range at ${Math.round(Number(level) * 100)} % for ${period}`);
		}
	});
}
