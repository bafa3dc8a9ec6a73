/** A file of any size, read part by part in a thread of its own; its rows leave as the text that COPY reads. */
import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import type { MessagePort } from 'node:worker_threads';
import { BOUNDS, written } from '$core/bounds';
import type { Encoding } from '../../reading/decode';
import { shorten } from '../../reading/figures';
import { tooMany } from '../../reading/align';
import { agrees, NOT_BY_ROWS, planRows, type RowPlan } from '../../reading/plan';
import { readBytes } from '../../reading/read';
import { cutDelimited, CutError } from '../../reading/table';
import type { StreamRequest } from '../../shapes';
import { copyLine } from '../copy-text';
import { Refusal } from '../refusal';
import type { StreamAnswer, StreamedFile, StreamPart, StreamTask } from './tasks';

const PART = 524_288;

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

/** So many lines of a beginning as are read whole beside it. */
const COMPARED = 200;

function firstLines(sample: Buffer): Buffer {
	let end = 0;
	for (let line = 0; line < COMPARED; line++) {
		const next = sample.indexOf(10, end);
		if (next < 0) return sample;
		end = next + 1;
	}
	return sample.subarray(0, end);
}

async function planOf(
	path: string,
	choices: StreamRequest['choices'],
): Promise<RowPlan & { encoding: Encoding }> {
	const sample = await sampleOf(path);
	const reading = await readBytes(sample, choices);
	if (reading.problem) throw new Refusal(422, reading.problem);
	const plan = planRows(reading, choices);
	if ('problem' in plan) throw new Refusal(422, plan.problem);
	const alike = { ...choices, frequency: reading.frequency };
	const beginning = await readBytes(firstLines(sample), alike);
	// Wider tables than are shown cannot be held against their beginning.
	const shown =
		beginning.rows[0]?.length === beginning.columnCount && beginning.rowCount === beginning.rows.length;
	if (shown && beginning.problem === null && !agrees(plan, beginning, choices))
		throw new Refusal(422, NOT_BY_ROWS);
	return { ...plan, encoding: reading.encoding ?? 'utf-8' };
}

/** Figures of one part of a file, column by column. */
interface Batch {
	/** Rows of items that were not met before. */
	fresh: string[];
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
			const rows = cutDelimited(text, this.plan.delimiter);
			// After its last line end a part has nothing more.
			if (rows.at(-1)?.every((cell) => cell === '')) rows.pop();
			return rows;
		} catch (error) {
			if (!(error instanceof CutError)) throw error;
			throw uncut(this.#line + error.row + 1);
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
		const shown = holdsControls(name) ? '' : name.slice(0, BOUNDS.name);
		batch.fresh.push(
			copyLine(
				number,
				item,
				shown || item,
				holdsControls(unit) ? '' : unit.slice(0, BOUNDS.unit),
				frequency,
				seasonLength,
			),
		);
		return number;
	}

	#refuse(what: string): Refusal {
		return new Refusal(
			422,
			`Line ${this.#line.toLocaleString('en')} ${what}${/[.!]$/.test(what) ? '' : '.'} Nothing was stored.`,
		);
	}
}

const uncut = (line: number) =>
	new Refusal(
		422,
		`Line ${line.toLocaleString('en')} cannot be cut into columns: a quotation mark in it has no end. Close it, or leave it out. Nothing was stored.`,
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

/** Asks the side that has the database, one question at a time in flight for each kind of answer. */
class Line {
	#answers: ((answer: StreamAnswer) => void)[] = [];

	constructor(readonly port: MessagePort) {
		port.on('message', (answer: StreamAnswer) => this.#answers.shift()?.(answer));
	}

	ask(part: StreamPart, moved: readonly Uint8Array[]): Promise<StreamAnswer> {
		const answered = new Promise<StreamAnswer>((resolve) => this.#answers.push(resolve));
		this.port.postMessage(
			part,
			moved.map(({ buffer }) => buffer as ArrayBuffer),
		);
		return answered;
	}
}

const encode = (lines: readonly string[]): Uint8Array => new TextEncoder().encode(lines.join(''));

/**
 * Reads a file and hands its rows over; while the database takes one part, the next is read.
 * @throws Refusal naming the line that cannot be read
 */
export async function readStream({ path, choices, anyOrder, port, row }: StreamTask): Promise<StreamedFile> {
	const plan = await planOf(path, choices);
	const intake = new Intake(plan, anyOrder);
	const line = new Line(port);
	/** By number: the id of an item made for this file, 0 for one that was there before. */
	const ids: number[] = [];
	let taken: Promise<unknown> = Promise.resolve();
	try {
		for await (const { text, bytes } of partsOf(path, plan.encoding)) {
			const batch = intake.take(text);
			if (batch.fresh.length > 0) {
				const items = encode(batch.fresh);
				const { ids: made } = await line.ask({ kind: 'items', items }, [items]);
				for (let i = 0; i < made.length; i += 2) ids[made[i]!] = made[i + 1]!;
			}
			const direct: string[] = [];
			const staged: string[] = [];
			for (let i = 0; i < batch.numbers.length; i++) {
				const id = ids[batch.numbers[i]!] ?? 0;
				const value = batch.values[i] ?? '\\N';
				if (id > 0)
					direct.push(`${row.workspaceId}\t${id}\t${batch.periods[i]}\t1\t${value}\t${row.dataChangeId}\n`);
				else staged.push(`${batch.numbers[i]}\t${batch.periods[i]}\t${value}\n`);
			}
			const figures = { direct: encode(direct), staged: encode(staged) };
			// One part is on its way while the next is read and written out; answers come in the order of the questions.
			await taken;
			taken = line.ask(
				{
					kind: 'figures',
					...figures,
					added: direct.length,
					bytes,
					rows: intake.rows,
					items: intake.items.size,
				},
				Object.values(figures),
			);
		}
		await taken;
	} catch (error) {
		if (error instanceof Unsorted) return { unsorted: true };
		throw error;
	} finally {
		port.close();
	}
	if (intake.rows === 0) throw new Refusal(422, 'There are no figures in this file. Nothing was stored.');
	return { unsorted: false, rows: intake.rows, items: intake.items.size };
}
