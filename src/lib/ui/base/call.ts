import type { CallKey, Gives, PlacesOf, Takes } from '../../wire/calls';
import type { RefusalBody } from '../../wire/service';
import { proofFor, proofGiven } from './proving';

/** A call that the server refused, or that did not reach it (status 0). */
export class CallError extends Error {
	override name = 'CallError';
	constructor(
		readonly status: number,
		message: string,
		readonly body: RefusalBody | null,
	) {
		super(message);
	}
}

/**
 * Calls the server and gives back what it answers. Where the session has ended it is asked to sign in again, and the call is made again.
 * @param key method and path, as they are declared
 * @param places what stands for the brackets of the path
 * @param more `leaving`: the page is being left, and the call may outlive it; `proves`: it is itself how one signs in; `query`: what stands behind the question mark
 * @throws CallError with a sentence to show
 */
export async function call<Of extends CallKey>(
	key: Of,
	places: Record<PlacesOf<Of>, string>,
	body?: Takes<Of>,
	{
		leaving = false,
		proves = false,
		query = {},
	}: { leaving?: boolean; proves?: boolean; query?: Readonly<Record<string, string>> | URLSearchParams } = {},
): Promise<Gives<Of>> {
	const [method, path] = key.split(' ') as [string, string];
	const asked = new URLSearchParams(query as Record<string, string> | URLSearchParams).toString();
	const address = `/api/v1${path.replace(/\[(\w+)\]/g, (_, place: PlacesOf<Of>) => encodeURIComponent(places[place]))}${asked && `?${asked}`}`;
	const send = async () => {
		let response: Response;
		try {
			response = await fetch(address, {
				method,
				keepalive: leaving,
				...(body !== undefined && {
					body: JSON.stringify(body),
					headers: { 'content-type': 'application/json' },
				}),
			});
		} catch {
			throw new CallError(
				0,
				'The server cannot be reached just now. Nothing is lost here; it is tried again.',
				null,
			);
		}
		return answerOf<Gives<Of>>(response);
	};
	return proves || leaving ? send() : withProof(send);
}

/** Does what may come back for a proof, and does it again when that was given. */
export async function withProof<T>(send: () => Promise<T>): Promise<T> {
	try {
		return await send();
	} catch (error) {
		const wanted = error instanceof CallError ? proofFor(error.status, error.body) : null;
		if (wanted === null || !(await proofGiven(wanted))) throw error;
		return send();
	}
}

/** The sentence of whatever went wrong. */
export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** What the server answered. @throws CallError where it refused */
export async function answerOf<T>(response: Response): Promise<T> {
	const answer = (await response.json().catch(() => null)) as unknown;
	if (response.ok) return answer as T;
	throw refused(response.status, answer as RefusalBody | null);
}

/** The error of a refused call, with a sentence in any case. */
export const refused = (status: number, refusal: RefusalBody | null): CallError =>
	new CallError(status, refusal?.message ?? `The server answered with ${status}.`, refusal);
