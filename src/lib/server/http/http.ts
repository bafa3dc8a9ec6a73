import { createHash } from 'node:crypto';
import { STATUS_CODES } from 'node:http';
import { json, type RequestEvent, error as pageError } from '@sveltejs/kit';
import { BOUNDS, written } from '$core/bounds';
import { textSchema } from '$core/schemas';
import { type Asks, type Call, type CallKey, CALLS, type Gives, type Taken } from '../../wire/calls';
import { PROBLEM, type RefusalBody } from '../../wire/service';
import { checked, knownRefusal, parseJson, queried } from '../checked';
import { actorIdOf } from '../access/caller';
import { brokenRule, meaningOf, pool } from '../database/database';
import { answeredBefore } from '../database/workspaces';
import { log } from '../log';
import { Refusal } from '../refusal';
import { type Asker, threads } from '../threads/threads';

const TRY_AGAIN = 2;
export const OUR_FAULT = 'Something went wrong on our side. Nothing was stored; the log says more.';

/** Rules of the database that two callers at once can break although each was checked before, in words. */
const RULES: Readonly<Record<string, { status: 409 | 422; path: string; message: string }>> = {
	item_workspace_id_code_key: {
		status: 409,
		path: 'code',
		message: 'Another item was given this code at the same moment. Choose another one; nothing was stored.',
	},
	item_labels_check: {
		status: 422,
		path: 'labels',
		message: `An item has at most ${BOUNDS.labels} labels, and one of these would have more. Delete one first; nothing was stored.`,
	},
	kept_view_bound: {
		status: 422,
		path: 'name',
		message: `At most ${BOUNDS.views} views are kept. Delete one first.`,
	},
};

/** A failure as a refusal for its caller; null for a defect of ours. */
export function refusalOf(failure: unknown): Refusal | null {
	const known = knownRefusal(failure);
	if (known) return known;
	const meaning = meaningOf(failure);
	if (meaning === null) return null;
	const rule = RULES[brokenRule(failure) ?? ''];
	if (rule) return new Refusal(rule.status, rule.message, [{ path: rule.path, message: rule.message }]);
	log.warn({ reason: String(failure) }, `database: ${meaning}`);
	switch (meaning) {
		case 'unreachable':
			return new Refusal(
				503,
				'The database cannot be reached just now. Nothing was stored and nothing is lost; try again in a moment.',
				[],
				TRY_AGAIN,
			);
		case 'full':
			return new Refusal(
				503,
				'The disk is full. Nothing was stored and nothing is lost; whoever runs Ventrel has to make room.',
				[],
				TRY_AGAIN,
			);
		case 'busy':
			return new Refusal(
				503,
				'The database is busy with something that this would have to wait for too long. Nothing was stored; try again in a moment.',
				[],
				TRY_AGAIN,
			);
		case 'bad data':
			return new Refusal(
				422,
				`The database does not take this: ${failure instanceof Error ? failure.message.slice(0, 200) : ''}. Nothing was stored.`,
			);
	}
}

/** What went wrong, as the standard has it and as our screens show it. */
export const problemOf = (
	status: number,
	message: string,
	more: Omit<RefusalBody, 'message'> = {},
): RefusalBody => ({
	type: 'about:blank',
	title: STATUS_CODES[status] ?? 'Refused',
	status,
	detail: message,
	message,
	...more,
});

/** A refusal as the answer to a call. */
export function answerRefusal(
	{ status, message, issues, retryAfter, shown }: Refusal,
	headers: Record<string, string> = {},
): Response {
	const body = problemOf(status, message, { issues, ...shown });
	const again: Record<string, string> = retryAfter === null ? {} : { 'retry-after': String(retryAfter) };
	return json(body, { status, headers: { 'content-type': PROBLEM, ...headers, ...again } });
}

/** Runs a route: refusals become answers with their status and a sentence. */
async function answered(event: RequestEvent, handle: () => Promise<Response> | Response): Promise<Response> {
	try {
		return await handle();
	} catch (failure) {
		// What breaks when its caller is gone says nothing of the database.
		if (event.locals.hangUp.aborted) return answerRefusal(new Refusal(499, 'The caller hung up.'));
		const refusal = refusalOf(failure);
		if (!refusal) throw failure;
		return answerRefusal(refusal);
	}
}

/** Wraps the handler of a call that takes its body, or gives its answer, otherwise than as JSON of its schema. */
export const route =
	<Of extends CallKey, Event extends RequestEvent>(
		_key: Of,
		handle: (event: Event) => Promise<Response> | Response,
	) =>
	(event: Event): Promise<Response> =>
		answered(event, () => handle(event));

/**
 * Wraps the handler of a call that takes and gives JSON, as it was declared: what it is asked and takes is checked, what it gives
 * is answered with its status.
 */
