import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { finished, pipeline } from 'node:stream/promises';
import { CsvError, parse } from 'csv-parse/sync';
import type pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { BOUNDS, written } from '$core/bounds';
import type { Encoding } from '../reading/decode';
import { shorten } from '../reading/figures';
import { tooMany } from '../reading/lay';
import { planRows, type RowPlan } from '../reading/plan';
import { readBytes } from '../reading/read';
import type { BroughtIn, StreamProgress, StreamWish } from '../shapes';
import { insertDataChange } from './actuals';
import { transaction } from './database';
import { insertRawText } from './raw-texts';
import { Refusal } from './refusal';
import { combineStaged, createItems, makeStaging, type StagedItem, takeStaged } from './staging';
import type { Actor } from './workspaces';

const LARGEST_FILE = Number(process.env.VENTREL_LARGEST_FILE ?? BOUNDS.streamBytes);
const TELL_EVERY = 200;
const PART = 524_288;
const ONE_FILE_AT_A_TIME = 721_406;

export type Tell = (progress: StreamProgress) => void;

/** A body on disk. */
export interface Spooled {
	path: string;
	size: number;
	remove(): Promise<void>;
}

/** Keeps a body in a file of its own until it is taken in, whatever its size. */
export async function spool(body: ReadableStream<Uint8Array>): Promise<Spooled> {
	const folder = await mkdtemp(join(tmpdir(), 'ventrel-'));
	const path = join(folder, 'file');
	const remove = () => rm(folder, { recursive: true, force: true });
	let size = 0;
	try {
		await pipeline(
			Readable.fromWeb(body as Parameters<typeof Readable.fromWeb>[0]),
			async function* (chunks: AsyncIterable<Buffer>) {
				for await (const chunk of chunks) {
					size += chunk.length;
					if (size > LARGEST_FILE) {
						throw new Refusal(
							413,
							`The file is larger than the ${LARGEST_FILE / 1e9} GB that are taken in at once.`,
						);
					}
					yield chunk;
				}
			},
			createWriteStream(path),
		);
	} catch (error) {
		await remove();
		throw error;
	}
	return { path, size, remove };
}

/** The beginning of a file up to its last whole line. */
async function sampleOf(path: string): Promise<Buffer> {
	const file = await open(path);
	try {
		const { bytesRead, buffer } = await file.read(Buffer.alloc(BOUNDS.sampleBytes), 0, BOUNDS.sampleBytes, 0);
		const read = buffer.subarray(0, bytesRead);
		const end = bytesRead < BOUNDS.sampleBytes ? bytesRead : read.lastIndexOf(10) + 1;
		if (end === 0)
			throw new Refusal(
				422,
				`The first line of this file is longer than ${BOUNDS.sampleBytes / 1024} kB, which no row of a table is.`,
			);
		return read.subarray(0, end);
	} finally {
		await file.close();
	}
}

async function planOf(
	path: string,
	choices: StreamWish['choices'],
): Promise<RowPlan & { encoding: Encoding }> {
	const reading = await readBytes(await sampleOf(path), choices);
	if (reading.problem) throw new Refusal(422, reading.problem);
	const plan = planRows(reading, choices);
	if ('problem' in plan) throw new Refusal(422, plan.problem);
	return { ...plan, encoding: reading.encoding ?? 'utf-8' };
}

/** Figures of one part of a file, column by column. */
interface Batch {
	/** Items that were not met before. */
	fresh: StagedItem[];
	numbers: number[];
	periods: number[];
	values: (number | null)[];
}

/** Thrown when periods of an item do not come in order, so that one may stand twice. */
class Unsorted extends Error {}

/** Reads the rows of a file part by part, and keeps what is known of its items. */
class Intake {
	readonly items = new Map<string, number>();
	rows = 0;
	#line = 0;
	#first: number[] = [];
	#last: number[] = [];
	#latest: number[] = [];

	constructor(
		readonly plan: RowPlan,
		/** Whether an item's periods may come in any order. */
		readonly anyOrder: boolean,
	) {}

