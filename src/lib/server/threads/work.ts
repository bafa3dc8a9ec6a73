/**
 * What runs in a thread of its own, apart from serving; its functions are called by name (`threads.ts`). What goes in and comes out
 * is copied between threads, so that it is plain data; what is large leaves as the bytes that are sent on.
 */
import { move, transferableSymbol, valueSymbol } from 'piscina';
import { refuseCostly } from '$core/questions/cost';
import { written } from '$core/questions/answer';
import { evaluateChecked } from '$core/questions/evaluate';
import { parseRequest } from '$core/questions/request';
import type { Encoding } from '../../reading/decode';
import { LEAST_FIGURES, readSource } from '../../reading/read';
import type { ReadItem, Reading } from '../../reading/reading';
import { decisionOf, fingerprintOf } from '../../reading/decision';
import { codesByName, evidenceOf, further, makeOf, wordsOf } from '../../reading/evidence';
import { openBytes } from '../../reading/source';
import { type Call, type CallKey, CALLS } from '../../wire/calls';
import { type BringIn, BringInSchema, type ItemRequest, NewItemSchema } from '../../wire/bring-in';
import { checked, knownRefusal, parseJson } from '../checked';
import { copyLine, labelsAsJson } from '../database/copy-text';
import { Refusal } from '../refusal';
import { beforehandOf, forecastOf } from './forecast';
import { readStream as readFile } from './stream';
import { sweptItem } from './sweep';
import type {
	ArrivedReading,
	ArrivedTask,
	Asked,
	BeforehandTask,
	Forecast,
	ForecastTask,
	Outcome,
	StreamedFile,
	StreamTask,
	SweepOutcome,
	SweepTask,
	TableTask,
	TakenTable,
} from './tasks';

/** Runs work; what its caller can do something about comes back as data, since errors lose their class on the way. */
async function outcome<T>(
	work: () => T | Promise<T>,
	moved: (value: T) => readonly (Uint8Array | null)[] = () => [],
): Promise<Outcome<T>> {
	try {
		const value = await work();
		return handOver(
			{ value },
			moved(value).filter((bytes) => bytes !== null),
		);
	} catch (error) {
		const refusal = knownRefusal(error);
		if (!refusal) throw error;
		const { status, message, issues } = refusal;
		return { refused: { status, message, issues } };
	}
}

/** Has bytes within a value handed over instead of copied. */
const handOver = <T>(value: T, bytes: readonly Uint8Array[]): T =>
	bytes.length === 0
		? value
		: (move({
				[transferableSymbol]: bytes.map(({ buffer }) => buffer),
				[valueSymbol]: value,
			} as unknown as Parameters<typeof move>[0]) as T);

const encode = (text: string): Uint8Array => new TextEncoder().encode(text);

/** That a thread is there. */
export const ready = (): Promise<Outcome<null>> => outcome(() => null);

/** The body of a request to `evaluate`; its answer as the bytes of JSON. */
export const evaluateBody = ({ input: body }: Asked<Uint8Array>): Promise<Outcome<Uint8Array>> =>
	outcome(
		() => {
			const request = parseRequest(parseJson(body));
			refuseCostly(request);
			return encode(JSON.stringify(written(evaluateChecked(request))));
		},
		(bytes) => [bytes],
	);

/** The JSON of a call that takes much, checked. */
export const takeJson = ({
	input: { call, body },
}: Asked<{ call: CallKey; body: Uint8Array }>): Promise<Outcome<unknown>> =>
	outcome(() => checked((CALLS[call] as Call).takes!, parseJson(body)));

/** A forecast of an item as it stood. @throws Refusal 422 where its candidate cannot run */
export const forecast = ({ input: task }: Asked<ForecastTask>): Promise<Outcome<Forecast>> =>
	outcome(() => forecastOf(task).forecast);

/** What forecasts of several items would have said at earlier origins, added up: a row an origin. */
export const beforehand = ({ input }: Asked<BeforehandTask>): Promise<Outcome<Float64Array[]>> =>
	outcome(() => beforehandOf(input));

/** What a sweep comes to for one item. */
export const sweepItem = ({ input: task }: Asked<SweepTask>): Promise<Outcome<SweepOutcome>> =>
	outcome(() => sweptItem(task));

/** Reads a table and makes of it what the staging takes. @throws Refusal with the reading's problem, or an item's */
export const readTable = ({
	input: { kind, request, content },
}: Asked<TableTask>): Promise<Outcome<TakenTable>> =>
	outcome(
		async () => (kind === 'new' ? readNew(request) : readItems(request, content!)),
		({ items, figures, content: kept }) => [items, figures, kept],
	);

/** Reads a table that came by itself, as the last one of its make was read. */
export const readArrived = ({ input }: Asked<ArrivedTask>): Promise<Outcome<ArrivedReading>> =>
	outcome(() => arrivedReading(input));

/** Reads a file of any size, part by part. */
export const readStream = ({ input }: Asked<StreamTask>): Promise<Outcome<StreamedFile>> =>
	outcome(() => readFile(input));

