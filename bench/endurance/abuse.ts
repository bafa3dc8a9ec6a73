/**
 * Requests drawn from the schemas, and near misses of them: 200,000 to the core in process, 5,000 calls over HTTP beside an analyst who
 * works in a browser. No fault of ours, no answer outside its schema, nothing that takes longer than it may; the slowest ten are said.
 *
 * And health while what is large and wrong is refused.
 *
 * `npm run bench -- abuse [process|http|refusing] [count]`; a request is told by its seed.
 */
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { Key } from 'selenium-webdriver';
import * as v from 'valibot';
import { AnswerSchema } from '../../src/core/questions/answer';
import { refuseCostly } from '../../src/core/questions/cost';
import { evaluate } from '../../src/core/questions/evaluate';
import { parseRequest, RequestError } from '../../src/core/questions/request';
import type { Item } from '../../src/lib/wire/items';
import { startApp, workOn } from '../../tests/support/app';
import { drawCall, faultOf, type Known } from '../../tests/support/calls';
import { drawRequest } from '../../tests/support/from-schema';
import { openPage } from '../../tests/support/page';
import { makeItems, median, share, withDatabase } from '../speed/serving-support';

interface Tally {
	answered: number;
	refused: number;
	faults: string[];
	slowest: { seed: number; milliseconds: number; what: string }[];
	memory: number;
	milliseconds: number;
}

/** Every `step`-th request from a seed on, one after the other. */
function inProcess(from: number, to: number, step: number): Tally {
	const tally: Tally = { answered: 0, refused: 0, faults: [], slowest: [], memory: 0, milliseconds: 0 };
	const began = performance.now();
	for (let seed = from; seed <= to; seed += step) {
		const request = drawRequest(seed);
		const at = performance.now();
		try {
			refuseCostly(parseRequest(request));
			const answer = evaluate(request);
			tally.answered++;
			const issue = v.safeParse(AnswerSchema, answer).issues?.[0];
			if (issue) tally.faults.push(`${seed}: ${v.getDotPath(issue)}: ${issue.message}`);
		} catch (error) {
			if (error instanceof RequestError) tally.refused++;
			else tally.faults.push(`${seed}: ${error instanceof Error ? error.stack : String(error)}`);
		}
		const milliseconds = performance.now() - at;
		if (tally.slowest.length < 10 || milliseconds > tally.slowest.at(-1)!.milliseconds) {
			const candidates: unknown = (request as { candidates?: unknown } | null)?.candidates;
			const what = Array.isArray(candidates)
				? candidates.map((one: { method?: string } | null) => one?.method).join(' ')
				: '';
			tally.slowest.push({ seed, milliseconds, what });
			tally.slowest.sort((a, b) => b.milliseconds - a.milliseconds).splice(10);
		}
		if (seed % 97 === 0) tally.memory = Math.max(tally.memory, process.memoryUsage().rss / 1e6);
	}
	tally.milliseconds = performance.now() - began;
	return tally;
}

/** Both cores, a process each: what one keeps of the last request shows in the memory of the next. */
async function processPart(count: number): Promise<void> {
	const shards = await Promise.all(
		[1, 2].map(
			(from) =>
				new Promise<Tally>((resolve, reject) => {
					const child = fork(fileURLToPath(import.meta.url), ['shard', String(from), String(count)]);
					child.once('message', (tally) => resolve(tally as Tally));
					child.once('exit', (code) => code && reject(new Error(`a shard ended with ${code}`)));
				}),
		),
	);
	const sum = (key: 'answered' | 'refused') => shards.reduce((total, tally) => total + tally[key], 0);
	const faults = shards.flatMap((tally) => tally.faults);
	console.log(
		`\nabuse, in process: ${count} requests, ${sum('answered')} answered, ${sum('refused')} refused, ${faults.length} faults; ` +
			`${(Math.max(...shards.map((tally) => tally.milliseconds)) / 1000).toFixed(0)} s on two cores, at most ${Math.max(...shards.map((tally) => tally.memory)).toFixed(0)} MB in one process`,
	);
	for (const fault of faults.slice(0, 10)) console.log(`  fault ${fault}`);
	console.log('  slowest:');
	const slowest = shards.flatMap((tally) => tally.slowest).sort((a, b) => b.milliseconds - a.milliseconds);
	for (const { seed, milliseconds, what } of slowest.slice(0, 10))
		console.log(`    ${milliseconds.toFixed(0).padStart(6)} ms  request ${seed}: ${what}`);
}