	/** A part of whole rows. @throws Refusal naming the line that cannot be read */
	take(text: string): Batch {
		const batch: Batch = { fresh: [], numbers: [], periods: [], values: [] };
		for (const row of this.#cut(text)) {
			if (this.#line++ < this.plan.headings) continue;
			this.#takeRow(row, batch);
		}
		return batch;
	}

	#cut(text: string): string[][] {
		try {
			return parse(text, {
				delimiter: this.plan.delimiter,
				relax_column_count: true,
				relax_quotes: true,
				bom: this.#line === 0,
				trim: true,
				max_record_size: BOUNDS.rowCharacters,
			});
		} catch (error) {
			if (!(error instanceof CsvError)) throw error;
			throw uncut(this.#line + Number(error.lines), error.message);
		}
	}

	#takeRow(row: readonly string[], batch: Batch): void {
		const read = this.plan.read(row);
		if ('skipped' in read) return;
		if ('refused' in read) throw this.#refuse(`${read.refused}. Correct it and try again`);
		const known = this.items.get(read.item);
		const number = known ?? this.#meet(read, batch);
		this.rows++;
		for (const { period, value } of read.figures) {
			if (period <= this.#last[number]! && !this.anyOrder) throw new Unsorted();
			this.#last[number] = period;
			if (period < this.#first[number]!) this.#first[number] = period;
			if (period > this.#latest[number]!) this.#latest[number] = period;
			batch.numbers.push(number);
			batch.periods.push(period);
			batch.values.push(value);
		}
		if (this.#latest[number]! - this.#first[number]! >= BOUNDS.periods) {
			throw this.#refuse(
				`takes ${read.item} too far: ${tooMany(this.#latest[number]! - this.#first[number]! + 1)}`,
			);
		}
	}

	#meet({ item, name, unit }: { item: string; name: string; unit: string }, batch: Batch): number {
		if (item === '') throw this.#refuse('names no item');
		if (item.length > BOUNDS.code)
			throw this.#refuse(`has a code of ${item.length} characters; a code has at most ${BOUNDS.code}`);
		if (holdsControls(item)) throw this.#refuse('has a code with characters that cannot be seen');
		if (this.items.size >= BOUNDS.streamItems)
			throw this.#refuse(`is of yet another item; at most ${written(BOUNDS.streamItems)} come in at once`);
		const number = this.items.size;
		this.items.set(item, number);
		this.#first.push(Infinity);
		this.#last.push(-Infinity);
		this.#latest.push(-Infinity);
		const { frequency, seasonLength } = this.plan;
		const shown = holdsControls(name) ? '' : name.slice(0, 200);
		batch.fresh.push({
			number,
			code: item,
			name: shown || item,
			unit: holdsControls(unit) ? '' : unit.slice(0, 40),
			frequency,
			seasonLength,
		});
		return number;
	}

	#refuse(what: string): Refusal {
		return new Refusal(
			422,
			`Line ${this.#line.toLocaleString('en')} ${what}${/[.!]$/.test(what) ? '' : '.'} Nothing was stored.`,
		);
	}
}

const uncut = (line: number, why: string) =>
	new Refusal(
		422,
		`Line ${line.toLocaleString('en')} cannot be cut into columns: ${why.slice(0, 160)}. Check its quotation marks. Nothing was stored.`,
	);

const holdsControls = (text: string) =>
	/[^ -\u007e\u00a0-\ufffc]/.test(text) &&
	[...text].some((character) => character < ' ' || character === '\u007f' || character === '\ufffd');

