// The packages this project needs: npm's from the lock file, Debian's from apt.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { mustRun } from './run.mjs';
import { Stop } from './say.mjs';
import { takeLock } from './lock.mjs';

const POSTGRES_ROOT = '/usr/lib/postgresql';
const OLDEST_POSTGRES = 15;

export function checkNode() {
	const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
	if (major < 20 || (major === 20 && minor < 19)) {
		throw new Stop(`Ventrel needs Node 20.19 or newer; this is ${process.versions.node}.`);
	}
}

/** Directory of the newest PostgreSQL server programs, or null. */
export function postgresPrograms() {
	if (!existsSync(POSTGRES_ROOT)) return null;
	const versions = readdirSync(POSTGRES_ROOT)
		.map(Number)
		.filter((version) => version >= OLDEST_POSTGRES)
		.sort((a, b) => b - a);
	const found = versions.map((version) => join(POSTGRES_ROOT, String(version), 'bin'));
	return found.find((directory) => existsSync(join(directory, 'initdb'))) ?? null;
}

const isThere = {
	postgresql: () => postgresPrograms() !== null,
	chromium: () => existsSync('/usr/bin/chromium'),
	'chromium-driver': () => existsSync('/usr/bin/chromedriver'),
};

/**
 * Installs Debian packages that are missing; an ordinary user is told the one line to run.
 * @param {(keyof typeof isThere)[]} names
 */
export async function ensureDebian(names) {
	const missing = () => names.filter((name) => !isThere[name]());
	const absent = missing();
	if (absent.length === 0) return { said: `${names.join(', ')} there`, value: undefined };
	if (process.getuid?.() !== 0) {
		throw new Stop(
			`Missing: ${absent.join(', ')}. Install with this line, then start again:\n  sudo apt-get update && sudo apt-get install -y --no-install-recommends ${absent.join(' ')}`,
		);
	}
	// apt waits for another's lock on its packages, but not for one on its lists.
	const release = await takeLock(join(tmpdir(), 'ventrel-apt.lock'), {
		waiting: 'system         waiting for another run that is installing packages',
	});
	try {
		const still = missing();
		if (still.length === 0) return { said: 'installed by another run', value: undefined };
		const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
		const patience = ['-o', 'DPkg::Lock::Timeout=300'];
		await mustRun('apt-get', ['update', ...patience], { env });
		await mustRun('apt-get', ['install', '-y', '--no-install-recommends', ...patience, ...still], { env });
		return { said: `installed ${still.join(', ')}`, value: undefined };
	} finally {
		await release?.();
	}
}

/**
 * `npm ci` where the installed packages are not those of the lock file.
 * @param {string} root
 */
export async function ensureNpm(root) {
	const wanted = createHash('sha256')
		.update(readFileSync(join(root, 'package-lock.json')))
		.digest('hex');
	const mark = join(root, 'node_modules', '.ventrel-installed');
	const current = () => existsSync(mark) && readFileSync(mark, 'utf8') === wanted;
	if (current()) return { said: 'packages there', value: undefined };
	const release = await takeLock(join(root, '.ventrel', 'install.lock'), {
		waiting: 'packages       waiting for another run that is installing them',
	});
	try {
		if (current()) return { said: 'installed by another run', value: undefined };
		// The name of the calling script's own settings would travel along as npm_config_*; none is needed.
		await mustRun('npm', ['ci', '--include=dev', '--no-audit', '--no-fund'], { cwd: root });
		writeFileSync(mark, wanted);
		return { said: 'installed from the lock file', value: undefined };
	} finally {
		await release?.();
	}
}
