// Builds the application where the sources are not those of the build that is there.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { takeLock } from './lock.mjs';
import { mustRun } from './run.mjs';

const SOURCES = [
	'src',
	'static',
	'demo',
	'db',
	'package-lock.json',
	'package.json',
	'svelte.config.js',
	'vite.config.ts',
	'vite.work.config.ts',
];

/**
 * Digest of everything that a build is made from.
 * @param {string} root
 */
function digest(root) {
	const hash = createHash('sha256');
	const walk = (/** @type {string} */ path) => {
		if (!existsSync(join(root, path))) return;
		const entries = statEntries(join(root, path));
		if (!entries) {
			if (path.endsWith('.test.ts')) return;
			hash
				.update(path)
				.update('\0')
				.update(readFileSync(join(root, path)))
				.update('\0');
			return;
		}
		for (const entry of entries) walk(`${path}/${entry}`);
	};
	SOURCES.forEach(walk);
	return hash.digest('hex');
}

/** @param {string} path names inside a directory, sorted; null for a file */
function statEntries(path) {
	try {
		return readdirSync(path).sort();
	} catch {
		return null;
	}
}

/** @param {string} root */
export async function ensureBuild(root) {
	const wanted = digest(root);
	const mark = join(root, 'build', '.sources');
	const current = () => existsSync(mark) && readFileSync(mark, 'utf8') === wanted;
	if (current()) return { said: 'build is current', value: undefined };
	const release = await takeLock(join(root, '.ventrel', 'build.lock'), {
		waiting: 'build          waiting for another run that is building',
	});
	try {
		if (current()) return { said: 'built by another run', value: undefined };
		const env = { ...process.env, NODE_ENV: 'production' };
		await mustRun('npx', ['vite', 'build'], { cwd: root, env });
		await mustRun('npx', ['vite', 'build', '--config', 'vite.work.config.ts'], { cwd: root, env });
		writeFileSync(mark, wanted);
		return { said: 'built', value: undefined };
	} finally {
		await release?.();
	}
}