/** A file in parts that end with a row: at a line end that is not within quotation marks. */
async function* partsOf(path: string, encoding: Encoding): AsyncGenerator<{ text: string; bytes: number }> {
	const decoder = new TextDecoder(encoding);
	let rest = '';
	let bytes = 0;
	for await (const chunk of createReadStream(path, { highWaterMark: PART }) as AsyncIterable<Buffer>) {
		bytes += chunk.length;
		rest += decoder.decode(chunk, { stream: true });
		const end = lastRowEnd(rest);
		if (end > 0) {
			yield { text: rest.slice(0, end), bytes };
			rest = rest.slice(end);
		} else if (rest.length > 4 * BOUNDS.rowCharacters) {
			throw new Refusal(
				422,
				`A row that begins with “${shorten(rest)}” has no end: a quotation mark is open, or it is longer than any row. Nothing was stored.`,
			);
		}
	}
	rest += decoder.decode();
	if (rest) yield { text: rest, bytes };
}

function lastRowEnd(text: string): number {
	let end = text.lastIndexOf('\n') + 1;
	if (!text.includes('"')) return end;
	let quotes = 0;
	for (let at = text.indexOf('"'); at >= 0 && at < end; at = text.indexOf('"', at + 1)) quotes++;
	while (end > 0 && quotes % 2 === 1) {
		const before = text.lastIndexOf('\n', end - 2) + 1;
		for (let at = text.indexOf('"', before); at >= 0 && at < end; at = text.indexOf('"', at + 1)) quotes--;
		end = before;
	}
	return end;
}

/**
 * Takes in a delimited file of any size, part by part through COPY, all or nothing. Memory does not grow with the
 * rows, only with the items' codes.
 *
 * Figures of new items go straight to the actuals; those of items that were there before wait in the transaction's
 * staging until they can be compared. Where an item's periods do not come in order, so that some may stand twice,
 * everything is staged first, which takes longer.
 * @param signal stops it, and nothing is stored
 * @throws Refusal naming the line that cannot be read
 */
export async function streamIn(
	actor: Actor,
	file: Spooled,
	wish: StreamWish,
	tell: Tell,
	signal: AbortSignal,
): Promise<Done> {
	const plan = await planOf(file.path, wish.choices);
	try {
		return await takeIn({ actor, file, wish, plan, tell, signal }, false);
	} catch (error) {
		if (!(error instanceof Unsorted)) throw error;
		return takeIn({ actor, file, wish, plan, tell, signal }, true);
	}
}

type Done = Extract<StreamProgress, { done: unknown }>;

interface Job {
	actor: Actor;
	file: Spooled;
	wish: StreamWish;
	plan: RowPlan & { encoding: Encoding };
	tell: Tell;
	signal: AbortSignal;
}

/** Thrown to take back what was only tried. */
class TriedOnly extends Error {
	constructor(readonly done: Done) {
		super();
	}
}

async function takeIn(job: Job, stageAll: boolean): Promise<Done> {
	const { actor, file, wish } = job;
	const { workspaceId, name: by } = actor;
	try {
		return await transaction(async (client) => {
			// Items are met and locked in the order of the file: one file at a time, so that no two wait for each other.
			await client.query('SELECT pg_advisory_xact_lock($1, $2)', [ONE_FILE_AT_A_TIME, workspaceId]);
			const content = createReadStream(file.path, { highWaterMark: 1_048_576 });
			const rawTextId = await insertRawText(client, {
				workspaceId,
				fileName: wish.fileName ?? null,
				content,
				by,
			});
			const dataChangeId = await insertDataChange(client, {
				workspaceId,
				rawTextId,
				reading: wish.choices,
				by,
			});
			await makeStaging(client);
			const loader = new Loader(client, actor, dataChangeId, stageAll);
			const intake = await readParts(job, loader, stageAll);
			if (intake.rows === 0) throw new Refusal(422, 'There are no figures in this file. Nothing was stored.');
			job.tell({ stage: 'storing', share: 1, rows: intake.rows, items: intake.items.size });
			if (stageAll) await combineStaged(client, wish.choices.duplicates ?? 'sum');
			const brought = await takeStaged(client, actor, dataChangeId, loader.waiting);
			job.signal.throwIfAborted();
			const sum = (of: (item: BroughtIn) => number) => brought.reduce((total, item) => total + of(item), 0);
			const done: Done = {
				done: {
					items: intake.items.size,
					created: loader.created + sum(({ created }) => Number(created)),
					added: loader.added + sum(({ added }) => added),
					corrected: sum(({ corrected }) => corrected),
					same: sum(({ same }) => same),
					rows: intake.rows,
					stored: !wish.tryOnly,
				},
			};
			if (wish.tryOnly) throw new TriedOnly(done);
			return done;
		});
	} catch (error) {
		if (error instanceof TriedOnly) return error.done;
		throw error;
	}
}

