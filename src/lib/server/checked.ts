import * as v from 'valibot';
import { listIssues, RequestError } from '$core/questions/request';
import { Refusal } from './refusal';

/** What comes in, checked. @throws Refusal with every issue and its path */
export function checked<Schema extends v.GenericSchema>(
	schema: Schema,
	input: unknown,
): v.InferOutput<Schema> {
	const result = v.safeParse(schema, input);
	if (result.success) return result.output;
	const issues = listIssues(result.issues);
	throw new Refusal(422, issues.map(({ message }) => capital(message)).join('. ') + '.', issues);
}

/** What was refused, for whom it concerns: here, or by the core as a request; null for any other failure. */
export function knownRefusal(failure: unknown): Refusal | null {
	if (failure instanceof Refusal) return failure;
	return failure instanceof RequestError ? new Refusal(422, 'The request is refused.', failure.issues) : null;
}

/** Bytes as JSON. @throws Refusal where they are none */
export function parseJson(bytes: Uint8Array): unknown {
	try {
		return JSON.parse(new TextDecoder().decode(bytes));
	} catch {
		throw new Refusal(422, 'The request is not JSON.');
	}
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
