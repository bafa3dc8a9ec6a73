import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join, parse } from 'node:path';
import { BOUNDS, written } from '$core/bounds';
import { isPlainText } from '$core/schemas';
import type { BroughtIn, Waiting } from '../../wire/bring-in';
import { pool, type Queryable, whereFree } from '../database/database';
import { LOCKS } from '../database/locks';
import { type Actor, changing, firstWorkspace } from '../database/workspaces';
import { againAndAgain } from '../again';
import { knownRefusal } from '../checked';
import { Refusal } from '../refusal';
import { threads } from '../threads/threads';
import { storeTable } from './bring-in';
import { knownOf } from './known';

/**
 * A folder that is watched. A file that is laid there is read as the last one of its make was; it is brought in where nothing of it has
 * to be looked at, and else waits on the page “Bring in”. What becomes of it is written down in the transaction that brings it in, and
 * the file is moved afterwards, so that it comes in once whatever is killed when.
 */

const FOLDERS = ['done', 'refused', 'waiting'] as const;
type State = (typeof FOLDERS)[number];
/** How often it is looked, in milliseconds, and how long a file must have been left alone. */
const LOOK = 1_000;
const LEFT_ALONE = 2_000;
/** What is behind the name of a file in the name of what was said of it. */
const SAID = '.said.txt';
/** Digests that are kept in mind. */
const MANY = 1_000;
const ASKER = { caller: 'inbox' };

interface Fate {
	state: State;
	said: string[];
}

/** Watches a folder. @returns ends it */
export const watchInbox = (folder: string): (() => void) =>
	againAndAgain(LOOK, () => lookInto(folder), 'the inbox could not be looked into');

/** Takes what lies in a folder; one process at a time. @param leftAlone milliseconds that a file must have been left alone */
export async function lookInto(folder: string, leftAlone = LEFT_ALONE): Promise<void> {
	for (const name of FOLDERS) await mkdir(join(folder, name), { recursive: true });
	const workspace = await firstWorkspace();
	if (!workspace) return;
	await whereFree(LOCKS.inbox, async () => {
		await followDecided(folder, workspace.id);
		for (const entry of await readdir(folder, { withFileTypes: true })) {
			if (!entry.isFile() || /^\.|\.(part|partial|tmp)$/i.test(entry.name)) continue;
			const path = join(folder, entry.name);
			const { mtimeMs } = await stat(path);
			// One that is still being written is left alone.
			if (Date.now() - mtimeMs < leftAlone) continue;
			await put(folder, entry.name, await fateOf(workspace.id, path, entry.name));
		}
	});
}

/** Moves a file to where it belongs, with what was said of it beside it. */
async function put(folder: string, name: string, { state, said }: Fate, from = folder): Promise<void> {
	const { name: stem, ext } = parse(name);
	let target = join(folder, state, name);
	for (let n = 2; existsSync(target); n++) target = join(folder, state, `${stem} ${n}${ext}`);
	if (said.length > 0) await writeFile(`${target}${SAID}`, `${said.join('\n')}\n`);
	await rename(join(from, name), target);
}

/** What becomes of a file: brought in, left waiting, or refused. */
async function fateOf(workspaceId: number, path: string, name: string): Promise<Fate> {
	const { size } = await stat(path);
	if (size > BOUNDS.tableBytes)
		return {
			state: 'refused',
			said: [
				`It has more than the ${written(BOUNDS.tableBytes)} bytes that are read at once. Bring it in on the page, or by POST /bring-in/stream.`,
			],
		};
	if (!isPlainText(name) || name.length > BOUNDS.fileName)
		return { state: 'refused', said: ['Its name is too long, or has characters that cannot be seen.'] };
	const content = await readFile(path);
	const sha256 = createHash('sha256').update(content).digest();
	const before = await fateBefore(pool(), workspaceId, name, sha256);
	if (before) return before;
	const actor: Actor = { workspaceId, way: 'inbox', proof: '' };
	const arrival = { name, sha256 };
	let doubts: string[];
	try {
		const asked = await threads().run('readArrived', { content, known: null }, ASKER);
		const known = 'asks' in asked ? await knownOf(pool(), workspaceId, asked.asks) : null;
		const reading = await threads().run('readArrived', { content, known }, ASKER);
		if ('asks' in reading) throw new Error('A table that is known was asked about again.');
		doubts = reading.doubts;
		if (doubts.length === 0) {
			const request = Buffer.from(JSON.stringify({ fileName: name, ...reading.request }));
			const table = await threads().run('readTable', { kind: 'items', request, content }, ASKER);
			return await changing(actor, async (client) => {
				const brought = JSON.parse(await storeTable(client, actor, table, content)) as BroughtIn[];
				const said = [broughtWords(brought)];
				await note(client, workspaceId, arrival, { state: 'done', said }, null);
				return { state: 'done', said };
			});
		}
	} catch (failure) {
		const refusal = knownRefusal(failure);
		if (!refusal) throw failure;
		doubts = [refusal.message];
	}
	const fate: Fate = { state: 'waiting', said: doubts };
	await note(pool(), workspaceId, arrival, fate, content);
	return fate;
}