export function answering<Of extends CallKey, Event extends RequestEvent>(
	key: Of,
	handle: (event: Event, taken: Taken<Of>, asks: Asks<Of>) => Promise<Gives<Of>> | Gives<Of>,
) {
	const { takes, query, status = 200 }: Call = CALLS[key];
	return (event: Event): Promise<Response> =>
		answered(event, async () => {
			const asks = query && queried(query, event.url.searchParams);
			const body = takes && (await bodyOf(key, event.request));
			const before = body && (await doneBefore(key, event, body));
			if (before) return before;
			const taken = body && (await takenFrom(key, event, body));
			return json(await handle(event, taken as Taken<Of>, asks as Asks<Of>), { status });
		});
}

/** Runs the work of a page's load: refusals become the error page with their sentence. */
export async function forPage<T>(work: () => Promise<T>): Promise<T> {
	try {
		return await work();
	} catch (failure) {
		const refusal = refusalOf(failure);
		if (!refusal) throw failure;
		pageError(refusal.status, { message: refusal.message });
	}
}

/**
 * The bytes of a body.
 * @throws Refusal where there are more than are taken at once
 */
async function readBytes(body: ReadableStream<Uint8Array> | null, most: number): Promise<Buffer> {
	const chunks: Uint8Array[] = [];
	let size = 0;
	const reader = body?.getReader();
	for (let part = await reader?.read(); part?.value; part = await reader?.read()) {
		size += part.value.length;
		if (size > most) {
			await discard(reader!);
			throw new Refusal(413, `The request is larger than the ${written(most)} bytes that are taken at once.`);
		}
		chunks.push(part.value);
	}
	return Buffer.concat(chunks);
}

/** The bytes of a body of JSON, for where they are read apart from serving. */
export async function jsonBytes(request: Request, most: number): Promise<Buffer> {
	if (!request.headers.get('content-type')?.startsWith('application/json')) {
		throw new Refusal(415, 'Send the request as application/json.');
	}
	return readBytes(request.body, most);
}

/**
 * The JSON that a call takes, checked: what is small here, what is large apart from serving.
 * @throws Refusal where it is not JSON, larger than the call takes, or not as its schema has it
 */
export async function takenBy<Of extends CallKey>(key: Of, event: RequestEvent): Promise<Taken<Of>> {
	return takenFrom(key, event, await bodyOf(key, event.request));
}

const bodyOf = (key: CallKey, request: Request): Promise<Buffer> =>
	jsonBytes(request, (CALLS[key] as Call).large ? BOUNDS.jsonLarge : BOUNDS.jsonBytes);

async function takenFrom<Of extends CallKey>(key: Of, event: RequestEvent, body: Buffer): Promise<Taken<Of>> {
	const { takes }: Call = CALLS[key];
	const taken =
		body.length > BOUNDS.jsonBytes
			? await threads().run('takeJson', { call: key, body }, askerOf(event))
			: checked(takes!, parseJson(body));
	return taken as Taken<Of>;
}

/**
 * What was answered before to a call that its caller has done once; null where it is to be done, which then happens under that key.
 * @throws Refusal 422 where something else was asked for under it
 */
export async function doneBefore(
	key: CallKey,
	event: RequestEvent,
	...body: Buffer[]
): Promise<Response | null> {
	const { once, status = 200 }: Call = CALLS[key];
	const given = event.request.headers.get('idempotency-key');
	const { locals } = event;
	if (!once || given === null) return null;
	const sha256 = createHash('sha256').update(event.url.pathname);
	for (const part of body) sha256.update(part);
	const own = { key: nameIn(given, 'the Idempotency-Key', 255), call: key, sha256: sha256.digest() };
	locals.actor = { ...locals.actor, once: own };
	const who = locals.caller && (await actorIdOf(locals.caller));
	const answer =
		who && (await answeredBefore<unknown>(pool(), [locals.actor.workspaceId, who, own.key], own));
	if (answer === null) return null;
	// Written by the database in one piece, or put together here.
	const text = typeof answer === 'string' ? answer : JSON.stringify(answer);
	return new Response(text, {
		status,
		headers: { 'content-type': 'application/json', 'idempotency-replayed': 'true' },
	});
}

/** A part of an address that names something, checked as every text is. */
export const nameIn = (text: string | undefined, what: string, most: number): string =>
	checked(textSchema(what, 1, most), text);

/** A number in an address. */
export function idIn(text: string | undefined, what: string): number {
	if (!/^\d{1,15}$/.test(text ?? '')) throw new Refusal(404, `${what} is named by its number.`);
	return Number(text);
}

/** The code of an item in an address. */
export const codeIn = ({ code }: { code?: string }): string => nameIn(code, 'the code', BOUNDS.code);