/** Calls at once, and milliseconds that one may take: a table may take a minute, and what stands before it in line as well. */
const AT_ONCE = 8;
const DEADLINE = 130_000;

async function httpPart(count: number): Promise<void> {
	await withDatabase(async (url) => {
		const app = await startApp(url);
		const codes = await makeItems(app, 6);
		const known = new Map<string, Known>();
		const refresh = async (code: string) => {
			const { status, body } = await app.call<Item>('GET', `/items/${code}`);
			if (status !== 200) return;
			const { seen, layers, lineUp, name, unit, adopted } = body;
			known.set(code, {
				seen,
				seenLayers: layers.newest,
				seenRecord: adopted?.id ?? null,
				version: lineUp.version,
				name,
				unit,
			});
		};
		for (const code of codes) await refresh(code);
		await workOn(app, codes.at(-1)!);
		const health = watchHealth(app.url);
		const analyst = startAnalyst(app.url);
		const faults: string[] = [];
		const statuses = new Map<number, number>();
		const slowest: { seed: number; milliseconds: number; what: string }[] = [];
		let next = 1;
		const began = performance.now();
		const caller = async () => {
			while (next <= count) {
				const seed = next++;
				// The last item is the analyst's.
				const call = drawCall(seed, codes.slice(0, -1), (code) => known.get(code) ?? null);
				const at = performance.now();
				const what = `${call.method} ${call.path.slice(0, 60)}`;
				try {
					const answer = await fetch(`${app.url}/api/v1${call.path}`, {
						method: call.method,
						signal: AbortSignal.timeout(DEADLINE),
						...(call.body !== null && { body: call.body, headers: { 'content-type': call.type! } }),
					});
					const text = await answer.text();
					statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
					const fault = faultOf(call, answer.status, text);
					if (fault) faults.push(`${seed} ${what}: ${fault}`);
				} catch (error) {
					faults.push(`${seed} ${what}: ${String(error)}`);
				}
				const milliseconds = performance.now() - at;
				slowest.push({ seed, milliseconds, what });
				if (call.method !== 'GET') await refresh(codes[seed % codes.length]!);
			}
		};
		await Promise.all(Array.from({ length: AT_ONCE }, caller));
		const seconds = (performance.now() - began) / 1000;
		const { opened, turned } = await analyst.stop();
		const healths = await health.stop();
		const healthy = (await app.call('GET', '/health')).status === 200;
		await app.stop();
		console.log(
			`\nabuse, over HTTP: ${count} calls in ${seconds.toFixed(0)} s, ${AT_ONCE} at once; by status ${[
				...statuses,
			]
				.sort()
				.map(([status, times]) => `${status}: ${times}`)
				.join(', ')}; ` + `${faults.length} faults; the server ${healthy ? 'goes on' : 'is gone'}`,
		);
		for (const fault of faults.slice(0, 20)) console.log(`  fault ${fault}`);
		console.log(
			`  the analyst meanwhile: ${opened.length} items opened, median ${median(opened).toFixed(0)} ms, worst ${Math.max(...opened).toFixed(0)}; ` +
				`${turned.length} dials turned and saved, median ${median(turned).toFixed(0)} ms, worst ${Math.max(...turned).toFixed(0)}`,
		);
		console.log(`  health meanwhile: ${healthWords(healths)}`);
		console.log('  slowest:');
		for (const { seed, milliseconds, what } of slowest
			.sort((a, b) => b.milliseconds - a.milliseconds)
			.slice(0, 10))
			console.log(`    ${milliseconds.toFixed(0).padStart(6)} ms  call ${seed}: ${what}`);
	});
}

/** Asks for health again and again. */
function watchHealth(address: string): { stop(): Promise<number[]> } {
	let working = true;
	const work = (async () => {
		const taken: number[] = [];
		while (working) {
			const at = performance.now();
			await (await fetch(`${address}/api/v1/health`)).text();
			taken.push(performance.now() - at);
			await new Promise((done) => setTimeout(done, 10));
		}
		return taken;
	})();
	return {
		stop: () => {
			working = false;
			return work;
		},
	};
}

