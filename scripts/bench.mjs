// npm run bench: speed, as ratios in one run. What each line means stands in bench/.
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { prepareBuild, preparePackages, ROOT } from './lib/prepare.mjs';
import { fail } from './lib/say.mjs';

/** @type {Readonly<Record<string, string>>} what can be asked for by itself, and its file */
const NAMED = {
	search: 'searching',
	together: 'together',
	cost: 'cost',
	abuse: 'abuse',
	serving: 'serving',
	kills: 'kills',
	ranges: 'ranges',
	rare: 'rare',
	propose: 'proposing',
	alarm: 'alarm',
	watching: 'watching',
	cycle: 'cycle',
	reading: 'reading',
	tables: 'tables',
	gains: 'gains',
	lent: 'lent',
	list: 'list',
	brought: 'brought',
	sweeps: 'sweeps',
	'sweep-kills': 'sweep-kills',
};

async function main() {
	await preparePackages(['postgresql', 'chromium', 'chromium-driver']);
	await prepareBuild();
	const { build } = await import('vite');
	const outDir = join(ROOT, '.ventrel', 'bench');
	const [only] = process.argv.slice(2);
	const { measurePage } = await import('../bench/page.mjs');
	const { measureOpening } = await import('../bench/opening.mjs');
	if (only === 'typing') return void (await (await import('../bench/typing.mjs')).measureTyping());
	if (only === 'load') return void (await (await import('../bench/load.mjs')).measureLoad());
	if (only === 'page' || only === 'opening') {
		if (!(await (only === 'page' ? measurePage : measureOpening)())) process.exitCode = 1;
		return;
	}
	if (only !== undefined && !(only in NAMED))
		throw new Error(
			`There is no bench “${only}”; there are ${['typing', 'load', 'page', 'opening', ...Object.keys(NAMED)].join(', ')}.`,
		);
	const name = NAMED[only] ?? 'core';
	// Bundled as the application is, so that the loops measured are the loops that run.
	await build({
		root: ROOT,
		configFile: false,
		logLevel: 'warn',
		resolve: { alias: { $core: join(ROOT, 'src', 'core') } },
		build: {
			ssr: join(ROOT, 'bench', `${name}.ts`),
			outDir,
			emptyOutDir: true,
			// In one piece: what looks for files beside it finds them.
			rolldownOptions: { output: { codeSplitting: false } },
		},
	});
	await import(pathToFileURL(join(outDir, `${name}.js`)).href);
	if (only) return;
	const { measureWire } = await import('../bench/wire.mjs');
	if (!(await measureWire())) process.exitCode = 1;
	if (!(await measurePage())) process.exitCode = 1;
	if (!(await measureOpening())) process.exitCode = 1;
	const { measureLoad } = await import('../bench/load.mjs');
	await measureLoad();
}

main().catch(fail);
