import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { CsvError, parse } from 'csv-parse';
import type pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { MAXIMUM_PERIODS } from '$core/series/frequency';
import { ENCODING_NAME } from '../reading/decode';
import { tooMany } from '../reading/lay';
import { planRows, type RowPlan } from '../reading/plan';
import { readBytes } from '../reading/read';
import type { StreamProgress, StreamWish } from '../shapes';
import { insertDataChange } from './actuals';
import { transaction } from './database';
import { insertRawText } from './raw-texts';
import { Refusal } from './refusal';
import { combineStaged, makeStaging, type StagedItem, stageItems, takeStaged } from './staging';
import type { Actor } from './workspaces';

/** How much of a file its layout is decided on: the same as in the browser. */
export const SAMPLE_BYTES = 262_144;
const LARGEST_FILE = Number(process.env.VENTREL_LARGEST_FILE ?? 4_000_000_000);
const MOST_ITEMS = 500_000;
const TELL_EVERY = 200;
const LONGEST_ROW = 1_000_000;
const LONGEST_CODE = 80;

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
		const { bytesRead, buffer } = await file.read(Buffer.alloc(SAMPLE_BYTES), 0, SAMPLE_BYTES, 0);
		const read = buffer.subarray(0, bytesRead);
		const end = bytesRead < SAMPLE_BYTES ? bytesRead : read.lastIndexOf(10) + 1;
		if (end === 0)
			throw new Refusal(
				422,
				`The first line of this file is longer than ${SAMPLE_BYTES / 1024} kB, which no row of a table is.`,
			);
		return read.subarray(0, end);
	} finally {
		await file.close();
	}
}

async function planOf(
	path: string,
	choices: StreamWish['choices'],
): Promise<RowPlan & { encoding: BufferEncoding }> {
	const reading = await readBytes(await sampleOf(path), choices);
	if (reading.problem) throw new Refusal(422, reading.problem);
	const encoding = { 'utf-8': 'utf8', 'utf-16le': 'utf16le', 'windows-1252': 'latin1', 'utf-16be': null }[
		reading.encoding ?? 'utf-8'
	];
	if (!encoding)
		throw new Refusal(
			422,
			`A file of this size in ${ENCODING_NAME['utf-16be']} is not read. Save it as UTF-8.`,
		);
	const plan = planRows(reading, choices);
	if ('problem' in plan) throw new Refusal(422, plan.problem);
	return { ...plan, encoding: encoding as BufferEncoding };
}

/** Rows on their way into the database, with what is counted along. */
class Intake {
	readonly items = new Map<string, number>();
	readonly staged: StagedItem[] = [];
	rows = 0;
	/** Whether a period may stand twice, because the periods of an item did not come in order. */
	unsorted = false;
	#first: number[] = [];
	#last: number[] = [];
	#latest: number[] = [];

	constructor(readonly plan: RowPlan) {}