/** The one series of a text as a new item. */
async function readNew(request: Uint8Array): Promise<TakenTable> {
	const { text, code, name, unit, fileName, choices } = checked(NewItemSchema, parseJson(request));
	const content = encode(text);
	const reading = await read(content, choices);
	if (reading.items.length > 1) {
		const message = `This text holds ${reading.items.length} items, and one is made at a time here.`;
		throw new Refusal(422, message, [{ path: 'text', message }]);
	}
	const item = { ...reading.items[0]!, code, name, unit };
	if (item.values.filter((value) => value !== null).length < LEAST_FIGURES) {
		const message = `There is one figure here; a new item needs at least ${LEAST_FIGURES}.`;
		throw new Refusal(422, message, [{ path: 'text', message }]);
	}
	return {
		...staged(reading, [item]),
		fileName: fileName ?? null,
		decision: decisionOf(reading, choices),
		content,
		only: { code, periods: item.values.length },
	};
}

async function arrivedReading({ content, known }: ArrivedTask): Promise<ArrivedReading> {
	const source = await openBytes(content);
	const bare = readSource(source, {});
	if (!known) return { asks: { words: wordsOf(bare), make: makeOf(bare) } };
	const evidence = evidenceOf(bare, known, (iso) => iso.slice(0, 10));
	const reading = readSource(source, evidence.choices);
	const doubts = [...reading.doubts, ...further(reading, known)].map(({ text }) => text);
	const codes = codesByName(known);
	const items = reading.problem
		? []
		: reading.items.map((item) => {
				const code = (codes.get(item.code) ?? item.code).trim();
				const there = known.items.find((each) => each.code === code);
				return { from: item.code, code, name: there?.name ?? (item.name || code), unit: item.unit };
			});
	const before = new Set(known.last?.doubts ?? []);
	const first = known.last ? [] : ['No table of this make was brought in yet.'];
	const unnamed = items.some(({ code }) => code === '') ? ['An item of it has no code.'] : [];
	const wrong = [reading.problem ?? '', ...reading.items.map(({ problem }) => problem ?? '')].filter(Boolean);
	return {
		request: { choices: evidence.choices, shown: fingerprintOf(reading), items },
		// What was there to be seen at the last table of its make, and was brought in all the same, makes nobody look again.
		doubts: [...first, ...wrong, ...unnamed, ...doubts.filter((text) => !before.has(text))],
	};
}

async function readItems(request: Uint8Array, content: Uint8Array): Promise<TakenTable> {
	const { fileName, choices, shown, items } = checked(BringInSchema, parseJson(request));
	const reading = await read(content, choices);
	const decision = decisionOf(reading, choices);
	if (shown !== undefined && shown !== decision.fingerprint) {
		const message =
			'The server reads other figures than the preview showed: the page is of another version than the server. Reload it and look at the preview again';
		throw new Refusal(409, `${message}. Nothing was stored.`, [{ path: 'shown', message }]);
	}
	return {
		...staged(reading, chosenItems(reading, items)),
		fileName: fileName ?? null,
		decision,
		content: null,
		only: null,
	};
}

async function read(content: Uint8Array, choices: BringIn['choices']): Promise<Reading> {
	const source = await openBytes(content, choices.encoding as Encoding | undefined);
	const reading = readSource(source, choices);
	if (reading.problem) throw new Refusal(422, reading.problem, [{ path: 'text', message: reading.problem }]);
	return reading;
}

/** The items that are wanted, with the code, name and unit they are to have. */
function chosenItems(reading: Reading, requests: readonly ItemRequest[]): ReadItem[] {
	const known = new Map(reading.items.map((item) => [item.code, item]));
	const taken = new Set<string>();
	return requests.map((request, i) => {
		const item = known.get(request.from);
		const refuse = (message: string) =>
			new Refusal(422, `${message}. Nothing was stored.`, [{ path: `items.${i}`, message }]);
		if (!item) throw refuse(`The table has no item “${request.from.slice(0, 80)}”`);
		if (item.problem) throw refuse(`${request.code}: ${item.problem}`);
		if (taken.has(request.code)) throw refuse(`Two items are given the code ${request.code}`);
		taken.add(request.code);
		return { ...item, code: request.code, name: request.name, unit: request.unit };
	});
}

/** Rows for `staged_item` and `staged_actual`, in the order of their columns. */
function staged(
	{ frequency, seasonLength, labels: names }: Reading,
	items: readonly ReadItem[],
): Pick<TakenTable, 'items' | 'figures'> {
	const rows = items.map(({ code, name, unit, labels }, number) =>
		copyLine(number, code, name, unit, frequency, seasonLength, labelsAsJson(names, labels)),
	);
	const figures = items.flatMap(({ first, values }, number) =>
		values.map((value, i) => copyLine(number, first + i, value)),
	);
	return { items: encode(rows.join('')), figures: encode(figures.join('')) };
}
