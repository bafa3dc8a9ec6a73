// npm run backup FILE: all of the database in one file, as it is at one moment, while it is worked with.
// npm run take-away FILE.zip: everything as CSV and JSON, for whoever reads it without Ventrel.
// npm run restore FILE: a backup, or an archive of everything, into an empty database.
import { basename } from 'node:path';
import { restoreBackup, writeBackup } from './lib/backup.mjs';
import { ownCluster } from './lib/own-cluster.mjs';
import { prepareDatabase, preparePackages } from './lib/prepare.mjs';
import { fail, step, Stop } from './lib/say.mjs';

const [what, file, ...rest] = process.argv.slice(2);

const WAYS = ['backup', 'take-away', 'restore'];

async function main() {
	if (!file || rest.length > 0 || !WAYS.includes(what))
		throw new Stop('npm run backup FILE\nnpm run take-away FILE.zip\nnpm run restore FILE');
	// PostgreSQL's own tools are in its package, also where the database is elsewhere.
	await preparePackages(['postgresql']);
	const { readEverything, writeEverything } = await import('./lib/everything.mjs');
	const own = process.env.DATABASE_URL;
	const database = own ? { url: own, stop: async () => undefined } : await ownCluster();
	try {
		if (what !== 'restore')
			await step(what.replace('-', ' '), async () => {
				const { bytes, items } = await (what === 'backup' ? writeBackup : writeEverything)(
					database.url,
					file,
				);
				return {
					said: `${items} items with all that was ever done, ${(bytes / 1e6).toFixed(1)} MB in ${basename(file)}`,
					value: undefined,
				};
			});
		else {
			const { migrate } = await import('./migrate.mjs');
			await step('restore', async () => {
				const { items, at, version } = await (file.endsWith('.zip')
					? readEverything(database.url, file, (count) => migrate(database.url, count))
					: restoreBackup(database.url, file));
				return { said: `${items} items as of ${at}, of version ${version}`, value: undefined };
			});
			await prepareDatabase(database.url);
		}
	} finally {
		await database.stop();
	}
}

main().catch(fail);
