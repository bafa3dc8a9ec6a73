// A month by a program: VENTREL=http://127.0.0.1:4680 TOKEN=ventrel_… node month.mjs TABLE.csv; the token has the role “work”.
import { readFileSync, writeFileSync } from 'node:fs';

const { VENTREL, TOKEN } = process.env;
const table = process.argv[2];
async function call(method, path, body, more = {}) {
	const headers = {
		authorization: `Bearer ${TOKEN}`,
		...(body && { 'content-type': 'application/json' }),
		...more,
	};
	const answer = await fetch(`${VENTREL}/api/v1${path}`, { method, headers, body });
	const said = JSON.parse((await answer.text()).trim().split('\n').at(-1));
	if (!answer.ok || said.refused) throw new Error(`${method} ${path}: ${(said.refused ?? said).message}`);
	return said;
}
async function until(path, isDone) {
	for (;;) {
		const now = await call('GET', path);
		if (isDone(now)) return now;
		await new Promise((done) => setTimeout(done, 500));
	}
}
/** Begun once under its key, however often this runs for the same table. */
async function sweep(wanted) {
	const key = { 'idempotency-key': `${table} ${wanted.kind}` };
	const { id } = await call('POST', '/sweeps', JSON.stringify(wanted), key);
	return until(`/sweeps/${id}`, ({ sweep }) => sweep.endedAt !== null);
}

const bytes = `{"fileName":"${table.split('/').at(-1)}"}\n${readFileSync(table, 'utf8')}`;
const { done } = await call('POST', '/bring-in/stream', bytes, {
	'content-type': 'application/octet-stream',
});
await until('/overview', ({ working }) => working === 0);
const { items } = await call('GET', '/items?why=look&most=1000');
const well = { asked: {}, except: items.map(({ code }) => code) };
const updated = await sweep({ kind: 'update', items: well });
const reason = 'the month, by a program';
if (updated.sums.ready > 0)
	await sweep({ kind: 'adopt', of: updated.sweep.id, items: { rule: 'all' }, reason });
writeFileSync('forecasts.json', JSON.stringify(await call('GET', '/forecasts')));
console.log(`${done.added} figures in, ${updated.sums.ready} forecasts updated. To check:`);
for (const { code, status } of items)
	console.log(code, status.reasons.map(({ code: why }) => why).join(', '));