	/** A row as lines for COPY. @throws Refusal naming the line */
	lines(row: readonly string[], line: number): string {
		const read = this.plan.read(row);
		if ('skipped' in read) return '';
		if ('refused' in read)
			throw new Refusal(
				422,
				`Line ${line.toLocaleString('en')} ${read.refused}. Correct it and try again. Nothing was stored.`,
			);
		const number = this.#numberOf(read, line);
		this.rows++;
		let text = '';
		for (const { period, value } of read.figures) {
			if (period <= this.#last[number]!) this.unsorted = true;
			this.#last[number] = period;
			if (period < this.#first[number]!) this.#first[number] = period;
			if (period > this.#latest[number]!) this.#latest[number] = period;
			text += `${number}\t${period}\t${value === null ? '\\N' : value}\n`;
		}
		return text;
	}

	/** @throws Refusal naming the first item whose periods lie too far apart */
	checkSpans(): void {
		const far = this.staged.find(
			({ number }) => this.#latest[number]! - this.#first[number]! >= MAXIMUM_PERIODS,
		);
		if (!far) return;
		const span = this.#latest[far.number]! - this.#first[far.number]! + 1;
		throw new Refusal(422, `${far.code}: ${tooMany(span)} Nothing was stored.`);
	}

	#numberOf({ item, name, unit }: { item: string; name: string; unit: string }, line: number): number {
		const known = this.items.get(item);
		if (known !== undefined) return known;
		const refuse = (what: string) =>
			new Refusal(422, `Line ${line.toLocaleString('en')} ${what}. Nothing was stored.`);
		if (item === '') throw refuse('names no item');
		if (item.length > LONGEST_CODE)
			throw refuse(`has a code of ${item.length} characters; a code has at most ${LONGEST_CODE}`);
		if (holdsControls(item)) throw refuse('has a code with characters that cannot be seen');
		if (this.items.size >= MOST_ITEMS)
			throw refuse(`is of yet another item; at most ${MOST_ITEMS.toLocaleString('en')} come in at once`);
		const number = this.items.size;
		this.items.set(item, number);
		this.#first.push(Infinity);
		this.#last.push(-Infinity);
		this.#latest.push(-Infinity);
		const shown = holdsControls(name) ? '' : name.slice(0, 200);
		this.staged.push({
			number,
			code: item,
			name: shown || item,
			unit: holdsControls(unit) ? '' : unit.slice(0, 40),
			frequency: this.plan.frequency,
			seasonLength: this.plan.seasonLength,
		});
		return number;
	}
}

const holdsControls = (text: string) =>
	[...text].some((character) => character < ' ' || character === '\u007f' || character === '\ufffd');

/**
 * Takes in a delimited file of any size: row by row through COPY into the transaction's own staging, then over to
 * the items, all or nothing. Memory does not grow with the rows, only with the items' codes.
 * @param signal stops it, and nothing is stored
 * @throws Refusal naming the line that cannot be read
 */
export async function streamIn(
	actor: Actor,
	{ path, size }: Spooled,
	wish: StreamWish,
	tell: Tell,
	signal: AbortSignal,
): Promise<Extract<StreamProgress, { done: unknown }>> {
	const plan = await planOf(path, wish.choices);
	const undo = Symbol('tried only');
	let done: Extract<StreamProgress, { done: unknown }> | null = null;
	try {
		return await transaction(async (client) => {
			const { workspaceId, name: by } = actor;
			await makeStaging(client);
			const intake = await copyRows(client, path, size, plan, tell, signal);
			intake.checkSpans();
			if (intake.rows === 0) throw new Refusal(422, 'There are no figures in this file.');
			const standing = () => ({ rows: intake.rows, items: intake.staged.length });
			tell({ stage: 'storing', share: 0, ...standing() });
			await stageItems(client, intake.staged);
			if (intake.unsorted) await combineStaged(client, wish.choices.duplicates ?? 'sum');
			signal.throwIfAborted();
			const rawTextId = await insertRawText(client, {
				workspaceId,
				fileName: wish.fileName ?? null,
				content: createReadStream(path, { highWaterMark: 1_048_576 }),
				by,
			});
			const dataChangeId = await insertDataChange(client, {
				workspaceId,
				rawTextId,
				reading: wish.choices,
				by,
			});
			tell({ stage: 'storing', share: 0.3, ...standing() });
			const brought = await takeStaged(client, actor, dataChangeId);
			signal.throwIfAborted();
			const sum = (of: (item: (typeof brought)[number]) => number) =>
				brought.reduce((total, item) => total + of(item), 0);
			done = {
				done: {
					items: brought.length,
					created: sum(({ created }) => Number(created)),
					added: sum(({ added }) => added),
					corrected: sum(({ corrected }) => corrected),
					same: sum(({ same }) => same),
					rows: intake.rows,
					stored: !wish.tryOnly,
				},
			};
			if (wish.tryOnly) throw undo;
			return done;
		});
	} catch (error) {
		if (error === undo && done) return done;
		throw error;
	}
}

async function copyRows(
	client: pg.ClientBase,
	path: string,
	size: number,
	plan: RowPlan & { encoding: BufferEncoding },
	tell: Tell,
	signal: AbortSignal,
): Promise<Intake> {
	const intake = new Intake(plan);
	const copy = client.query(copyFrom('COPY staged_actual (number, period, value) FROM STDIN'));
	const file = createReadStream(path, { highWaterMark: 1_048_576 });
	const parser = parse({
		delimiter: plan.delimiter,
		relax_column_count: true,
		relax_quotes: true,
		bom: true,
		trim: true,
		encoding: plan.encoding,
		max_record_size: LONGEST_ROW,
		skip_empty_lines: false,
	});
	let told = 0;
	let line = 0;
	let text = '';
	try {
		await pipeline(
			file,
			parser,
			async function* (rows: AsyncIterable<string[]>) {
				for await (const row of rows) {
					if (line++ < plan.headings) continue;
					text += intake.lines(row, line);
					if (text.length < 65_536) continue;
					yield text;
					text = '';
					if (Date.now() - told < TELL_EVERY) continue;
					told = Date.now();
					tell({
						stage: 'reading',
						share: file.bytesRead / Math.max(1, size),
						rows: intake.rows,
						items: intake.staged.length,
					});
				}
				if (text) yield text;
			},
			copy,
			{ signal },
		);
	} catch (error) {
		if (error instanceof CsvError) {
			throw new Refusal(
				422,
				`Line ${Number(error.lines).toLocaleString('en')} cannot be cut into columns: ${error.message.slice(0, 160)}. Check its quotation marks. Nothing was stored.`,
			);
		}
		throw error;
	}
	return intake;
}
