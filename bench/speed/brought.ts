/**
 * Twenty thousand items with years of records, a month of figures brought in for all of them, until the status of all is current:
 * against the arithmetic of status alone, on all cores. npm run bench -- brought
 */
import { availableParallelism } from 'node:os';
import pg from 'pg';
import { formatPeriod } from '../../src/core/series/period';
import { statusRow, watch, WATCHED, type WatchedItem } from '../../src/lib/server/status/status-row';
import { demoIsThere, startApp, startWorker, until } from '../../tests/support/app';
import { withDatabase } from './serving-support';

const LONG = 1_800_000;
const AT_ONCE = 50;

await withDatabase(async (url, _, ownerUrl) => {
	let began = performance.now();
	const app = await startApp(url, { env: { VENTREL_DEMO: 'large' } });
	await demoIsThere(app);
	const client = new pg.Client({ connectionString: ownerUrl });
	await client.connect();
	// As the application reads them.
	pg.types.setTypeParser(pg.types.builtins.INT8, Number);
	const settled = () =>
		until(
			async () => (await client.query('SELECT FROM status_queue LIMIT 1')).rows.length === 0,
			'the status of all items',
			LONG,
		);
	await settled();
	const there = (performance.now() - began) / 1000;
	const { rows: reasons } = await client.query<{ why: string; items: number }>(
		`SELECT coalesce(why[1], CASE WHEN waits THEN 'not-in' END) AS why, count(*) AS items FROM item_status
		WHERE NOT retired GROUP BY 1 HAVING coalesce(why[1], CASE WHEN waits THEN 'not-in' END) IS NOT NULL ORDER BY 2 DESC`,
	);
	console.log(
		`20,000 items with years of records are there, their status too, after ${there.toFixed(0)} s; to look at: ${reasons.map(({ why, items }) => `${items} ${why}`).join(', ')}`,
	);
	const worker = await startWorker(url);
	try {
		const { rows: items } = await client.query<{ code: string; last: number; value: number }>(
			`SELECT item.code, last_period AS last, value FROM item
			JOIN item_status ON item_status.workspace_id = item.workspace_id AND item_status.item_id = item.id
			CROSS JOIN LATERAL (
				SELECT value FROM actual WHERE actual.workspace_id = item.workspace_id AND actual.item_id = item.id AND period = last_period LIMIT 1
			) latest
			WHERE item.retired_at IS NULL ORDER BY 1`,
		);
		const table = [
			'item,month,demand',
			...items.map(({ code, last, value }) => `${code},${formatPeriod('month', last + 1)},${value}`),
			'',
		].join('\n');
		began = performance.now();
		const response = await fetch(`${app.url}/api/v1/bring-in/stream`, {
			method: 'POST',
			headers: { 'content-type': 'application/octet-stream' },
			body: `{"fileName":"month.csv"}\n${table}`,
		});
		const said = (await response.text()).trim().split('\n').at(-1)!;
		const stored = (performance.now() - began) / 1000;
		if (!said.includes('done')) throw new Error(said);
		await settled();
		const took = (performance.now() - began) / 1000;
		const { rows: watched } = await client.query<WatchedItem>(`${WATCHED} ORDER BY item.id`);
		let arithmetic = 0;
		for (let at = 0; at < watched.length; at += AT_ONCE) {
			const evidence = await watch(client, watched.slice(at, at + AT_ONCE));
			const from = performance.now();
			for (const each of evidence) statusRow(each);
			arithmetic += performance.now() - from;
		}
		const alone = arithmetic / 1000 / availableParallelism();
		console.log(
			`a month of figures of ${items.length} items: stored after ${stored.toFixed(1)} s, the status of all current after ${took.toFixed(1)}; the arithmetic of it alone takes ${alone.toFixed(1)} s on ${availableParallelism()} cores: × ${((took - stored) / alone).toFixed(1)} from being stored, × ${(took / alone).toFixed(1)} from the beginning`,
		);
	} finally {
		await client.end();
		await worker.stop();
		await app.stop();
	}
});
