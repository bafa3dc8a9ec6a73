// npm test: every check there is, on a throw-away database. Its last line is `N passed, N failed`; the one before it says how long
// each part took. With the name of a part (checks, unit, database, browser) that one alone; with --long every run of long properties.
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { ensureBuild } from './lib/build.mjs';
import { startCluster, stopCluster } from './lib/cluster.mjs';
import { takeLock } from './lib/lock.mjs';
import { ensureNpm } from './lib/packages.mjs';
import { prepareSystem, ROOT } from './lib/prepare.mjs';
import { run } from './lib/run.mjs';
import { say, step } from './lib/say.mjs';

const PREFIX = 'ventrel-test-';
const tally = { passed: 0, failed: 0 };
/** Seconds by part, in the order that they ended. @type {string[]} */
const took = [];
/** Files at a time in each of the suites: unit tests compute, and stand beside database tests. */
const SIDE_BY_SIDE = { unit: 1, database: 2, browser: 2 };

/** Clusters of runs that were killed: their locks are gone with them. */
async function clearLeftovers() {
	const left = readdirSync(tmpdir()).filter((name) => name.startsWith(PREFIX));
	for (const name of left) {
		const directory = join(tmpdir(), name);
		const alone = await takeLock(join(directory, 'alive.lock'), { wait: false }).catch(() => null);
		if (!alone) continue;
		await stopCluster(directory);
		rmSync(directory, { recursive: true, force: true });
		await alone();
	}
}

/**
 * A part of the run, and how long it took.
 * @template T
 * @param {string} name
 * @param {() => Promise<{ said: string, value: T }>} work
 * @returns {Promise<T>}
 */
async function part(name, work) {
	const began = performance.now();
	try {
		return await step(name, work);
	} finally {
		took.push(`${name} ${((performance.now() - began) / 1000).toFixed(0)} s`);
	}
}

/**
 * A check that passes or fails as a whole.
 * @param {string} name
 * @param {string[]} command
 */
async function check(name, command) {
	await part(name, async () => {
		const { code, output } = await run('npx', command, { cwd: ROOT });
		tally[code === 0 ? 'passed' : 'failed']++;
		if (code !== 0) say(output.trimEnd());
		return { said: code === 0 ? 'passed' : 'FAILED', value: undefined };
	});
}

/**
 * One suite of tests, counted test by test.
 * @param {'unit' | 'database' | 'browser'} project
 * @param {string} directory for its report
 * @param {NodeJS.ProcessEnv} env
 */
async function suite(project, directory, env) {
	await part(`${project} tests`, async () => {
		const report = join(directory, `${project}.json`);
		const { code, output } = await run(
			'npx',
			[
				'vitest',
				'run',
				'--project',
				project,
				`--maxWorkers=${SIDE_BY_SIDE[project]}`,
				'--reporter=dot',
				'--reporter=json',
				`--outputFile.json=${report}`,
			],
			// It goes into logs.
			{ cwd: ROOT, env: { ...process.env, NO_COLOR: '1', ...env } },
		);
		const {
			numPassedTests = 0,
			numFailedTests = 0,
			numTotalTests = 0,
		} = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : {};
		// A file that could not even be loaded has no test to fail, and a suite without tests is no suite.
		const failed = Math.max(numFailedTests, code !== 0 || numTotalTests === 0 ? 1 : 0);
		tally.passed += numPassedTests;
		tally.failed += failed;
		if (failed > 0) say(output.trimEnd());
		return { said: `${numPassedTests} passed, ${failed} failed`, value: undefined };
	});
}

/**
 * @param {string} directory
 * @param {string} url
 * @param {string | undefined} only a part by itself
 */
async function runAll(directory, url, only) {
	// The address of a server on which tests make databases of their own.
	const server = { VENTREL_TEST_SERVER: url };
	const wanted = (/** @type {string} */ name) => !only || only === name;
	await check('generated', ['svelte-kit', 'sync']);
	// Two lanes of one thing after the other, then browsers, which take all of the machine: more beside each other takes longer.
	const built = wanted('database') || wanted('browser') ? part('build', () => ensureBuild(ROOT)) : undefined;
	const served = async () => {
		await built;
		if (wanted('database')) await suite('database', directory, server);
	};
	const computed = async () => {
		if (wanted('checks')) await allChecks();
		if (wanted('unit')) await suite('unit', directory, {});
	};
	for (const lane of await Promise.allSettled([served(), computed()]))
		if (lane.status === 'rejected') throw lane.reason;
	if (wanted('browser')) await suite('browser', directory, server);
}

async function allChecks() {
	// What did not change since the last run is not looked at again.
	const cache = (/** @type {string} */ name) => ['--cache', `--cache-location=.ventrel/${name}`];
	await check('format', ['prettier', '--check', '--log-level=warn', ...cache('prettier'), '.']);
	await check('lint', ['eslint', '--max-warnings=0', ...cache('eslint'), '.']);
	await check('types', ['svelte-check', '--fail-on-warnings', '--output=human']);
	await check('folder rules', ['depcruise', '--config', '.dependency-cruiser.cjs', 'src', 'bench', 'tests']);
}

async function main() {
	const began = performance.now();
	const ownServer = process.env.DATABASE_URL;
	const { positionals, values } = parseArgs({
		allowPositionals: true,
		options: { long: { type: 'boolean' } },
	});
	if (values.long) process.env.VENTREL_TEST_LONG = 'yes';
	/** @type {Parameters<typeof prepareSystem>[0]} */
	const debian = ['chromium', 'chromium-driver'];
	await prepareSystem(ownServer ? debian : ['postgresql', ...debian]);
	await clearLeftovers();
	const directory = mkdtempSync(join(tmpdir(), PREFIX));
	// User postgres has to pass through; what is secret in it is closed by itself.
	chmodSync(directory, 0o755);
	const release = await takeLock(join(directory, 'alive.lock'));
	const tidy = async () => {
		if (!ownServer) await stopCluster(directory);
		rmSync(directory, { recursive: true, force: true });
		await release?.();
	};
	for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
		process.on(signal, () => void tidy().then(() => process.exit(1)));
	try {
		const cluster = async () => {
			const { url, said } = await startCluster(directory, { throwaway: true });
			return { said, value: url };
		};
		const [packages, database] = await Promise.allSettled([
			part('packages', () => ensureNpm(ROOT)),
			ownServer ?? step('database', cluster),
		]);
		if (packages.status === 'rejected') throw packages.reason;
		if (database.status === 'rejected') throw database.reason;
		await runAll(directory, database.value, positionals[0]);
	} finally {
		await tidy();
	}
	say(`${took.join(', ')}; ${((performance.now() - began) / 60_000).toFixed(1)} minutes in all`);
	say(`${tally.passed} passed, ${tally.failed} failed`);
	process.exit(tally.failed > 0 ? 1 : 0);
}

main().catch((error) => {
	process.stderr.write(`\n${error instanceof Error ? error.stack : error}\n`);
	say(`${tally.passed} passed, ${tally.failed + 1} failed`);
	process.exit(1);
});