const broughtWords = (brought: readonly BroughtIn[]): string => {
	const sum = (of: 'added' | 'corrected' | 'same') => brought.reduce((all, each) => all + each[of], 0);
	const made = brought.filter(({ created }) => created).length;
	return `${brought.length} items: ${sum('added')} figures in, ${sum('corrected')} corrected, ${sum('same')} there already${made > 0 ? `, ${made} items new` : ''}.`;
};

/** What became of the same file before: one that lies there again is not brought in again. */
async function fateBefore(
	database: Queryable,
	workspaceId: number,
	name: string,
	sha256: Buffer,
): Promise<Fate | null> {
	const { rows } = await database.query<Fate>(
		'SELECT state, said FROM arrived WHERE workspace_id = $1 AND name = $2 AND sha256 = $3',
		[workspaceId, name, sha256],
	);
	return rows[0] ?? null;
}

const note = (
	database: Queryable,
	workspaceId: number,
	{ name, sha256 }: { name: string; sha256: Buffer },
	{ state, said }: Fate,
	content: Buffer | null,
) =>
	database.query(
		`INSERT INTO arrived (workspace_id, name, sha256, state, said, content) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT DO NOTHING`,
		[workspaceId, name, sha256, state, said.slice(0, 50).map((line) => line.slice(0, 500)), content],
	);

/** Digests of files that wait: they are looked at again and again, and read once. */
const digests = new Map<string, Buffer>();

async function digestOf(path: string): Promise<Buffer> {
	const { size, mtimeMs } = await stat(path);
	const as = `${path} ${size} ${mtimeMs}`;
	const known = digests.get(as);
	if (known) return known;
	if (digests.size > MANY) digests.clear();
	const digest = createHash('sha256')
		.update(await readFile(path))
		.digest();
	digests.set(as, digest);
	return digest;
}

/** Moves files that waited and were decided on the page. */
async function followDecided(folder: string, workspaceId: number): Promise<void> {
	const waiting = join(folder, 'waiting');
	for (const entry of await readdir(waiting, { withFileTypes: true })) {
		if (!entry.isFile() || entry.name.endsWith(SAID)) continue;
		const sha256 = await digestOf(join(waiting, entry.name));
		// Under the name that it came by, or with a number behind it.
		const { rows } = await pool().query<Fate>(
			`SELECT state, said FROM arrived WHERE workspace_id = $1 AND sha256 = $2 AND state <> 'waiting' LIMIT 1`,
			[workspaceId, sha256],
		);
		if (rows[0]) await put(folder, entry.name, rows[0], waiting);
	}
	// What was said of one that waits no longer stands beside it where it went.
	const left = await readdir(waiting);
	for (const name of left)
		if (name.endsWith(SAID) && !left.includes(name.slice(0, -SAID.length))) await rm(join(waiting, name));
}

/** Files that wait to be looked at, the oldest first. */
export async function loadWaiting(workspaceId: number, database: Queryable = pool()): Promise<Waiting[]> {
	const { rows } = await database.query<Waiting>(
		`SELECT id, name, to_json(at) #>> '{}' AS at, said FROM arrived WHERE workspace_id = $1 AND state = 'waiting' ORDER BY id LIMIT 100`,
		[workspaceId],
	);
	return rows;
}

/** What waits, byte for byte. @throws Refusal 404 where nothing of that number waits */
export async function loadWaitingContent(
	workspaceId: number,
	id: number,
): Promise<{ name: string; content: Buffer }> {
	const { rows } = await pool().query<{ name: string; content: Buffer }>(
		`SELECT name, content FROM arrived WHERE workspace_id = $1 AND id = $2 AND state = 'waiting'`,
		[workspaceId, id],
	);
	if (!rows[0]) throw new Refusal(404, 'No file of that number waits; somebody may have decided on it.');
	return rows[0];
}

/** Says that a file that waited was brought in by hand, or is not wanted. @throws Refusal 404 */
export const decideWaiting = (actor: Actor, id: number, taken: boolean): Promise<Waiting[]> =>
	changing(actor, async (client) => {
		const { rowCount } = await client.query(
			`UPDATE arrived SET state = $3, content = NULL, said = said || (
				$4 || ' by ' || actor_name((SELECT actor FROM acting()))
			) WHERE workspace_id = $1 AND id = $2 AND state = 'waiting'`,
			[actor.workspaceId, id, taken ? 'done' : 'refused', taken ? 'Brought in' : 'Put away'],
		);
		if (rowCount === 0)
			throw new Refusal(404, 'No file of that number waits; somebody may have decided on it.');
		return loadWaiting(actor.workspaceId, client);
	});
