import { mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import papaparse from 'papaparse';
import { guarded } from '../../reading/guarded';
import { ASKED_ALL } from '../../wire/asked';
import { againAndAgain } from '../again';
import { pool, whereFree } from '../database/database';
import { LOCKS } from '../database/locks';
import { firstWorkspace } from '../database/workspaces';
import { loadForecasts } from './forecasts';

/**
 * A folder that final forecasts are written to after each round: as soon as something was adopted and nothing more has been for a few
 * seconds. The number of the newest record stands in the name, so that no round is written twice.
 */

const LOOK = 2_000;
/** Seconds without another one. */
const QUIET = 5;
const NAME = /^forecasts-\d{8}T\d{6}-(\d+)\.csv$/;

/** Writes to a folder after each round. @returns ends it */
export const fillOutbox = (folder: string): (() => void) =>
	againAndAgain(LOOK, () => writeRound(folder), 'final forecasts could not be written to the outbox');

/** @param quiet seconds without another record @returns the file that was written; null where there was nothing to write */
export async function writeRound(folder: string, quiet = QUIET): Promise<string | null> {
	await mkdir(folder, { recursive: true });
	const workspace = await firstWorkspace();
	if (!workspace) return null;
	return whereFree(LOCKS.outbox, async () => {
		const names = await readdir(folder);
		for (const name of names)
			if (name.endsWith('.csv.partial')) await rm(join(folder, name), { force: true });
		const written = Math.max(0, ...names.map((name) => Number(NAME.exec(name)?.[1] ?? 0)));
		const { rows } = await pool().query<{ newest: number; quiet: boolean; open: boolean }>(
			`SELECT coalesce(max(id), 0) AS newest, coalesce(max(adopted_at) < now() - make_interval(secs => $2), false) AS quiet, EXISTS (
				SELECT FROM sweep WHERE workspace_id = $1 AND kind = 'adopt' AND ended_at IS NULL
			) AS open FROM adopted_forecast WHERE workspace_id = $1`,
			[workspace.id, quiet],
		);
		const round = rows[0]!;
		if (round.newest <= written || !round.quiet || round.open) return null;
		const at = new Date().toISOString().slice(0, 19).replace(/[-:]/g, '');
		const target = join(folder, `forecasts-${at}-${round.newest}.csv`);
		await writeForecasts(workspace.id, `${target}.partial`);
		await rename(`${target}.partial`, target);
		return target;
	});
}

const HEAD = [
	'code',
	'name',
	'unit',
	'frequency',
	'period',
	'computed',
	'final',
	'reason',
	'method',
	'adopted',
	'by',
];

/** All final forecasts for periods to come, a row a period, two hundred items at a time. */
async function writeForecasts(workspaceId: number, path: string): Promise<void> {
	const file = await open(path, 'w');
	try {
		await file.write(`${HEAD.join(',')}\r\n`);
		for (let after: string | null = null; ;) {
			const some = await loadForecasts(workspaceId, ASKED_ALL, after);
			if (some.length === 0) break;
			const rows = some.flatMap(({ code, name, unit, frequency, adopted, steps }) =>
				steps.map(({ period, computed, final, reason }) => [
					guarded(code),
					guarded(name),
					guarded(unit),
					frequency,
					String(period),
					computed,
					final,
					guarded(reason ?? ''),
					guarded(adopted.label),
					adopted.at,
					guarded(adopted.by),
				]),
			);
			await file.write(`${papaparse.unparse(rows)}\r\n`);
			after = some.at(-1)!.code;
		}
		await file.sync();
	} finally {
		await file.close();
	}
}