/**
 * Who asks for something to be calculated: sessions and tokens take turns, and where nobody signs in programs and browsers. Hanging up
 * stops it, and so does a newer question under the same name.
 */
export function askerOf(event: RequestEvent): Asker {
	const { headers } = event.request;
	const question = headers.get('ventrel-question');
	return {
		caller: event.locals.caller?.turn ?? event.locals.address,
		limited: event.locals.caller?.kind !== 'machine',
		signal: event.locals.hangUp,
		...(question !== null && { question: nameIn(question, 'the name of the question', BOUNDS.id) }),
	};
}

/** Bytes as an answer, in pieces, so that a slow reader holds nobody up. */
export function answerBytes(bytes: Uint8Array, type = 'application/json'): Response {
	const PIECE = 262_144;
	let at = 0;
	const body = new ReadableStream<Uint8Array>({
		pull(controller) {
			if (at < bytes.length) controller.enqueue(bytes.subarray(at, (at += PIECE)));
			else controller.close();
		},
	});
	return new Response(body, { headers: { 'content-type': type, 'content-length': String(bytes.length) } });
}

/**
 * A body of one line of JSON, and bytes after it, which are left to be read as they come.
 * @param most bytes of the line
 * @throws Refusal where there is no such line, or it is longer
 */
export async function readHead(
	request: Request,
	most: number,
): Promise<{ head: Buffer; rest: ReadableStream<Uint8Array> }> {
	if (!request.headers.get('content-type')?.startsWith('application/octet-stream')) {
		throw new Refusal(415, 'Send a line of JSON and then the table, as application/octet-stream.');
	}
	const reader = request.body?.getReader();
	const chunks: Uint8Array[] = [];
	let size = 0;
	for (let part = await reader?.read(); part?.value && size <= most; part = await reader?.read()) {
		const end = part.value.indexOf(10);
		chunks.push(end < 0 ? part.value : part.value.subarray(0, end));
		size += chunks.at(-1)!.length;
		if (end >= 0 && size <= most)
			return { head: Buffer.concat(chunks), rest: follow(part.value.subarray(end + 1), reader!) };
	}
	if (reader) await discard(reader);
	throw new Refusal(
		size > most ? 413 : 422,
		`The request does not begin with a line of JSON, of at most ${written(most)} bytes, that says what is wanted.`,
	);
}

/** Lets a refused body run out, within bounds: a browser that is still sending would not see the refusal. */
async function discard(reader: ReadableStreamDefaultReader<Uint8Array>): Promise<void> {
	let size = 0;
	for (
		let part = await reader.read();
		part.value && size < 8 * BOUNDS.tableBytes;
		part = await reader.read()
	) {
		size += part.value.length;
	}
}

/** What was read already, and then what is still to come. */
function follow(
	begun: Uint8Array,
	reader: ReadableStreamDefaultReader<Uint8Array>,
): ReadableStream<Uint8Array> {
	return new ReadableStream({
		start: (controller) => controller.enqueue(begun),
		async pull(controller) {
			const { value, done } = await reader.read();
			if (done) controller.close();
			else controller.enqueue(value);
		},
		cancel: (reason) => reader.cancel(reason),
	});
}

/** As `readHead`, with the bytes in one piece. */
export async function readTable(request: Request): Promise<{ head: Buffer; content: Buffer }> {
	const { head, rest } = await readHead(request, BOUNDS.tableBytes);
	return { head, content: await readBytes(rest, BOUNDS.tableBytes) };
}

/** Lets the rest of a refused body run out. */
export async function letRunOut(rest: ReadableStream<Uint8Array>): Promise<void> {
	await discard(rest.getReader());
}

/**
 * An answer of lines of JSON, written as the work goes on. Whoever stops listening stops the work; a refusal is the
 * last line, as { "refused": … }.
 */
export function answerLines<Line extends object>(
	work: (onProgress: (line: Line) => void, signal: AbortSignal) => Promise<Line>,
): Response {
	const stop = new AbortController();
	const encoder = new TextEncoder();
	const lines = new ReadableStream<Uint8Array>({
		async start(controller) {
			const onProgress = (line: object) => {
				if (!stop.signal.aborted) controller.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
			};
			try {
				onProgress(await work(onProgress, stop.signal));
			} catch (failure) {
				if (stop.signal.aborted) return;
				const refusal = refusalOf(failure);
				if (!refusal)
					log.error({ error: failure instanceof Error ? failure.stack : String(failure) }, 'work failed');
				onProgress({
					refused: refusal ? { message: refusal.message, issues: refusal.issues } : { message: OUR_FAULT },
				});
			}
			controller.close();
		},
		cancel: () => stop.abort(),
	});
	return new Response(lines, {
		headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' },
	});
}
