// npm run bench: speed as ratios in one run, how often claims are wrong, and what the server endures.
import { basename, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { prepareBuild, preparePackages, ROOT } from './lib/prepare.mjs';
import { fail } from './lib/say.mjs';

/** @type {Readonly<Record<string, string>>} what can be asked for by itself, and its file */
const NAMED = {
	search: 'rates/searching',
	together: 'rates/together',
	cost: 'speed/cost',
	abuse: 'endurance/abuse',
	serving: 'speed/serving',
	kills: 'endurance/kills',
	ranges: 'rates/ranges',
	rare: 'rates/rare',
	propose: 'rates/proposing',
	alarm: 'rates/alarm',
	watching: 'rates/watching',
	cycle: 'endurance/cycle',
	reading: 'rates/reading',
	tables: 'speed/tables',
	gains: 'rates/gains',
	lent: 'rates/lent',
	list: 'speed/list',
	brought: 'speed/brought',
	sweeps: 'speed/sweeps',
	'sweep-kills': 'endurance/sweep-kills',
	access: 'speed/access',
	scale: 'speed/scale',
};

async function main() {
	await preparePackages(['postgresql', 'chromium', 'chromium-driver']);
	await prepareBuild();
	const { build } = await import('vite');
	const outDir = join(ROOT, '.ventrel', 'bench');
	const [only] = process.argv.slice(2);
	const { measurePage } = await import('../bench/speed/page.mjs');
	const { measureOpening } = await import('../bench/speed/opening.mjs');
	if (only === 'typing') return void (await (await import('../bench/speed/typing.mjs')).measureTyping());
	if (only === 'load') return void (await (await import('../bench/speed/load.mjs')).measureLoad());
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
	await import(pathToFileURL(join(outDir, `${basename(name)}.js`)).href);
	if (only) return;
	const { measureWire } = await import('../bench/speed/wire.mjs');
	if (!(await measureWire())) process.exitCode = 1;
	if (!(await measurePage())) process.exitCode = 1;
	if (!(await measureOpening())) process.exitCode = 1;
	const { measureLoad } = await import('../bench/speed/load.mjs');
	await measureLoad();
}

main().catch(fail);
