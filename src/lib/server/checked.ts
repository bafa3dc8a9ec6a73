import * as v from 'valibot';
import { listIssues } from '$core/request';
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

/** Bytes as JSON. @throws Refusal where they are none */
export function parseJson(bytes: Uint8Array): unknown {
	try {
		return JSON.parse(new TextDecoder().decode(bytes));
	} catch {
		throw new Refusal(422, 'The request is not JSON.');
	}
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
