/**
 * What signing in costs, and what it costs everybody else: a sign-in (meant: 100 to 300 ms of a thread), a signed-in list beside the
 * open one (at most 1.1 times), and how health answers while 500 wrong sign-ins come each second (under 100 ms).
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { hash, verify } from '@node-rs/argon2';
import pg from 'pg';
import { saySignIn } from '../../scripts/lib/access.mjs';
import { startApp } from '../../tests/support/app';
import { makePerson, PASSWORD, signIn, startForPeople } from '../../tests/support/people';
import { makeItems, median, share, withDatabase } from './serving-support';

const SIGN_INS = 20;
const LISTS = 300;
const A_SECOND = 500;
const SECONDS = 10;
const ITEMS = 200;

/** Wrong sign-ins from as many addresses, so that each is looked at; what became of them, by status. */
const FLOOD = `
const { AT, A_SECOND, SECONDS } = process.env;
const statuses = {};
let sent = 0;
const pending = [];
const began = performance.now();
const note = (status) => { statuses[status] = (statuses[status] ?? 0) + 1; };
while (performance.now() - began < 1000 * SECONDS) {
	const due = Math.floor(((performance.now() - began) / 1000) * A_SECOND);
	for (; sent < due; sent++)
		pending.push(fetch(AT + '/api/v1/sign-in', {
			method: 'POST',
			headers: { 'content-type': 'application/json', 'x-forwarded-for': '10.' + (sent % 200) + '.' + (Math.floor(sent / 200) % 200) + '.7' },
			body: JSON.stringify({ name: 'nobody ' + sent, password: 'a guess' }),
		}).then(async (answer) => { await answer.arrayBuffer(); note(answer.status); }, () => note('failed')));
	await new Promise((done) => setTimeout(done, 5));
}
const lasted = (performance.now() - began) / 1000;
await Promise.all(pending);
console.log(JSON.stringify({ sent, lasted, statuses }));
`;

const timed = async (work: () => Promise<unknown>): Promise<number> => {
	const began = performance.now();
	await work();
	return performance.now() - began;
};
const whole = (milliseconds: number) => milliseconds.toFixed(0);

await withDatabase(async (url, _, ownerUrl) => {
	const client = new pg.Client({ connectionString: ownerUrl });
	await client.connect();
	const database = { url, ownerUrl, client, drop: async () => undefined };
	// The same items, served open and to people, asked in turns.
	const open = await startApp(url);
	await makeItems(open, ITEMS);
	const app = await startForPeople(database, { env: { VENTREL_PROXY: '127.0.0.1' } });
	const anna = await makePerson(database, app, 'Anna', 'manage');

	const hashed = await hash(PASSWORD, { memoryCost: 65_536, timeCost: 6, parallelism: 1 });
	const ofThread: number[] = [];
	const signing_: number[] = [];
	const ofServing: number[] = [];
	for (let i = 0; i < SIGN_INS; i++) {
		ofThread.push(await timed(() => verify(hashed, PASSWORD)));
		const signing = timed(() => signIn(app, 'Anna'));
		// Health is asked of the serving thread meanwhile.
		ofServing.push(await timed(() => fetch(`${app.url}/api/v1/health`)));
		signing_.push(await signing);
	}
	console.log(
		`a sign-in: ${whole(median(signing_))} ms in the median, ${whole(share(signing_, 0.95))} in the 95th; of it comparing the password ${whole(median(ofThread))} ms of a thread; health meanwhile ${median(ofServing).toFixed(1)} ms, ${whole(Math.max(...ofServing))} at worst`,
	);

	const list = (address: string, headers: Record<string, string>) => () =>
		fetch(`${address}/api/v1/items`, { headers }).then((answer) => answer.arrayBuffer());
	const page = (address: string, headers: Record<string, string>) => () =>
		fetch(`${address}/items`, { headers }).then((answer) => answer.arrayBuffer());
	for (const [name, ask] of [
		['list', list],
		['page of items', page],
	] as const) {
		const times: [number[], number[]] = [[], []];
		for (let i = 0; i < LISTS; i++) {
			times[0].push(await timed(ask(open.url, {})));
			times[1].push(await timed(ask(app.url, anna.headers)));
		}
		const [alone, signedIn] = times.map((each) => median(each.slice(20))) as [number, number];
		console.log(
			`the ${name}: ${signedIn.toFixed(1)} ms signed in, ${alone.toFixed(1)} ms open, ${(signedIn / alone).toFixed(2)} times`,
		);
	}

	// By another process: whoever asks after health is not held up by what it sends itself.
	const flood = spawn(process.execPath, ['--input-type=module', '-e', FLOOD], {
		stdio: ['ignore', 'pipe', 'inherit'],
		env: { ...process.env, AT: app.url, A_SECOND: String(A_SECOND), SECONDS: String(SECONDS) },
	});
	let said = '';
	flood.stdout.on('data', (text: Buffer) => (said += text.toString()));
	let asking = true;
	void once(flood, 'exit').then(() => (asking = false));
	const health: number[] = [];
	while (asking) {
		health.push(await timed(() => fetch(`${app.url}/api/v1/health`)));
		await new Promise((done) => setTimeout(done, 20));
	}
	const { sent, lasted, statuses } = JSON.parse(said) as {
		sent: number;
		lasted: number;
		statuses: Record<string, number>;
	};
	console.log(
		`${whole(sent / lasted)} wrong sign-ins a second for ${whole(lasted)} s: health ${median(health).toFixed(1)} ms in the median, ${whole(share(health, 0.99))} in the 99th, ${whole(Math.max(...health))} at worst (${health.length} asked); answered ${Object.entries(
			statuses,
		)
			.map(([status, count]) => `${status}: ${count}`)
			.join(', ')}`,
	);
	await app.stop();
	await open.stop();
	await saySignIn(ownerUrl, false);
	await client.end();
});
