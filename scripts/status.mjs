// npm run status: how all items stand is made anew; npm run status -- check: only held against grading from scratch.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { ownCluster } from './lib/own-cluster.mjs';
import { prepareBuild, prepareDatabase, preparePackages, ROOT } from './lib/prepare.mjs';
import { fail } from './lib/say.mjs';

async function main() {
	const own = process.env.DATABASE_URL;
	await preparePackages(own ? [] : ['postgresql']);
	const database = own ? { url: own, stop: async () => undefined } : await ownCluster();
	try {
		const url = await prepareDatabase(database.url);
		await prepareBuild();
		const program = spawn(process.execPath, [join(ROOT, 'build', 'status.js'), ...process.argv.slice(2)], {
			env: { ...process.env, DATABASE_URL: url },
			stdio: 'inherit',
		});
		const [code] = await once(program, 'exit');
		process.exitCode = code ?? 1;
	} finally {
		await database.stop();
	}
}

main().catch(fail);
