// npm run worker: joins those that work sweeps off, on this machine or another one. DATABASE_URL says where the figures are.
import { spawn } from 'node:child_process';
import { prepareBuild, prepareDatabase, preparePackages, workerCommand } from './lib/prepare.mjs';
import { fail, say, Stop } from './lib/say.mjs';

async function main() {
	const url = process.env.DATABASE_URL;
	if (!url)
		throw new Stop(
			'Set DATABASE_URL to the address of the database that the application uses; npm start has a worker of its own.',
		);
	await preparePackages([]);
	const application = await prepareDatabase(url);
	await prepareBuild();
	const { program, args, env } = await workerCommand(application);
	const child = spawn(program, args, { cwd: '/', stdio: ['ignore', 'inherit', 'inherit', 'ipc'], env });
	say('\nThe worker is there.\nCtrl-C stops it.');
	for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM', 'SIGHUP']))
		process.on(signal, () => child.kill('SIGTERM'));
	child.once('exit', (code) => process.exit(code ?? 1));
}

main().catch(fail);
