// A month by a program: VENTREL=http://127.0.0.1:4680 TOKEN=ventrel_… node month.mjs TABLE.csv; the token has the role “work”.
import { readFileSync, writeFileSync } from 'node:fs';

const [table] = process.argv.slice(2);
async function call(method, path, body, more) {
	const own = { authorization: `Bearer ${process.env.TOKEN}`, 'content-type': 'application/json' };
	const headers = { ...own, ...more };
	const answer = await fetch(`${process.env.VENTREL}/api/v1${path}`, { method, headers, body });
	const said = JSON.parse((await answer.text()).trim().split('\n').at(-1));
	if (!answer.ok || said.refused) throw new Error(`${method} ${path}: ${(said.refused ?? said).message}`);
	return said;
}
async function until(path, isDone) {
	for (let now; ; await new Promise((done) => setTimeout(done, 500)))
		if (isDone((now = await call('GET', path)))) return now;
}
/** Begun once under its key, however often this runs for the same table. */
async function sweep(wanted) {
	const key = { 'idempotency-key': `${table} ${wanted.kind}` };
	const { id } = await call('POST', '/sweeps', JSON.stringify(wanted), key);
	return until(`/sweeps/${id}`, ({ sweep }) => sweep.endedAt !== null);
}

const bytes = `${JSON.stringify({ fileName: table })}\n${readFileSync(table, 'utf8')}`;
const octets = { 'content-type': 'application/octet-stream' };
const { done } = await call('POST', '/bring-in/stream', bytes, octets);
await until('/overview', ({ working }) => working === 0);
const updated = await sweep({ kind: 'update', items: { asked: { which: 'well' } } });
const reason = 'the month, by a program';
if (updated.sums.ready > 0)
	await sweep({ kind: 'adopt', of: updated.sweep.id, items: { rule: 'all' }, reason });
console.log(`${done.added} figures in, ${updated.sums.ready} forecasts updated. To check:`);
for (let from = ''; from !== null;) {
	const { items, next } = await call('GET', `/items?why=look${from}`);
	for (const { code, status } of items) console.log(code, status.reasons.map((each) => each.code).join(', '));
	from = next && `&from=${encodeURIComponent(JSON.stringify(next))}`;
}
const forecasts = await call('GET', '/forecasts');
for (let some = forecasts; some.length > 0; forecasts.push(...some))
	some = await call('GET', `/forecasts?after=${encodeURIComponent(forecasts.at(-1).code)}`);
writeFileSync('forecasts.json', JSON.stringify(forecasts));
