import { json, type RequestEvent, error as pageError } from '@sveltejs/kit';
import * as v from 'valibot';
import { listIssues, RequestError } from '$core/request';
import type { RefusalBody } from '../shapes';
import { isUnreachable } from './database';
import { log } from './log';
import { Refusal } from './refusal';

const UNREACHABLE =
	'The database cannot be reached just now. Nothing was stored and nothing is lost; try again in a moment.';

/** What a failure means for its caller; null for a defect of ours. */
function refusalOf(failure: unknown): { status: number; body: RefusalBody } | null {
	if (failure instanceof Refusal) {
		return { status: failure.status, body: { message: failure.message, issues: failure.issues } };
	}
	if (failure instanceof RequestError) {
		return { status: 422, body: { message: 'The request is refused.', issues: failure.issues } };
	}
	if (isUnreachable(failure)) {
		log.warn({ reason: String(failure) }, 'database unreachable');
		return { status: 503, body: { message: UNREACHABLE } };
	}
	return null;
}

/** Wraps the handler of a server route: refusals become answers with their status and a sentence. */
export function route<Event extends RequestEvent>(handle: (event: Event) => Promise<Response> | Response) {
	return async (event: Event): Promise<Response> => {
		try {
			return await handle(event);
		} catch (failure) {
			const refusal = refusalOf(failure);
			if (!refusal) throw failure;
			return json(refusal.body, { status: refusal.status });
		}
	};
}

/** Runs the work of a page's load: refusals become the error page with their sentence. */
export async function forPage<T>(work: () => Promise<T>): Promise<T> {
	try {
		return await work();
	} catch (failure) {
		const refusal = refusalOf(failure);
		if (!refusal) throw failure;
		pageError(refusal.status, { message: refusal.body.message });
	}
}

const LARGEST_BODY = 16_000_000;

/** The bytes of a body. @throws Refusal where there are more than are taken at once */
async function readBytes(body: ReadableStream<Uint8Array> | null): Promise<Buffer> {
	const chunks: Uint8Array[] = [];
	let size = 0;
	const reader = body?.getReader();
	for (let part = await reader?.read(); part?.value; part = await reader?.read()) {
		size += part.value.length;
		if (size > LARGEST_BODY) {
			await discard(reader!);
			throw new Refusal(
				413,
				`The request is larger than the ${LARGEST_BODY / 1e6} MB that are taken at once.`,
			);
		}
		chunks.push(part.value);
	}
	return Buffer.concat(chunks);
}

function parseJson(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		throw new Refusal(422, 'The request is not JSON.');
	}
}

/**
 * The JSON body of a request.
 * @throws Refusal where it is not JSON
 */
export async function readJson(request: Request): Promise<unknown> {
	if (!request.headers.get('content-type')?.startsWith('application/json')) {
		throw new Refusal(415, 'Send the request as application/json.');
	}
	return parseJson((await readBytes(request.body)).toString('utf8'));
}

/** @throws Refusal with every issue and its path */
function check<Schema extends v.GenericSchema>(schema: Schema, input: unknown): v.InferOutput<Schema> {
	const result = v.safeParse(schema, input);
	if (result.success) return result.output;
	const issues = listIssues(result.issues);
	throw new Refusal(422, issues.map(({ message }) => capital(message)).join('. ') + '.', issues);
}

/** The JSON body of a request, checked. */
export async function readBody<Schema extends v.GenericSchema>(
	request: Request,
	schema: Schema,
): Promise<v.InferOutput<Schema>> {
	return check(schema, await readJson(request));
}

/**
 * A body of one line of JSON, checked, and bytes after it, which are left to be read as they come.
 * @throws Refusal where there is no such line
 */
export async function readHead<Schema extends v.GenericSchema>(
	request: Request,
	schema: Schema,
): Promise<{ wish: v.InferOutput<Schema>; rest: ReadableStream<Uint8Array> }> {
	if (!request.headers.get('content-type')?.startsWith('application/octet-stream')) {
		throw new Refusal(415, 'Send a line of JSON and then the table, as application/octet-stream.');
	}
	const reader = request.body?.getReader();
	const chunks: Uint8Array[] = [];
	let size = 0;
	for (let part = await reader?.read(); part?.value && size < LARGEST_BODY; part = await reader?.read()) {
		const end = part.value.indexOf(10);
		chunks.push(end < 0 ? part.value : part.value.subarray(0, end));
		size += part.value.length;
		if (end < 0) continue;
		try {
			const wish = check(schema, parseJson(Buffer.concat(chunks).toString('utf8')));
			return { wish, rest: follow(part.value.subarray(end + 1), reader!) };
		} catch (failure) {
			await discard(reader!);
			throw failure;
		}
	}
	if (reader) await discard(reader);
	throw new Refusal(422, 'The request does not begin with a line of JSON that says what is wanted.');
}

/** Lets a refused body run out, within bounds: a browser that is still sending would not see the refusal. */
async function discard(reader: ReadableStreamDefaultReader<Uint8Array>): Promise<void> {
	let size = 0;
	for (let part = await reader.read(); part.value && size < 8 * LARGEST_BODY; part = await reader.read()) {
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
export async function readTable<Schema extends v.GenericSchema>(
	request: Request,
	schema: Schema,
): Promise<{ wish: v.InferOutput<Schema>; content: Buffer }> {
	const { wish, rest } = await readHead(request, schema);
	return { wish, content: await readBytes(rest) };
}

/**
 * An answer of lines of JSON, written as the work goes on. Whoever stops listening stops the work; a refusal is the
 * last line, as { "refused": … }.
 */
export function answerLines<Line extends object>(
	work: (tell: (line: Line) => void, signal: AbortSignal) => Promise<Line>,
): Response {
	const stop = new AbortController();
	const encoder = new TextEncoder();
	const lines = new ReadableStream<Uint8Array>({
		async start(controller) {
			const tell = (line: object) => {
				if (!stop.signal.aborted) controller.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
			};
			try {
				tell(await work(tell, stop.signal));
			} catch (failure) {
				if (stop.signal.aborted) return;
				const refusal = refusalOf(failure);
				if (!refusal)
					log.error({ error: failure instanceof Error ? failure.stack : String(failure) }, 'work failed');
				tell({
					refused: refusal?.body ?? {
						message: 'Something went wrong on our side. Nothing was stored; the log says more.',
					},
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

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
