// npm run demo: the demo data, made anew from what lies in demo/, into demo/depot.gz, which a new database is given.
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { startCluster, stopCluster } from './lib/cluster.mjs';
import { makeDemo } from './lib/demo.mjs';
import { prepareBuild, prepareDatabase, preparePackages, ROOT } from './lib/prepare.mjs';
import { fail, say, step } from './lib/say.mjs';

async function main() {
	await preparePackages(['postgresql']);
	const directory = mkdtempSync(join(tmpdir(), 'ventrel-demo-'));
	// User postgres has to pass through.
	chmodSync(directory, 0o755);
	try {
		const { url } = await startCluster(directory, { throwaway: true });
		const application = await prepareDatabase(url);
		await prepareBuild();
		await step('demo', async () => {
			const text = await makeDemo(application);
			writeFileSync(join(ROOT, 'demo', 'depot.gz'), gzipSync(text, { level: 9 }));
			return { said: `${text.length} characters kept in demo/depot.gz`, value: undefined };
		});
		say('The next build has it.');
	} finally {
		await stopCluster(directory);
		rmSync(directory, { recursive: true, force: true });
	}
}

main().catch(fail);