const healthWords = (taken: readonly number[]) =>
	`${taken.length} times, median ${median(taken).toFixed(1)} ms, 99 of 100 within ${share(taken, 0.99).toFixed(0)}, worst ${Math.max(...taken).toFixed(0)}; ${taken.filter((each) => each > 100).length} over 100 ms`;

/** Rounds of what is refused for being wrong in many places, one after the other. */
const ROUNDS = 40;

/** Whether the server goes on serving while it refuses what is large. */
async function refusingPart(): Promise<void> {
	await withDatabase(async (url) => {
		const app = await startApp(url);
		await makeItems(app, 1);
		const wrongIndices = Array.from({ length: 100 }, (_, c) => ({
			id: `c${c}`,
			method: 'seasonal-index',
			season: 'multiplicative',
			index: { rule: 'given', indices: new Array(2000).fill('x') },
			level: { rule: 'last-cycle' },
		}));
		const keys = Object.fromEntries(Array.from({ length: 300_000 }, (_, i) => [`k${i}`, 1]));
		const labels = Array.from({ length: 270_000 }, (_, i) => [`k${i}`, 'x']);
		const cases: [string, string, string, string][] = [
			[
				'270,000 wanted labels',
				'POST',
				'/several',
				JSON.stringify({ items: { asked: { labels } }, change: { hidden: true } }),
			],
			[
				'100 candidates of 2,000 wrong indices',
				'PUT',
				'/items/B-0/line-up',
				JSON.stringify({ version: 0, candidates: wrongIndices }),
			],
			['a list of ones', 'POST', '/sweeps', `[${'1,'.repeat(1_900_000)}1]`],
			['300,000 keys', 'PATCH', '/items/B-0', JSON.stringify(keys)],
			['300,000 keys where much is taken', 'POST', '/several', JSON.stringify(keys)],
			[
				'a head of 13 MB',
				'POST',
				'/bring-in/stream',
				`{"choices":{"columns":${JSON.stringify(Object.fromEntries(Array.from({ length: 800_000 }, (_, i) => [i, 'item'])))}}}\nx`,
			],
		];
		console.log('\nabuse, refusing what is large and wrong, one after the other:');
		for (const [name, method, path, body] of cases) {
			const health = watchHealth(app.url);
			const taken: number[] = [];
			const statuses = new Set<number>();
			for (let round = 0; round < ROUNDS; round++) {
				const at = performance.now();
				const answer = await fetch(`${app.url}/api/v1${path}`, {
					method,
					body,
					headers: {
						'content-type': path.endsWith('stream') ? 'application/octet-stream' : 'application/json',
					},
				});
				await answer.text();
				statuses.add(answer.status);
				taken.push(performance.now() - at);
			}
			console.log(
				`  ${name}, ${(body.length / 1e6).toFixed(1)} MB: ${[...statuses].join(', ')}, median ${median(taken).toFixed(0)} ms; health ${healthWords(await health.stop())}`,
			);
		}
		await app.stop();
	});
}

/** Opens an item, turns a dial, waits until it is saved, again and again. */
function startAnalyst(address: string): { stop(): Promise<{ opened: number[]; turned: number[] }> } {
	let working = true;
	const work = (async () => {
		const page = await openPage({ url: address } as Parameters<typeof openPage>[0]);
		const opened: number[] = [];
		const turned: number[] = [];
		while (working) {
			let at = performance.now();
			await page.open('/items/B-5?view=ahead&candidate=c');
			await page.reads('[data-ahead="1"]', /\d/);
			opened.push(performance.now() - at);
			const dial = await page.find('[data-candidate="c"] [type="range"]');
			await dial.click();
			at = performance.now();
			await page.keys(turned.length % 2 ? Key.HOME : Key.END);
			await page.reads('[data-saving]', /^(saving…|saved)$/);
			await page.reads('[data-saving]', /^saved$/);
			turned.push(performance.now() - at);
		}
		await page.close();
		return { opened, turned };
	})();
	return {
		stop: () => {
			working = false;
			return work;
		},
	};
}

// Behind the name of the bench, or of this file where it is a shard.
const given = process.argv.slice(2).filter((argument) => argument !== 'abuse');
const [part, count, last] = given;
if (part === 'shard') process.send!(inProcess(Number(count), Number(last), 2));
else {
	if (part === undefined || part === 'process') await processPart(Number(count ?? 200_000));
	if (part === undefined || part === 'http') await httpPart(Number(count ?? 5_000));
	if (part === undefined || part === 'refusing') await refusingPart();
}
