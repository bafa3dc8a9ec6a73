// A copy a night, where VENTREL_BACKUP names a folder: of the last seven days the newest of each, of the last four weeks the newest of each.
import { mkdirSync, readdirSync, rmSync, statfsSync } from 'node:fs';
import { join } from 'node:path';
import { writeBackup } from './backup.mjs';
import { connected } from './connected.mjs';
import { say } from './say.mjs';

const DAY = 86_400_000;
/** How often it is looked whether one is due, and how old the newest may be. */
const LOOK = 600_000;
const DUE = 23.5 * 3_600_000;
const DAYS = 7;
const WEEKS = 4;

const nameOf = (/** @type {number} */ at) =>
	`ventrel-${new Date(at).toISOString().slice(0, 16).replace(/[-:]/g, '')}.backup`;

/**
 * When a copy was made, by its name; null for a file that is none.
 * @param {string} name
 */
export function madeAt(name) {
	const [, y, m, d, h, min] = /^ventrel-(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)\.backup$/.exec(name) ?? [];
	return y === undefined ? null : Date.UTC(Number(y), Number(m) - 1, Number(d), Number(h), Number(min));
}

/**
 * Which copies are no longer kept. The newest one always is.
 * @param {readonly string[]} names
 * @param {number} now
 * @returns {string[]}
 */
export function outlived(names, now) {
	const copies = names
		.flatMap((name) => {
			const at = madeAt(name);
			return at === null ? [] : [{ name, at }];
		})
		.sort((a, b) => b.at - a.at);
	const kept = new Set(copies.slice(0, 1).map(({ name }) => name));
	const days = new Set();
	const weeks = new Set();
	for (const { name, at } of copies) {
		const day = Math.floor(at / DAY);
		// Weeks begin on Mondays; day 0 was a Thursday.
		const week = Math.floor((day + 3) / 7);
		const today = Math.floor(now / DAY);
		if (day > today - DAYS && !days.has(day)) kept.add(name);
		if (week > Math.floor((today + 3) / 7) - WEEKS && !weeks.has(week)) kept.add(name);
		days.add(day);
		weeks.add(week);
	}
	return copies.map(({ name }) => name).filter((name) => !kept.has(name));
}

/**
 * Writes a copy where one is due, and deletes those that are no longer kept. What came of it stands in the database, for the pages.
 * @param {string} ownerUrl
 * @param {string} folder
 * @param {number} [now]
 * @returns {Promise<string | null>} what went wrong, in words; null where nothing did
 */
export async function backUpWhereDue(ownerUrl, folder, now = Date.now()) {
	try {
		mkdirSync(folder, { recursive: true, mode: 0o700 });
		// Those that were not whole when their command was killed.
		for (const name of readdirSync(folder))
			if (name.endsWith('.backup.partial')) rmSync(join(folder, name), { force: true });
		const newest = Math.max(0, ...readdirSync(folder).map((name) => madeAt(name) ?? 0));
		if (now - newest < DUE) return null;
		const name = nameOf(now);
		const { bytes } = await writeBackup(ownerUrl, join(folder, name));
		for (const old of outlived(readdirSync(folder), now)) rmSync(join(folder, old), { force: true });
		const { bavail, bsize } = statfsSync(folder);
		await note(
			ownerUrl,
			true,
			`${name}, ${(bytes / 1e6).toFixed(1)} MB; ${((bavail * bsize) / 1e9).toFixed(1)} GB free`,
		);
		return null;
	} catch (error) {
		const why = error instanceof Error ? error.message : String(error);
		await note(ownerUrl, false, why).catch(() => undefined);
		return why;
	}
}

/**
 * @param {string} ownerUrl
 * @param {boolean} ok
 * @param {string} words
 */
async function note(ownerUrl, ok, words) {
	await connected(ownerUrl, (client) =>
		client.query(
			`INSERT INTO upkeep (name, at, ok, words) VALUES ('backup', now(), $1, left($2, 500))
			ON CONFLICT (name) DO UPDATE SET at = excluded.at, ok = excluded.ok, words = excluded.words`,
			[ok, words],
		),
	);
}

/**
 * Looks again and again whether a copy is due.
 * @param {string} ownerUrl
 * @param {string} folder
 * @returns {() => void} ends it
 */
export function backUpNightly(ownerUrl, folder) {
	let said = '';
	let busy = false;
	const look = async () => {
		if (busy) return;
		busy = true;
		const why = await backUpWhereDue(ownerUrl, folder);
		if (why !== null && why !== said) say(`The nightly backup failed: ${why}`);
		said = why ?? '';
		busy = false;
	};
	void look();
	const again = setInterval(() => void look(), LOOK);
	return () => clearInterval(again);
}
