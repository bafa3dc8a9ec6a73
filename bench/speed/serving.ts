/**
 * What serving takes while 20 of the heaviest allowed requests run and 300 sockets hang: health, an item's page, an item's figures.
 * Meant: at most 20 ms in the median and 100 ms at worst.
 */
import { connect, type Socket } from 'node:net';
import { startApp } from '../../tests/support/app';
import { heavyRequest, makeItems, median, share, withDatabase } from './serving-support';

const HEAVY = 20;
const HANGING = 300;
const SECONDS = 60;
/** Milliseconds between one question and the next, as of people who click. */
const EVERY = 40;

await withDatabase(async (url) => {
	const app = await startApp(url);
	await makeItems(app, 3);
	const body = JSON.stringify(heavyRequest);
	const post = (signal?: AbortSignal) =>
		fetch(`${app.url}/api/v1/evaluate`, {
			method: 'POST',
			body,
			headers: { 'content-type': 'application/json' },
			...(signal && { signal }),
		});
	const quiet = await measure(app.url, 8);

	const { hostname, port } = new URL(app.url);
	const sockets: Socket[] = [];
	for (let i = 0; i < HANGING; i++) {
		const socket = connect(Number(port), hostname);
		socket.on('error', () => undefined);
		// Some say nothing, some stop within the head, some within the body.
		socket.write(
			[
				'',
				'POST /api/v1/items HTTP/1.1\r\nhost: ',
				`POST /api/v1/items HTTP/1.1\r\nhost: ${hostname}:${port}\r\ncontent-type: application/json\r\ncontent-length: 500\r\n\r\n{`,
			][i % 3]!,
		);
		sockets.push(socket);
	}
	const stop = new AbortController();
	let answered = 0;
	let turnedAway = 0;
	const heavy = Array.from({ length: HEAVY }, async () => {
		while (!stop.signal.aborted) {
			const answer = await post(stop.signal).catch(() => null);
			if (!answer) return;
			await answer.arrayBuffer().catch(() => undefined);
			if (answer.status === 200) answered++;
			else turnedAway++;
		}
	});
	const busy = await measure(app.url, SECONDS);
	stop.abort();
	await Promise.all(heavy);
	for (const socket of sockets) socket.destroy();
	await app.stop();
	console.log(
		`\nserving, while ${HEAVY} of the heaviest requests run (${answered} answered, ${turnedAway} refused in ${SECONDS} s) and ${HANGING} sockets hang:`,
	);
	for (const name of Object.keys(busy))
		console.log(
			`  ${name.padEnd(16)} median ${median(busy[name]!).toFixed(1)} ms, 99 % within ${share(busy[name]!, 0.99).toFixed(1)}, worst ${Math.max(...busy[name]!).toFixed(1)} of ${busy[name]!.length}; quiet: median ${median(quiet[name]!).toFixed(1)}, worst ${Math.max(...quiet[name]!).toFixed(1)}`,
		);
});

async function measure(address: string, seconds: number): Promise<Record<string, number[]>> {
	const paths = { health: '/api/v1/health', 'an item’s page': '/items/B-1', 'an item': '/api/v1/items/B-1' };
	const times: Record<string, number[]> = Object.fromEntries(Object.keys(paths).map((name) => [name, []]));
	const until = performance.now() + 1000 * seconds;
	// What is compiled at the first call is no part of serving.
	for (const path of Object.values(paths))
		for (let i = 0; i < 5; i++) await (await fetch(address + path)).text();
	while (performance.now() < until) {
		for (const [name, path] of Object.entries(paths)) {
			const at = performance.now();
			const answer = await fetch(address + path);
			await answer.text();
			if (answer.status !== 200) throw new Error(`${name} answers ${answer.status}`);
			times[name]!.push(performance.now() - at);
			await new Promise((done) => setTimeout(done, EVERY));
		}
	}
	return times;
}
