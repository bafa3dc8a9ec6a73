/** A file of any size, read part by part in a thread of its own; its rows leave as the text that COPY reads. */
import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import type { MessagePort } from 'node:worker_threads';
import { BOUNDS, written } from '$core/bounds';
import { isCode, isPlainText, plainText } from '$core/schemas';
import { tooMany } from '../../reading/align';
import { type Part, RowsReader } from '../../reading/by-rows';
import { decisionOf } from '../../reading/decision';
import type { Encoding } from '../../reading/decode';
import { shorten } from '../../reading/figures';
import type { Entry } from '../../reading/gather';
import { openBytes } from '../../reading/source';
import { CutError } from '../../reading/table';
import type { StreamRequest } from '../../wire/bring-in';
import { copyLine, labelsAsJson } from '../database/copy-text';
import { Refusal } from '../refusal';
import type { StreamAnswer, StreamedFile, StreamPart, StreamTask } from './tasks';

/** Bytes that are read at a time, so few that what is made of them is gone before it grows old; and that are stored at a time. */
const PART = 65_536;
const STORED = 524_288;

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

async function readerOf(
	path: string,
	choices: StreamRequest['choices'],
): Promise<{ reader: RowsReader; encoding: Encoding }> {
	const source = await openBytes(await sampleOf(path), choices.encoding);
	const reader = RowsReader.of(source, choices);
	if ('problem' in reader) throw new Refusal(422, reader.problem);
	return { reader, encoding: reader.reading.encoding ?? 'utf-8' };
}

/** Figures of one part of a file, column by column. */
interface Batch {
	/** Rows of items that were not met before. */
	fresh: string[];
	numbers: number[];
	periods: number[];
	values: (number | null)[];
}

const emptyBatch = (): Batch => ({ fresh: [], numbers: [], periods: [], values: [] });

/** Thrown when periods of an item do not come in order, so that one may stand twice. */
class Unsorted extends Error {}

/** Numbers the items of a file as they come, and holds their figures to their bounds. */
class Intake {
	readonly items = new Map<string, number>();
	/** Items that were met before all of their labels were, with what was known. */
	readonly #unlabelled = new Map<string, string>();
	#first: number[] = [];
	#last: number[] = [];
	#latest: number[] = [];

	constructor(
		readonly reader: RowsReader,
		/** Whether an item's periods may come in any order. */
		readonly anyOrder: boolean,
	) {}

	/** Adds a part of whole rows to what is stored next. @throws Refusal naming the row that cannot be read */
	take(text: string, isLast: boolean, batch: Batch): void {
		const part = this.#read(text, isLast);
		for (const [i, entry] of part.entries.entries()) {
			const period = part.ordinals[i] ?? null;
			if (period === null) continue;
			const number = this.items.get(entry.item) ?? this.#meet(entry, batch);
			if (period <= this.#last[number]! && !this.anyOrder) throw new Unsorted();
			this.#last[number] = period;
			if (period < this.#first[number]!) this.#first[number] = period;
			if (period > this.#latest[number]!) this.#latest[number] = period;
			const length = this.#latest[number]! - this.#first[number]! + 1;
			if (length > BOUNDS.periods)
				throw refuse(`Row ${written(entry.row + 1)} takes ${entry.item} too far: ${tooMany(length)}`);
			batch.numbers.push(number);
			batch.periods.push(period);
			batch.values.push(part.values[i]!);
		}
	}

	#read(text: string, isLast: boolean): Part {
		try {
			const part = this.reader.take(text, isLast);
			if ('refused' in part) throw refuse(part.refused);
			return part;
		} catch (error) {
			if (!(error instanceof CutError)) throw error;
			throw refuse(
				`Row ${written(this.reader.at + error.row + 1)} cannot be cut into columns: a quotation mark in it has no end. Close it, or leave it out`,
			);
		}
	}

	/** Rows of items and their labels that came after they were met. */
	lateLabels(): string[] {
		const { labels } = this.reader.reading;
		return [...this.#unlabelled].flatMap(([item, before]) => {
			const json = labelsAsJson(labels, this.reader.labelsOf(item));
			return json === before ? [] : [copyLine(item, json)];
		});
	}

	#meet({ item, name, unit, row }: Entry, batch: Batch): number {
		const at = `Row ${written(row + 1)}`;
		if (item === '') throw refuse(`${at} names no item`);
		if (item.length > BOUNDS.code)
			throw refuse(`${at} has a code of ${item.length} characters; a code has at most ${BOUNDS.code}`);
		if (!isPlainText(item) || item.includes(UNREADABLE))
			throw refuse(`${at} has a code with characters that cannot be seen`);
		if (!isCode(item)) throw refuse(`${at} has the code “${item}”, which no address can end with`);
		if (this.items.size >= BOUNDS.streamItems)
			throw refuse(`${at} is of yet another item; at most ${written(BOUNDS.streamItems)} come in at once`);
		const number = this.items.size;
		this.items.set(item, number);
		this.#first.push(Infinity);
		this.#last.push(-Infinity);
		this.#latest.push(-Infinity);
		const { frequency, seasonLength, labels } = this.reader.reading;
		const given = this.reader.labelsOf(item);
		const json = labelsAsJson(labels, given);
		if (given.includes('')) this.#unlabelled.set(item, json);
		const shown = name.includes(UNREADABLE) ? '' : plainText(name).slice(0, BOUNDS.name);
		batch.fresh.push(
			copyLine(
				number,
				item,
				shown || item,
				unit.includes(UNREADABLE) ? '' : plainText(unit).slice(0, BOUNDS.unit),
				frequency,
				seasonLength,
				json,
			),
		);
		return number;
	}
}

