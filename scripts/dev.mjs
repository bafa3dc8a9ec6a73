// npm run dev: the application as it is being written, changes shown at once, on data of its own beside those of npm start.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { saySignIn } from './lib/access.mjs';
import { startCluster, stopCluster } from './lib/cluster.mjs';
import { isFree } from './lib/ports.mjs';
import {
	dataDirectory,
	prepareBuild,
	prepareDatabase,
	preparePackages,
	ROOT,
	workerCommand,
} from './lib/prepare.mjs';
import { fail, step } from './lib/say.mjs';

async function main() {
	const own = process.env.DATABASE_URL;
	await preparePackages(own ? [] : ['postgresql']);
	const directory = join(dataDirectory(), 'dev');
	const url =
		own ??
		(await step('database', async () => {
			const { url, said } = await startCluster(directory);
			return { said, value: url };
		}));
	const application = await prepareDatabase(url);
	await saySignIn(url, false);
	// Threads and the worker run what is built; what the browser and the routes run is as it stands.
	await prepareBuild();
	let port = Number(process.env.PORT ?? 5180);
	while (!(await isFree(port))) port++;
	const vite = spawn('npx', ['vite', 'dev', '--host', '127.0.0.1', '--port', String(port), '--strictPort'], {
		cwd: ROOT,
		stdio: 'inherit',
		env: {
			...process.env,
			VENTREL_SIGN_IN: 'off',
			DATABASE_URL: application,
			ORIGIN: `http://127.0.0.1:${port}`,
			VENTREL_WORK: join(ROOT, 'build', 'work.js'),
			VENTREL_USER: process.env.VENTREL_USER ?? 'developer',
		},
	});
	const { program, args, env } = await workerCommand(application);
	const worker = spawn(program, args, { cwd: '/', stdio: ['ignore', 'inherit', 'inherit', 'ipc'], env });
	const ended = new Promise((done) => vite.once('exit', done));
	for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => vite.kill('SIGTERM'));
	await ended;
	worker.kill('SIGTERM');
	if (!own) await stopCluster(directory);
}

main().catch(fail);
