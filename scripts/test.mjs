// npm test: every check there is, on a throw-away database. Its last line is `N passed, N failed`.
// With the name of a part (checks, unit, database, browser) that one alone.
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startCluster, stopCluster } from './lib/cluster.mjs';
import { takeLock } from './lib/lock.mjs';
import { prepareBuild, preparePackages, ROOT } from './lib/prepare.mjs';
import { run } from './lib/run.mjs';
import { say, step } from './lib/say.mjs';

const PREFIX = 'ventrel-test-';
const tally = { passed: 0, failed: 0 };

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
 * A check that passes or fails as a whole.
 * @param {string} name
 * @param {string[]} command
 */
async function check(name, command) {
	await step(name, async () => {
		const { code, output } = await run('npx', command, { cwd: ROOT });
		tally[code === 0 ? 'passed' : 'failed']++;
		if (code !== 0) say(output.trimEnd());
		return { said: code === 0 ? 'passed' : 'FAILED', value: undefined };
	});
}

/**
 * One suite of tests, counted test by test.
 * @param {string} project
 * @param {string} directory for its report
 * @param {NodeJS.ProcessEnv} env
 */
async function suite(project, directory, env) {
	await step(`${project} tests`, async () => {
		const report = join(directory, `${project}.json`);
		const { code, output } = await run(
			'npx',
			[
				'vitest',
				'run',
				'--project',
				project,
				'--reporter=dot',
				'--reporter=json',
				`--outputFile.json=${report}`,
			],
			{ cwd: ROOT, env: { ...process.env, ...env } },
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

/** @param {string} directory @param {string} url @param {string | undefined} only a suite by itself */
async function runAll(directory, url, only) {
	// The address of a server on which tests make databases of their own.
	const server = { VENTREL_TEST_SERVER: url };
	const wanted = (/** @type {string} */ name) => !only || only === name;
	const served = wanted('database') || wanted('browser');
	await check('generated', ['svelte-kit', 'sync']);
	// Checks and build use one core each.
	await Promise.all([wanted('checks') && allChecks(), served && prepareBuild()]);
	// Each suite has the machine for itself: side by side they take longer than one after the other.
	if (wanted('unit')) await suite('unit', directory, {});
	if (wanted('database')) await suite('database', directory, server);
	if (wanted('browser')) await suite('browser', directory, server);
}

async function allChecks() {
	await check('format', ['prettier', '--check', '--log-level=warn', '.']);
	await check('lint', ['eslint', '--max-warnings=0', '.']);
	await check('types', ['svelte-check', '--fail-on-warnings', '--output=human']);
	await check('folder rules', ['depcruise', '--config', '.dependency-cruiser.cjs', 'src', 'bench', 'tests']);
}

async function main() {
	const ownServer = process.env.DATABASE_URL;
	const [only] = process.argv.slice(2);
	/** @type {Parameters<typeof preparePackages>[0]} */
	const debian = ['chromium', 'chromium-driver'];
	await preparePackages(ownServer ? debian : ['postgresql', ...debian]);
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
		const url = ownServer
			? ownServer
			: await step('database', async () => {
					const { url, said } = await startCluster(directory, { throwaway: true });
					return { said, value: url };
				});
		await runAll(directory, url, only);
	} finally {
		await tidy();
	}
	say(`${tally.passed} passed, ${tally.failed} failed`);
	process.exit(tally.failed > 0 ? 1 : 0);
}

main().catch((error) => {
	process.stderr.write(`\n${error instanceof Error ? error.stack : error}\n`);
	say(`${tally.passed} passed, ${tally.failed + 1} failed`);
	process.exit(1);
});
