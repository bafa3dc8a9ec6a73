// The cluster of this machine's user, for as long as somebody uses it.
import { join } from 'node:path';
import { startCluster, stopCluster } from './cluster.mjs';
import { takeLock } from './lock.mjs';
import { dataDirectory } from './prepare.mjs';
import { step, Stop } from './say.mjs';

/**
 * Where figures are kept: the address of the database for the application, how to see that it runs again, and how to leave it.
 * @typedef {{ url: string, directory: string | null, stop: () => Promise<void> }} Database
 */

/** Our own cluster; the last one to leave it stops it. @returns {Promise<Database>} */
export async function ownCluster() {
	const directory = dataDirectory();
	const users = join(directory, 'users.lock');
	/** @type {(() => Promise<void>) | null} */
	let leave = null;
	const url = await step('database', async () => {
		const release = await takeLock(join(directory, 'start.lock'), {
			waiting: 'database       waiting for another start',
		}).catch((error) => {
			throw new Stop(
				`${directory} cannot be written to (${error.message}). Set VENTREL_DATA to a directory of yours.`,
			);
		});
		try {
			leave = await takeLock(users, { shared: true });
			const { url, said } = await startCluster(directory);
			return { said: `${said}, data in ${directory}`, value: url };
		} finally {
			await release?.();
		}
	});
	return {
		url,
		directory,
		stop: async () => {
			await leave?.();
			const alone = await takeLock(users, { wait: false });
			if (!alone) return;
			await stopCluster(directory);
			await alone();
		},
	};
}
