import type { Candidate } from '$core/methods/registry';
import { parse } from 'csv-parse/sync';
import * as v from 'valibot';
import { evaluate } from '$core/questions/evaluate';
import { FREQUENCIES } from '$core/series/frequency';
import { applyLayers } from '$core/series/layers';
import index from '../../../demo/items.csv?raw';
import { adopt } from './adopted';
import { bringInNew } from './bring-in';
import { pool } from './database';
import { loadItem } from './items';
import { saveLineUp } from './line-ups';
import { log } from './log';
import { type Actor, createWorkspace, firstWorkspace } from './workspaces';

const SERIES = import.meta.glob<string>('../../../demo/series/*.csv', {
	query: '?raw',
	import: 'default',
	eager: true,
});

const IndexSchema = v.array(
	v.object({ code: v.string(), name: v.string(), unit: v.string(), frequency: v.picklist(FREQUENCIES) }),
);

const DEMO = { caller: 'demo' };

/** Two servers that start at once on an empty database must not both fill it. */
const LOCK = 7_214_063_582;

const smoothing: Candidate = { id: 'd', method: 'ses', optimise: {} };
const average = (span: number): Candidate => ({ id: 'e', method: 'moving-average', span });
const drift: Candidate = { id: 'f', method: 'drift' };
const holtWinters = (season: 'additive' | 'multiplicative'): Candidate => ({
	id: 'd',
	method: 'holt-winters',
	season,
	optimise: {},
});

/** What the depot's analyst has adopted so far; items that are not named wait for a forecast. */
const ADOPTED: Readonly<Record<string, Candidate>> = {
	'10-101': average(6),
	'10-118': drift,
	'10-240': holtWinters('multiplicative'),
	'20-020': smoothing,
	'20-034': { id: 'd', method: 'holt', optimise: {} },
	'20-090': smoothing,
	'30-112': { id: 'd', method: 'ses', constants: { alpha: 0.2 } },
	'30-115': smoothing,
	'30-310': average(12),
	'30-402': smoothing,
	'40-051': average(4),
	'50-210': smoothing,
	'50-233': { id: 'd', method: 'ses', constants: { alpha: 0.1 } },
	'60-014': holtWinters('multiplicative'),
	'70-201': average(5),
	'70-230': { id: 'd', method: 'damped-holt', optimise: { criterion: 'mad' } },
	'80-005': average(6),
	'80-016': { id: 'a', method: 'average' },
	'90-001': smoothing,
	'90-004': { id: 'g', method: 'weighted-moving-average', weights: [1, 2, 3] },
	'95-120': smoothing,
	'99-010': {
		id: 'd',
		method: 'seasonal-index',
		season: 'multiplicative',
		index: { rule: 'ratio-to-moving-average' },
		level: { rule: 'last-cycle', growth: 0.02 },
		scenarios: [
			{ rule: 'last-cycle', growth: 0.02 },
			{ rule: 'cycle-average', cycles: 2 },
			{ rule: 'cycle-trend' },
		],
	},
	'99-020': drift,
	'99-030': holtWinters('multiplicative'),
	'99-040': smoothing,
	'30-505': { id: 'a', method: 'average' },
	'95-160': holtWinters('additive'),
};

/** What stands beside an adopted candidate in its line-up. */
const BESIDE: readonly Candidate[] = [
	{ id: 'a', method: 'naive' },
	{ id: 'b', method: 'moving-average', span: 3 },
	{ id: 'c', method: 'ses', constants: { alpha: 0.3 } },
];

const AHEAD = { hour: 24, day: 14, weekday: 10, week: 13, month: 12, quarter: 4, year: 3, step: 12 };

/**
 * Gives a database without a workspace its first one, with the demo data unless VENTREL_DEMO is `off`.
 * Killed half way, the next start carries on where it stopped.
 */
export async function prepareWorkspace(): Promise<void> {
	const client = await pool().connect();
	try {
		// Another start that fills it is waited for, as long as it takes.
		await client.query('SET lock_timeout = 0; SET statement_timeout = 0');
		await client.query('SELECT pg_advisory_lock($1)', [LOCK]);
		const wanted = process.env.VENTREL_DEMO !== 'off';
		const workspace = await firstWorkspace(client);
		const workspaceId =
			workspace?.id ?? (await createWorkspace(client, wanted ? 'Kestrel Bay Cycle Supply' : 'Workspace'));
		if (wanted && (await isUnfinished(workspaceId))) await loadDemo({ workspaceId, name: 'demo' });
	} finally {
		// The connection goes with its lock and its settings.
		client.release(true);
	}
}

/** No items, or only some of the demo's and none of anybody else. */
async function isUnfinished(workspaceId: number): Promise<boolean> {
	const { rows } = await pool().query<{ demo: number; others: number }>(
		`SELECT count(*) FILTER (WHERE created_by = 'demo') AS demo, count(*) FILTER (WHERE created_by <> 'demo') AS others
		FROM item WHERE workspace_id = $1`,
		[workspaceId],
	);
	const { demo, others } = rows[0]!;
	return others === 0 && demo < Object.keys(SERIES).length;
}

async function loadDemo(actor: Actor): Promise<void> {
	const items = v.parse(IndexSchema, parse(index, { columns: true }));
	const { rows } = await pool().query<{ code: string }>('SELECT code FROM item WHERE workspace_id = $1', [
		actor.workspaceId,
	]);
	const there = new Set(rows.map(({ code }) => code));
	for (const { code, name, unit, frequency } of items) {
		if (there.has(code)) continue;
		const fileName = `${code}.csv`;
		const text = SERIES[`../../../demo/series/${fileName}`]!;
		const request = { code, name, unit, text, fileName, choices: { frequency } };
		await bringInNew(actor, Buffer.from(JSON.stringify(request)), DEMO);
		const candidate = ADOPTED[code];
		if (!candidate) continue;
		const item = await loadItem(actor.workspaceId, code);
		const others = BESIDE.filter(({ id }) => id !== candidate.id);
		await saveLineUp(actor.workspaceId, code, { ...item.lineUp, candidates: [...others, candidate] });
		const horizon = AHEAD[frequency];
		const layered = applyLayers(item.series, frequency, item.series.seasonLength, item.layers.layers);
		const [shown] = evaluate({
			series: layered.request,
			candidates: [candidate],
			horizon,
			detail: 'summary',
		}).candidates;
		if (!shown?.ok) throw new Error(`The demo's forecast for ${code} cannot be made.`);
		await adopt(
			actor,
			code,
			{
				candidate,
				others: [],
				horizon,
				levels: [0.8, 0.95],
				service: 0.95,
				changes: [],
				rounding: null,
				scoreFrom: null,
				reason: '',
				seen: item.seen,
				seenLayers: item.layers.newest,
				shown: shown.ahead,
			},
			DEMO,
		);
	}
	log.info({ items: items.length }, 'demo data loaded');
}
