/** What benches of the served application share: a database for a while, items, heavy requests. */
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { applicationUrl } from '../../scripts/lib/application-role.mjs';
import { startCluster, stopCluster } from '../../scripts/lib/cluster.mjs';
import { migrate } from '../../scripts/migrate.mjs';
import type { RefusalBody } from '../../src/lib/wire/service';
import type { App } from '../../tests/support/app';

export const median = (list: readonly number[]): number => share(list, 0.5);
/** The value that so large a share lies at or below. */
export const share = (list: readonly number[], of: number): number =>
	[...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(of * list.length))] ?? NaN;

/** Runs work on a database of its own, in a cluster of its own. @param work with the application's address of it, and the owner's */
export async function withDatabase(
	work: (url: string, directory: string, ownerUrl: string) => Promise<void>,
): Promise<void> {
	const directory = mkdtempSync(join(tmpdir(), 'ventrel-bench-'));
	chmodSync(directory, 0o755);
	const { url } = await startCluster(directory);
	try {
		await migrate(url);
		await work(await applicationUrl(url), directory, url);
	} finally {
		await stopCluster(directory);
		rmSync(directory, { recursive: true, force: true });
	}
}

/** Items B-0, B-1, … of five years of months. @returns their codes */
export async function makeItems(app: App, count: number): Promise<string[]> {
	const codes = Array.from({ length: count }, (_, i) => `B-${i}`);
	for (const code of codes) {
		const text = Array.from(
			{ length: 60 },
			(_, t) =>
				`${2021 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')};${t % 29 === 7 ? '' : 200 + ((t * 37) % 41) + 3 * (t % 12)}`,
		).join('\n');
		await app.call('POST', '/items', { code, name: `Part ${code}`, text });
	}
	return codes;
}

/** Figures of one period of an item, as a table of its own. */
export async function bringFigure(app: App, code: string, period: string, figure: number) {
	const response = await fetch(`${app.url}/api/v1/bring-in`, {
		method: 'POST',
		headers: { 'content-type': 'application/octet-stream' },
		body: `${JSON.stringify({ items: [{ from: 'x', code, name: `Part ${code}` }] })}\nmonth;x\n${period};${figure}`,
	});
	return {
		status: response.status,
		body: (await response.json()) as { added: number; corrected: number }[] & RefusalBody,
	};
}

/** As heavy as one request may be: some seconds of arithmetic over 20,000 periods. */
export const heavyRequest = {
	series: {
		values: Array.from({ length: 20_000 }, (_, t) => 100 + (t % 24) + ((t * 7919) % 31)),
		frequency: 'step',
		seasonLength: 24,
	},
	candidates: [
		{ id: 'a', method: 'holt-winters', season: 'additive', optimise: {} },
		{ id: 'b', method: 'holt-winters', season: 'multiplicative', optimise: {} },
	],
};
