/**
 * Twenty people at the same ten items for a minute: they adopt, update, correct, bring in, hide. Every outcome is explained by
 * some order of them, nothing waits for itself, and how items stand is what grading from scratch says. npm run bench -- cycle [seconds].
 */
import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { seededUniform } from '../../src/core/numbers/random';
import type { AdoptedForecast } from '../../src/lib/wire/records';
import type { Item } from '../../src/lib/wire/items';
import type { RefusalBody } from '../../src/lib/wire/service';
import { adoptionOf } from '../../tests/support/adopting';
import { startApp } from '../../tests/support/app';
import { bringFigure, makeItems, withDatabase } from '../speed/serving-support';

const [seconds = 60] = process.argv.slice(3).map(Number);
const PEOPLE = 20;
const ITEMS = 10;
const uniform = seededUniform(20_261_126);
const pick = <T>(list: readonly T[]): T => list[Math.floor(uniform() * list.length)]!;

const KINDS = ['adopt', 'update', 'correct', 'bring in', 'hide'] as const;
type Kind = (typeof KINDS)[number];

async function work(url: string): Promise<void> {
	const app = await startApp(url);
	const codes = await makeItems(app, ITEMS);
	const outcomes = new Map<string, number>();
	const odd: string[] = [];
	let [records, entries, figures, number] = [0, 0, 0, 0];
	const ends = Date.now() + 1000 * seconds;
	const act: Readonly<
		Record<Kind, (code: string, item: Item) => Promise<{ status: number; body: RefusalBody }>>
	> = {
		adopt: async (code, item) => {
			const wish = adoptionOf(item, {
				id: 'a',
				method: 'ses',
				constants: { alpha: Number(uniform().toFixed(3)) },
			});
			const answer = await app.call<AdoptedForecast & RefusalBody>('POST', `/items/${code}/adopted`, wish);
			if (answer.status === 201) records++;
			return answer;
		},
		update: async (code, item) => {
			const seen = { seen: item.seen, seenLayers: item.layers.newest };
			const answer = await app.call<AdoptedForecast & RefusalBody>('POST', `/items/${code}/updated`, seen);
			if (answer.status === 201) records++;
			return answer;
		},
		correct: async (code, item) => {
			const event = {
				kind: 'event',
				period: item.series.first + Math.floor(uniform() * 40),
				setting: `event ${number++}`,
			};
			const answer = await app.call<RefusalBody>('POST', `/items/${code}/layers`, {
				seen: item.layers.newest,
				entries: [event],
			});
			if (answer.status === 200) entries++;
			return answer;
		},
		'bring in': async (code) => {
			const t = 60 + Math.floor(uniform() * 12);
			const period = `${2021 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`;
			const { status, body } = await bringFigure(app, code, period, 200 + Math.floor(uniform() * 90));
			if (status === 200) figures += body[0]!.added + body[0]!.corrected;
			return { status, body };
		},
		hide: (code, item) =>
			app.call<RefusalBody>('POST', `/items/${code}/hidden`, { hidden: uniform() < 0.5, seen: item.seen }),
	};
	const people = Array.from({ length: PEOPLE }, async () => {
		while (Date.now() < ends) {
			const code = pick(codes);
			const kind = pick(KINDS);
			const item = (await app.call<Item>('GET', `/items/${code}`)).body;
			const { status, body } = await act[kind](code, item);
			outcomes.set(`${kind} ${status}`, (outcomes.get(`${kind} ${status}`) ?? 0) + 1);
			// Taken; or overtaken, and told by whom; or there is nothing to update.
			const told = status === 409 ? /since you opened it|came in since|adopted “/.test(body.message) : true;
			if (![200, 201, 409, 422].includes(status) || !told) odd.push(`${kind} ${status}: ${body.message}`);
		}
	});
	await Promise.all(people);
	// Each record is what it was, from the figures as they were then.
	let [checked, wrong] = [0, 0];
	for (const code of codes) {
		const { body } = await app.call<AdoptedForecast[]>('GET', `/items/${code}/adopted`);
		for (const { id } of body) {
			const check = await app.call<{ sameData: boolean; sameFigures: boolean }>(
				'GET',
				`/items/${code}/adopted/${id}`,
			);
			checked++;
			if (!check.body.sameData || !check.body.sameFigures) wrong++;
		}
	}
	const client = new pg.Client({ connectionString: url });
	await client.connect();
	const { rows } = await client.query<Record<string, string>>(
		`SELECT (SELECT count(*) FROM adopted_forecast) AS records, (SELECT count(*) FROM layer_entry) AS entries,
			(SELECT count(*) FROM actual) - ${60 * ITEMS} AS figures,
			-- Who carries on carries the newest one on.
			(SELECT count(*) FROM adopted_forecast f WHERE carried_from IS NOT NULL AND carried_from <>
				(SELECT max(id) FROM adopted_forecast before WHERE before.item_id = f.item_id AND before.id < f.id)) AS astray,
			-- A change is made under the lock of its items: revisions of a period have changes in order.
			(SELECT count(*) FROM actual a JOIN actual b ON b.item_id = a.item_id AND b.period = a.period
				AND b.revision = a.revision + 1 AND b.data_change_id < a.data_change_id) AS disordered,
			(SELECT deadlocks FROM pg_stat_database WHERE datname = current_database()) AS deadlocks`,
	);
	await client.end();
	await app.stop();
	const there = Object.fromEntries(Object.entries(rows[0]!).map(([key, value]) => [key, Number(value)]));
	const status = execFileSync(
		process.execPath,
		[fileURLToPath(new URL('../../build/status.js', import.meta.url)), 'check'],
		{
			env: { ...process.env, DATABASE_URL: url },
		},
	).toString();
	console.log(`\n${PEOPLE} people at ${ITEMS} items for ${seconds} seconds:`);
	for (const [outcome, times] of [...outcomes].sort()) console.log(`  ${outcome.padEnd(16)} ${times}`);
	console.log(
		`acknowledged and there: ${records} and ${there.records} records, ${entries} and ${there.entries} entries of layers, ${figures} and ${there.figures} figures; ` +
			`records carried on from another than the newest ${there.astray}, revisions out of order ${there.disordered}, deadlocks ${there.deadlocks}; ` +
			`records computed anew ${checked}, otherwise ${wrong}; outcomes that nothing explains ${odd.length}`,
	);
	for (const each of odd.slice(0, 5)) console.log(`  ${each}`);
	console.log(status.trim());
}

await withDatabase(work);
