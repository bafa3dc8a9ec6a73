import { BOUNDS } from '$core/bounds';
import { LEAST_FIGURES } from '../../reading/read';
import type { Doubt, ReadItem, Reading } from '../../reading/reading';
import { type Choices } from '../../reading/choices';
import { fingerprintOf } from '../../reading/decision';
import type { TableReader } from '../../reading/table-reader';
import type { BroughtIn, StreamProgress } from '../../wire/bring-in';
import type { StoredSeries } from '../../wire/items';
import { arithmetic } from '../../browser-worker/arithmetic';
import { Latest } from '../../browser-worker/latest';
import { call, CallError, messageOf } from '../base/call';
import {
	codesByName,
	evidenceOf,
	further,
	makeOf,
	NO_EVIDENCE,
	withEvidence,
	wordsOf,
} from '../../reading/evidence';
import type { KnownTable } from '../../wire/bring-in';
import { moment } from '../base/format';
import { compareItem, type Comparison } from './compare';
import { sendFile, type Sending, sendTable } from '../base/send-table';

const KEPT = 'ventrel-bring-in';

/** What an item of the table is to be called, where that differs from the table; and whether it is left out. */
interface Taken {
	code?: string;
	name?: string;
	unit?: string;
	skipped?: boolean;
}

/** An item of the table as it would come in. */
export interface Incoming {
	item: ReadItem;
	code: string;
	name: string;
	/** Its name as it was typed, is saved or stands in the table; empty where its code stands in for it. */
	named: string;
	unit: string;
	stored: StoredSeries | null;
	comparison: Comparison;
	/** Why it cannot come in; null where it can. */
	problem: string | null;
	taken: boolean;
}

type Table = { text: string } | { bytes: Uint8Array };
type Done = Extract<StreamProgress, { done: unknown }>['done'];

/** What reads tables, and what takes them. */
export interface Ends {
	reading: () => Pick<ReturnType<typeof arithmetic>, keyof TableReader>;
	call: typeof call;
	sendTable: typeof sendTable;
	sendFile: typeof sendFile;
}

/** A table on its way in: what was pasted or dropped, how it is read, and what is taken of it. */
export class BringInState {
	text = $state('');
	file = $state.raw<File | null>(null);
	/** Whether the file has more rows than are read at once. */
	manyRows = $state(false);
	choices = $state.raw<Choices>({});
	/** What follows from items that are here and from tables that came before, unless it is not wanted. */
	evidence = $state.raw(NO_EVIDENCE);
	#wantsEvidence = true;
	/** What is known of the table as it stands, and how it was read without that. */
	#known = $state.raw<{ key: string; table: KnownTable; bare: Reading } | null>(null);
	reading = $state.raw<Reading | null>(null);
	picks = $state<Record<string, Taken>>({});
	/** What the one item of a table with one item is called: typed before the table can be read, or after. */
	single = $state<Taken>({});
	stored = $state.raw<Readonly<Record<string, StoredSeries>>>({});
	/** Code, within the table, of the item that is looked at. */
	selected = $state('');
	sending = $state(false);
	progress = $state.raw<Sending | null>(null);
	refusal = $state.raw<{ message: string; path?: string | undefined } | null>(null);
	brought = $state.raw<BroughtIn[] | null>(null);
	streamed = $state.raw<Done | null>(null);

	/** @param ends the arithmetic and the server */
	constructor(private readonly ends: Ends = { reading: arithmetic, call, sendTable, sendFile }) {}

