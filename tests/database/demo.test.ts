import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { expect, test } from 'vitest';
import { makeDemo } from '../../scripts/lib/demo.mjs';
import { everyItem, startApp } from '../support/app';
import { makeDatabase } from '../support/database';

const KEPT = new URL('../../demo/depot.gz', import.meta.url);

test('the demo data that are kept are what their program makes; npm run demo keeps them anew', async () => {
	const database = await makeDatabase();
	const kept = gunzipSync(readFileSync(KEPT)).toString().split('\n');
	const made = (await makeDemo(database.url)).split('\n');
	expect(made.length).toBe(kept.length);
	// The first line that differs says more than all of them.
	const at = made.findIndex((line, i) => line !== kept[i]);
	expect(made[at]).toBe(kept[at]);
	await database.drop();
});

test('laid out they are a workspace as any: every record is calculated anew to the same figures', async () => {
	const database = await makeDatabase();
	const app = await startApp(database.url, { demo: true });
	const items = await everyItem(app);
	expect(items.length).toBeGreaterThanOrEqual(36);
	for (const { code } of items.filter((_, i) => i % 5 === 0)) {
		const { body } = await app.call<{ id: number }[]>('GET', `/items/${code}/adopted`);
		const newest = body[0];
		if (!newest) continue;
		const again = await app.call('GET', `/items/${code}/adopted/${newest.id}`);
		expect([code, again.status, again.body]).toMatchObject([code, 200, { sameFigures: true }]);
	}
	const { rows } = await database.client.query(
		`SELECT count(*)::integer AS later FROM adopted_forecast WHERE adopted_at > now()`,
	);
	expect(rows[0].later).toBe(0);
	await app.stop();
	await database.drop();
});
