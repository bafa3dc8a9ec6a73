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

/**
 * The JSON body of a request.
 * @throws Refusal where it is not JSON
 */
export async function readJson(request: Request): Promise<unknown> {
	if (!request.headers.get('content-type')?.startsWith('application/json')) {
		throw new Refusal(415, 'Send the request as application/json.');
	}
	try {
		return await request.json();
	} catch (failure) {
		if (failure instanceof SyntaxError) throw new Refusal(422, 'The request is not JSON.');
		throw new Refusal(413, 'The request is larger than the 16 MB that are taken at once.');
	}
}

/**
 * The JSON body of a request, checked.
 * @throws Refusal with every issue and its path
 */
export async function readBody<Schema extends v.GenericSchema>(
	request: Request,
	schema: Schema,
): Promise<v.InferOutput<Schema>> {
	const result = v.safeParse(schema, await readJson(request));
	if (result.success) return result.output;
	const issues = listIssues(result.issues);
	throw new Refusal(422, issues.map(({ message }) => capital(message)).join('. ') + '.', issues);
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