	/** The file's name without its ending: a first guess at the code of its one item. */
	#stem = $derived((this.file?.name ?? '').replace(/\.[^.]*$/, '').slice(0, BOUNDS.code));
	#bytes: Uint8Array | null = null;
	#opened: Table | null = null;
	#stop: (() => void) | null = null;
	#readings = new Latest<{ table: Table; choices: Choices }, Reading>(
		async ({ table, choices }) => {
			if (this.#opened !== table) {
				await ('text' in table
					? this.ends.reading().openText(table.text)
					: this.ends.reading().openBytes(table.bytes));
				this.#opened = table;
			}
			return this.ends.reading().readTable(choices);
		},
		(reading) => {
			this.#ask(reading);
			this.reading = reading;
			if (!reading.items.some(({ code }) => code === this.selected))
				this.selected = reading.items[0]?.code ?? '';
			this.#lookUp();
		},
		(error) => (this.refusal = { message: messageOf(error) }),
	);
	#knowledge = new Latest<
		{ key: string; reading: Reading },
		{ key: string; table: KnownTable; bare: Reading }
	>(
		async ({ key, reading }) => ({
			key,
			bare: reading,
			table: await this.ends.call(
				'POST /bring-in/known',
				{},
				{ words: wordsOf(reading), make: makeOf(reading) },
			),
		}),
		(known) => {
			this.#known = known;
			this.#lookUp();
			if (!this.#wantsEvidence) return;
			this.evidence = evidenceOf(known.bare, known.table, moment);
			if (Object.keys(this.evidence.choices).length > 0) this.#again();
		},
		// Without the server nothing is known, and the table reads as it does.
		() => undefined,
	);
	#lookUps = new Latest<string[], StoredSeries[]>(
		async (codes) => {
			const found: StoredSeries[] = [];
			for (let at = 0; at < codes.length; at += BOUNDS.codes) {
				const some = codes.slice(at, at + BOUNDS.codes);
				found.push(...(await this.ends.call('POST /bring-in/compare', {}, { codes: some })));
			}
			return found;
		},
		(found) => (this.stored = Object.fromEntries(found.map((item) => [item.code, item]))),
		// Without the server the preview cannot say what is kept; bringing in will.
		() => undefined,
	);

	/** A file that is read row by row: only its beginning is shown. */
	readonly isLarge = $derived(
		this.file !== null &&
			(this.file.size > BOUNDS.tableCharacters || this.manyRows) &&
			!/\.xlsx$/i.test(this.file.name),
	);

	/** Codes of items that the table calls by their names. */
	readonly #byName = $derived(codesByName(this.#known?.table ?? { items: [] }));

	/** A code for an item that is given none: made from its name, and free as far as is known. */
	readonly proposed = $derived.by((): string => {
		const item = this.reading?.items[0];
		const name = this.single.name ?? item?.name ?? '';
		const from = codesFrom(name || this.#stem);
		return from.find((code) => !Object.hasOwn(this.stored, code)) ?? '';
	});

	readonly incoming = $derived.by((): Incoming[] => {
		const { reading } = this;
		if (!reading || reading.problem) return [];
		const alone = reading.items.length === 1;
		return reading.items.map((item) => {
			const pick = alone ? this.single : (this.picks[item.code] ?? {});
			// A heading over one series is its name rather than its code, unless that code is known.
			const coded = !alone || Object.hasOwn(this.stored, item.code);
			const given = (pick.code ?? this.#byName.get(item.code) ?? (coded ? item.code : this.#stem)).trim();
			const code = given || (alone ? this.proposed : '');
			const stored = Object.hasOwn(this.stored, code) ? this.stored[code]! : null;
			const comparison = compareItem(item, reading, stored);
			const present = item.values.filter((value) => value !== null).length;
			const tooFew = !stored && present < LEAST_FIGURES ? 'a new item needs at least two figures' : null;
			const problem =
				item.problem ??
				comparison.problem ??
				tooFew ??
				(code.length > BOUNDS.code ? `a code has at most ${BOUNDS.code} characters` : null);
			const named = pick.name ?? (stored?.name || item.name);
			return {
				item,
				code,
				named,
				name: named.trim() || (alone ? code : ''),
				unit: (pick.unit ?? (item.unit || (stored?.unit ?? ''))).trim(),
				stored,
				comparison,
				problem,
				taken: !pick.skipped && problem === null,
			};
		});
	});
	/** The code of the one item as it was typed or found in the table; empty where it is proposed. */
	readonly typedCode = $derived.by((): string => {
		if (this.single.code !== undefined) return this.single.code;
		const code = this.incoming.length === 1 ? this.incoming[0]!.code : '';
		return code === this.proposed ? '' : code;
	});
	readonly chosen = $derived(
		this.incoming.find(({ item }) => item.code === this.selected) ?? this.incoming[0] ?? null,
	);
	readonly takenItems = $derived(this.incoming.filter(({ taken }) => taken));

	/** What is still missing before anything can come in; null where nothing is. */
	readonly waitingFor = $derived.by((): string | null => {
		if (!this.reading || this.reading.problem) return 'a table that can be read';
		if (this.isLarge) return null;
		if (this.takenItems.length === 0) return this.chosen?.problem ?? 'an item that is taken';
		const nameless = this.takenItems.find(({ code, name }) => code === '' || name === '');
		if (nameless)
			return [nameless.code === '' && 'a code', nameless.name === '' && 'a name']
				.filter(Boolean)
				.join(' and ');
		const codes = this.takenItems.map(({ code }) => code);
		const twice = codes.find((code, i) => codes.indexOf(code) !== i && codes.length < 3000);
		return twice ? `a code of its own for each item: ${twice} stands there twice` : null;
	});

	/** Reads another text afresh; what was decided for the last one is no longer right. */
	takeText(text: string): void {
		this.#reset();
		this.text = text;
		this.#read({ text });
	}

	/** Goes on in the same text, as it is typed. */
	type(text: string): void {
		this.text = text;
		this.brought = null;
		this.#forget();
		this.#read({ text });
	}

	async takeFile(file: File | undefined): Promise<void> {
		if (!file) return;
		this.#reset();
		this.text = '';
		this.file = file;
		const whole = file.size > BOUNDS.tableCharacters ? null : new Uint8Array(await file.arrayBuffer());
		this.manyRows = whole !== null && hasManyRows(whole);
		const bytes =
			whole && !this.isLarge ? whole : new Uint8Array(await file.slice(0, BOUNDS.sampleBytes).arrayBuffer());
		this.#bytes = this.isLarge ? bytes.subarray(0, bytes.lastIndexOf(10) + 1) : bytes;
		if (this.#bytes.length === 0) this.#bytes = bytes;
		this.#read({ bytes: this.#bytes });
	}

	/** Reads the table as if nothing were known. */
	forgetEvidence(): void {
		this.#wantsEvidence = false;
		this.evidence = NO_EVIDENCE;
		this.#again();
	}

	/** What is said of what is known, and of what the table has otherwise than the last one of its make. */
	readonly said = $derived.by((): Doubt[] => {
		if (!this.reading || !this.#known || this.evidence === NO_EVIDENCE) return [];
		return [...this.evidence.said, ...further(this.reading, this.#known.table)];
	});

	/** Asks what is known of a table that was read without it. */
	#ask(reading: Reading): void {
		if (this.isLarge || reading.rows.length === 0 || !this.#wantsEvidence || this.evidence !== NO_EVIDENCE)
			return;
		const key = JSON.stringify([wordsOf(reading), makeOf(reading)]);
		if (this.#known?.key !== key) this.#knowledge.put({ key, reading });
	}

	decide(choices: Choices): void {
		const columns = { ...this.choices.columns, ...choices.columns };
		const rows = { ...this.choices.rows, ...choices.rows };
		// Another sheet, encoding or separator makes another table: roles by position no longer mean anything.
		const another =
			choices.sheet !== undefined || choices.encoding !== undefined || choices.delimiter !== undefined;
		if (another) this.#forget();
		this.choices = {
			...this.choices,
			...choices,
			columns: another ? undefined : columns,
			rows: another ? undefined : rows,
		};
		this.#again();
	}

	/** Takes back every decision made by hand. */
	decideNothing(): void {
		this.choices = {};
		this.#again();
	}

	/** Calls an item of several something else, or leaves it out. */
	pick(code: string, change: Taken): void {
		this.picks[code] = { ...this.picks[code], ...change };
		if (change.code !== undefined) this.#lookUp();
	}

	/** Calls the one item something. */
	pickSingle(change: Taken): void {
		this.single = { ...this.single, ...change };
		this.#lookUp();
	}

	skipAll(skipped: boolean): void {
		for (const { item } of this.incoming) this.picks[item.code] = { ...this.picks[item.code], skipped };
	}

	/** @returns the code of the one item that came in; null where there were several, or none */
	async bringIn(): Promise<string | null> {
		this.sending = true;
		this.refusal = null;
		try {
			const items = this.takenItems.map(({ item, code, name, unit }) => ({
				from: item.code,
				code,
				name,
				unit,
			}));
			const request = {
				...(this.file && { fileName: this.file.name.slice(0, BOUNDS.fileName) }),
				choices: withoutUndefined(this.allChoices),
				...(this.reading && { shown: fingerprintOf(this.reading) }),
				items,
			};
			const brought = await this.ends.sendTable<BroughtIn[]>(
				'/api/v1/bring-in',
				request,
				this.file ?? this.text,
			);
			sessionStorage.removeItem(KEPT);
			this.#reset();
			this.text = '';
			this.reading = null;
			this.brought = brought;
			return brought.length === 1 ? brought[0]!.code : null;
		} catch (error) {
			this.#refuse(error);
			return null;
		} finally {
			this.sending = false;
		}
	}

	/** Brings in a large file, or only tries to. */
	async stream(tryOnly: boolean): Promise<void> {
		this.sending = true;
		this.refusal = null;
		this.streamed = null;
		const request = {
			fileName: this.file!.name.slice(0, BOUNDS.fileName),
			choices: withoutUndefined(this.choices),
			tryOnly,
		};
		const { done, stop } = this.ends.sendFile(
			'/api/v1/bring-in/stream',
			request,
			this.file!,
			(progress) => (this.progress = progress),
		);
		this.#stop = stop;
		try {
			this.streamed = await done;
		} catch (error) {
			this.#refuse(error);
		}
		this.#stop = null;
		this.progress = null;
		this.sending = false;
	}

	stop(): void {
		this.#stop?.();
	}

	/** Has what was pasted outlive a reload and a lost server. */
	keep(): void {
		try {
			if (this.text)
				sessionStorage.setItem(
					KEPT,
					JSON.stringify({
						text: this.text,
						choices: this.choices,
						picks: this.picks,
						single: this.single,
					}),
				);
		} catch {
			// Larger than the browser keeps: it stays in the box for as long as the page is open.
		}
	}

	restore(): void {
		const kept = sessionStorage.getItem(KEPT);
		if (!kept) {
			this.#read({ text: '' });
			return;
		}
		const { text, choices, picks, single } = JSON.parse(kept) as {
			text: string;
			choices: Choices;
			picks: Record<string, Taken>;
			single?: Taken;
		};
		this.text = text;
		this.choices = choices;
		this.picks = picks;
		this.single = single ?? {};
		this.#read({ text });
	}

	/** Forgets what belongs to the table before; what an item is called before there is a table stays. */
	#reset(): void {
		if (this.text !== '' || this.file) this.single = {};
		this.file = null;
		this.manyRows = false;
		this.#bytes = null;
		this.choices = {};
		this.#forget();
		this.picks = {};
		this.refusal = null;
		this.brought = null;
		this.streamed = null;
	}

	/** Another table: what was known of the last one is no longer of use. */
	#forget(): void {
		this.evidence = NO_EVIDENCE;
		this.#known = null;
		this.#wantsEvidence = true;
	}

	#again(): void {
		this.#read(this.#bytes ? { bytes: this.#bytes } : { text: this.text });
	}

	/** Choices that were made, over those that follow from what is known. */
	get allChoices(): Choices {
		return withEvidence(this.evidence.choices, this.choices);
	}

	#read(table: Table): void {
		const same =
			this.#opened &&
			('text' in table
				? 'text' in this.#opened && this.#opened.text === table.text
				: 'bytes' in this.#opened && this.#opened.bytes === table.bytes);
		this.#readings.put({ table: same ? this.#opened! : table, choices: this.allChoices });
	}

	#lookUp(): void {
		if (this.isLarge) return;
		const codes = this.incoming
			.flatMap(({ code, item }) => (code === item.code ? [code] : [code, item.code]))
			.concat(this.incoming.length === 1 ? codesFrom(this.incoming[0]!.name || this.#stem) : [])
			.filter((code) => code !== '' && code.length <= BOUNDS.code);
		if (codes.length > 0) this.#lookUps.put(codes);
	}

	#refuse(error: unknown): void {
		this.refusal = {
			message: messageOf(error),
			path: error instanceof CallError ? error.body?.issues?.[0]?.path : undefined,
		};
		this.keep();
	}
}

/** Codes that a name suggests, in the order in which they are tried. */
function codesFrom(name: string): string[] {
	const words = name
		.normalize('NFKD')
		.replace(/\p{M}/gu, '')
		.toLowerCase()
		.split(/[^\p{L}\p{N}]+/u)
		.filter(Boolean);
	let base = words.shift()?.slice(0, LONGEST_PROPOSAL) ?? 'item';
	for (const word of words) {
		if (base.length + 1 + word.length > LONGEST_PROPOSAL) break;
		base += `-${word}`;
	}
	return [base, ...Array.from({ length: TRIED_PROPOSALS - 1 }, (_, i) => `${base}-${i + 2}`)];
}

const LONGEST_PROPOSAL = 24;
const TRIED_PROPOSALS = 20;

function hasManyRows(bytes: Uint8Array): boolean {
	let rows = 0;
	for (const byte of bytes) if (byte === 10) rows++;
	return rows > BOUNDS.tableRows;
}

const withoutUndefined = (choices: Choices) =>
	Object.fromEntries(Object.entries(choices).filter(([, value]) => value !== undefined));