/** What stands for bytes that are no text. */
const UNREADABLE = '\ufffd';

const refuse = (what: string): Refusal =>
	new Refusal(422, `${what}${/[.!]$/.test(what) ? '' : '.'} Nothing was stored.`);

/** A file in parts that end with a row: at a line end that is not within quotation marks. */
async function* partsOf(
	path: string,
	encoding: Encoding,
): AsyncGenerator<{ text: string; bytes: number; isLast: boolean }> {
	const decoder = new TextDecoder(encoding);
	let rest = '';
	let bytes = 0;
	for await (const chunk of createReadStream(path, { highWaterMark: PART }) as AsyncIterable<Buffer>) {
		bytes += chunk.length;
		rest += decoder.decode(chunk, { stream: true });
		const end = lastRowEnd(rest);
		if (end > 0) {
			yield { text: rest.slice(0, end), bytes, isLast: false };
			rest = rest.slice(end);
		} else if (rest.length > 4 * BOUNDS.rowCharacters) {
			throw new Refusal(
				422,
				`A row that begins with “${shorten(rest)}” has no end: a quotation mark is open, or it is longer than any row. Nothing was stored.`,
			);
		}
	}
	rest += decoder.decode();
	yield { text: rest, bytes, isLast: true };
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
export async function readStream({
	path,
	choices,
	anyOrder,
	port,
	workspaceId,
}: StreamTask): Promise<StreamedFile> {
	const { reader, encoding } = await readerOf(path, choices);
	if (reader.sums && !anyOrder) {
		port.close();
		return { unsorted: true };
	}
	const intake = new Intake(reader, anyOrder);
	const line = new Line(port);
	const decision = decisionOf(reader.reading, choices);
	const { ids: begun } = await line.ask({ kind: 'begin', decision }, []);
	const dataChangeId = begun[0] ?? 0;
	/** By number: the id of an item made for this file, 0 for one that was there before. */
	const ids: number[] = [];
	/** Rows of figures, by whether their item was made for this file. */
	const rowsOf = ({
		numbers,
		periods,
		values,
	}: Batch): { direct: Uint8Array; staged: Uint8Array; added: number } => {
		const direct: string[] = [];
		const staged: string[] = [];
		for (let i = 0; i < numbers.length; i++) {
			const id = ids[numbers[i]!] ?? 0;
			const value = values[i] ?? '\\N';
			if (id > 0) direct.push(`${workspaceId}\t${id}\t${periods[i]}\t1\t${value}\t${dataChangeId}\n`);
			else staged.push(`${numbers[i]}\t${periods[i]}\t${value}\n`);
		}
		return { direct: encode(direct), staged: encode(staged), added: direct.length };
	};
	/** The figures that are being stored, and those that come next: while the database takes the ones, the others are read and written out. */
	let storing: Promise<unknown> = Promise.resolve();
	let next: ReturnType<typeof rowsOf> | null = null;
	const storeNext = async (bytes: number) => {
		await storing;
		if (!next) return;
		const { direct, staged, added } = next;
		storing = line.ask(
			{ kind: 'figures', direct, staged, added, bytes, rows: reader.rows, items: intake.items.size },
			[direct, staged],
		);
	};
	let batch = emptyBatch();
	let stored = 0;
	try {
		for await (const { text, bytes, isLast } of partsOf(path, encoding)) {
			intake.take(text, isLast, batch);
			if (bytes - stored < STORED && !isLast) continue;
			stored = bytes;
			// Items are asked for before the figures that wait are handed over, so that the database has these while they are used.
			const items = encode(batch.fresh);
			const made = items.length > 0 ? line.ask({ kind: 'items', items }, [items]) : null;
			await storeNext(bytes);
			const { ids: pairs } = (await made) ?? { ids: [] };
			for (let i = 0; i < pairs.length; i += 2) ids[pairs[i]!] = pairs[i + 1]!;
			next = rowsOf(batch);
			batch = emptyBatch();
		}
		await storeNext(stored);
		await storing;
		const late = encode(intake.lateLabels());
		if (late.length > 0) await line.ask({ kind: 'labels', labels: late }, [late]);
	} catch (error) {
		if (error instanceof Unsorted) return { unsorted: true };
		throw error;
	} finally {
		port.close();
	}
	if (intake.items.size === 0)
		throw new Refusal(422, 'There are no figures in this file. Nothing was stored.');
	return { unsorted: false, rows: reader.rows, items: intake.items.size, filled: reader.filled() };
}