/** Reads part after part; while the database takes one, the next is read. */
async function readParts(
	{ file, plan, tell, signal }: Job,
	loader: Loader,
	anyOrder: boolean,
): Promise<Intake> {
	const intake = new Intake(plan, anyOrder);
	let loading: Promise<void> = Promise.resolve();
	// Waited for further on; until then a failure must not pass for one that nobody cares about.
	const care = (promise: Promise<void>) => {
		promise.catch(() => undefined);
		return promise;
	};
	let told = 0;
	try {
		for await (const { text, bytes } of partsOf(file.path, plan.encoding)) {
			const batch = intake.take(text);
			await loading;
			signal.throwIfAborted();
			loading = care((await loader.load(batch)).done);
			if (Date.now() - told < TELL_EVERY) continue;
			told = Date.now();
			tell({
				stage: 'reading',
				share: bytes / Math.max(1, file.size),
				rows: intake.rows,
				items: intake.items.size,
			});
		}
	} finally {
		await loading.catch(() => undefined);
	}
	await loading;
	return intake;
}

/** Brings batches of figures into the database. */
class Loader {
	created = 0;
	added = 0;
	/** Items whose figures wait in the staging. */
	readonly waiting: StagedItem[] = [];
	/** By number: the id of an item made in this transaction, 0 for one that was there before. */
	readonly #ids: number[] = [];

	constructor(
		readonly client: pg.ClientBase,
		readonly actor: Actor,
		readonly dataChangeId: number,
		readonly stageAll: boolean,
	) {}

	/**
	 * Hands a batch over.
	 * @returns once all of it is on its way, what becomes of it: the next part can be read in the meantime
	 */
	async load({ fresh, numbers, periods, values }: Batch): Promise<{ done: Promise<void> }> {
		if (fresh.length > 0) await this.#meet(fresh);
		const direct: string[] = [];
		const staged: string[] = [];
		const before = `${this.actor.workspaceId}\t`;
		const after = `\t${this.dataChangeId}\n`;
		for (let i = 0; i < numbers.length; i++) {
			const id = this.#ids[numbers[i]!]!;
			const value = values[i] ?? '\\N';
			if (id > 0) direct.push(`${before}${id}\t${periods[i]}\t1\t${value}${after}`);
			else staged.push(`${numbers[i]}\t${periods[i]}\t${value}\n`);
		}
		this.added += direct.length;
		if (staged.length > 0) {
			const { done } = await this.#copy('staged_actual (number, period, value)', staged);
			if (direct.length === 0) return { done };
			await done;
		}
		return this.#copy('actual (workspace_id, item_id, period, revision, value, data_change_id)', direct);
	}

	/** Makes the items that are new; the others wait in the staging, and so do all where everything does. */
	async #meet(fresh: readonly StagedItem[]): Promise<void> {
		const ids = this.stageAll ? new Map<string, number>() : await createItems(this.client, this.actor, fresh);
		for (const { number, code } of fresh) this.#ids[number] = ids.get(code) ?? 0;
		this.created += ids.size;
		for (const item of fresh) if (!ids.has(item.code)) this.waiting.push(item);
	}

	async #copy(target: string, lines: readonly string[]): Promise<{ done: Promise<void> }> {
		if (lines.length === 0) return { done: Promise.resolve() };
		const copy = this.client.query(copyFrom(`COPY ${target} FROM STDIN`));
		const done = finished(copy);
		const sent = new Promise<void>((resolve) => copy.write(lines.join(''), () => resolve()));
		copy.end();
		await Promise.race([sent, done]);
		return { done };
	}
}
