import * as v from 'valibot';
import { listIssues, RequestError } from '$core/questions/request';
import type { Query } from '../wire/query';
import { Refusal } from './refusal';

/** What comes in, checked. @throws Refusal with every issue and its path */
export function checked<Schema extends v.GenericSchema>(
	schema: Schema,
	input: unknown,
	placeOf: (path: string) => string = (path) => path,
): v.InferOutput<Schema> {
	const result = v.safeParse(schema, input);
	if (result.success) return result.output;
	const issues = listIssues(result.issues).map((issue) => ({ ...issue, path: placeOf(issue.path) }));
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

/**
 * What an address asks for behind its question mark, checked.
 * @throws Refusal 422 where it has a name that says nothing there, or says one thing twice: neither means everything
 */
export function queried<Schema extends v.GenericSchema>(
	{ params: known, inside = {}, schema, written }: Query<Schema>,
	params: URLSearchParams,
): v.InferOutput<Schema> {
	const seen = new Set<string>();
	for (const name of params.keys()) {
		const param = Object.hasOwn(known, name) ? known[name] : undefined;
		if (param && (param.many || !seen.has(name))) {
			seen.add(name);
			continue;
		}
		const shown = name.slice(0, 40);
		const message = param
			? `This address says “${shown}” twice; once is enough`
			: `This address asks for “${shown}”, which is not known here. Known are ${Object.keys(known).join(', ') || 'nothing'}`;
		throw new Refusal(422, `${message}.`, [{ path: shown, message }]);
	}
	// A place in the shape, as the address calls it.
	const names = Object.entries(inside);
	return checked(schema, written(params), (path) => {
		const named = names.find(([, place]) => path === place || path.startsWith(`${place}.`));
		return named ? named[0] + path.slice(named[1].length) : path.replace(/^asked\./, '');
	});
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
