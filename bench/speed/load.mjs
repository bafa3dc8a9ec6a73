// (d) A file of 1,000,000 rows brought in, against psql's \copy of the same rows into a bare table with the same key.
import { execFile } from 'node:child_process';
import { createReadStream, createWriteStream, mkdtempSync, chmodSync, rmSync, statSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { startCluster, stopCluster } from '../../scripts/lib/cluster.mjs';
import { serveForAWhile } from '../../scripts/lib/served.mjs';

const ITEMS = 20_000;
const MONTHS = 50;
const ROUNDS = 3;
const run = promisify(execFile);

/** @param {(item: number, month: number, value: number) => string} line @param {string} [heading] */
function* rows(line, heading = '') {
	yield heading;
	for (let item = 0; item < ITEMS; item++) {
		let text = '';
		for (let month = 0; month < MONTHS; month++)
			text += line(item, month, ((item * 31 + month * 7919) % 997) + 3);
		yield text;
	}
}

/** @param {number[]} list */
const median = (list) => list.sort((a, b) => a - b)[list.length >> 1] ?? NaN;

export async function measureLoad() {
	const directory = mkdtempSync(join(tmpdir(), 'ventrel-load-'));
	chmodSync(directory, 0o755);
	const { url } = await startCluster(directory);
	const app = await serveForAWhile({ DATABASE_URL: url, VENTREL_DEMO: 'off' });
	try {
		const bare = join(directory, 'bare.tsv');
		const month = (/** @type {number} */ m) =>
			`${2020 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`;
		await pipeline(
			Readable.from(rows((item, m, value) => `1\t${item}\t${24_240 + m}\t1\t${value}\t1\n`)),
			createWriteStream(bare),
		);
		const sql = (/** @type {string[]} */ ...commands) =>
			run('psql', [url, '-v', 'ON_ERROR_STOP=1', ...commands.flatMap((command) => ['-c', command])]);
		await sql(
			`CREATE TABLE bare (workspace_id bigint, item_id bigint, period integer, revision integer, value double precision,
				data_change_id bigint, PRIMARY KEY (workspace_id, item_id, period, revision))`,
		);
		const ours = [];
		const theirs = [];
		let size = 0;
		for (let round = 0; round < ROUNDS; round++) {
			const file = join(directory, 'long.csv');
			const codes = rows(
				(item, m, value) => `R${round}-${item},${month(m)},${value}\n`,
				'item,month,pieces\n',
			);
			await pipeline(Readable.from(codes), createWriteStream(file));
			size = statSync(file).size;
			await sql('TRUNCATE bare', 'CHECKPOINT');
			let began = performance.now();
			await sql(`\\copy bare FROM '${bare}'`);
			theirs.push(performance.now() - began);
			// What the round before left to be done is not measured here: how its items stand, and tidying.
			await sql('DELETE FROM status_queue', 'VACUUM ANALYZE', 'CHECKPOINT');
			began = performance.now();
			const answer = await upload(`${app.address}/api/v1/bring-in/stream`, file);
			ours.push(performance.now() - began);
			if (!answer.includes(`"added":${ITEMS * MONTHS}`))
				throw new Error(`The file was not brought in whole: ${answer}`);
		}
		const [a, b] = [median(ours), median(theirs)];
		console.log(
			`(d) ${(ITEMS * MONTHS).toLocaleString('en')} rows, ${(size / 1e6).toFixed(0)} MB, brought in: ${(a / 1000).toFixed(2)} s; psql \\copy ${(b / 1000).toFixed(2)} s; ratio ${(a / b).toFixed(2)} (at most 2.5)`,
		);
	} finally {
		await app.stop();
		await stopCluster(directory);
		rmSync(directory, { recursive: true, force: true });
	}
}

/**
 * @param {string} address
 * @param {string} file
 * @returns {Promise<string>} the last line of the answer
 */
function upload(address, file) {
	return new Promise((resolve, reject) => {
		const sending = request(
			address,
			{ method: 'POST', headers: { 'content-type': 'application/octet-stream' } },
			(response) => {
				let text = '';
				response.on('data', (chunk) => (text = (text + chunk).slice(-2000)));
				response.on('end', () => resolve(text.trim().split('\n').at(-1) ?? ''));
			},
		);
		sending.on('error', reject);
		sending.write('{}\n');
		createReadStream(file).pipe(sending);
	});
}
