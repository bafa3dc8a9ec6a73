import { gunzipSync } from 'node:zlib';
import { read } from '$app/server';
import kept from '../../../../demo/depot.gz?url';
import type { DemoProgress } from '../../wire/service';
import { pool, whenFree } from '../database/database';
import { LOCKS } from '../database/locks';
import { log } from '../log';
import { processQueue } from '../status/status';
import { changing, createWorkspace, demoActor, firstWorkspace } from '../database/workspaces';
import { layOutKept } from './kept';
import { loadLargeDemo } from './large';

let progress: DemoProgress | null = null;

/** How far the large demo is; null where none is being laid out. */
export const demoProgress = (): DemoProgress | null => progress;

/**
 * Gives a database without a workspace its first one, with the demo data unless VENTREL_DEMO is `off`. Where it is `large`, twenty
 * thousand items are laid out while the server already answers.
 * Killed half way, the next start begins again.
 */
export async function prepareWorkspace(): Promise<void> {
	// Pages find it at once; another start that lays the demo out is waited for behind.
	const workspaceId = await whenFree(LOCKS.workspace, createFirst);
	if (!isWanted()) return;
	const filled = () => whenFree(LOCKS.demo, () => fill(workspaceId));
	if (process.env.VENTREL_DEMO !== 'large') return filled();
	progress = { done: 0, of: 0, failed: null };
	void filled()
		.then(() => (progress = null))
		.catch((error: unknown) => {
			log.error(
				{ reason: error instanceof Error ? error.stack : String(error) },
				'the demo was not laid out',
			);
			progress = { done: 0, of: 0, failed: error instanceof Error ? error.message : String(error) };
		});
}

const isWanted = () => process.env.VENTREL_DEMO !== 'off';

async function createFirst(): Promise<number> {
	const workspace = await firstWorkspace();
	return workspace?.id ?? createWorkspace(pool(), isWanted() ? 'Kestrel Bay Cycle Supply' : 'Workspace');
}

/** Lays the demo out in a workspace that has no items. */
async function fill(workspaceId: number): Promise<void> {
	const { rowCount } = await pool().query('SELECT FROM item WHERE workspace_id = $1 LIMIT 1', [workspaceId]);
	if (rowCount !== 0) return;
	const began = performance.now();
	if (process.env.VENTREL_DEMO === 'large')
		await loadLargeDemo(workspaceId, (done, of) => {
			progress = { done, of, failed: null };
		});
	else {
		const packed = Buffer.from(await read(kept).arrayBuffer());
		await changing(demoActor(workspaceId), (client) =>
			layOutKept(client, workspaceId, gunzipSync(packed).toString()),
		);
	}
	// The first list is whole.
	await processQueue();
	log.info({ milliseconds: performance.now() - began }, 'demo data laid out');
}
