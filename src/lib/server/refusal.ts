import type { RequestIssue } from '$core/questions/request';
import type { RefusalBody } from '../wire/service';

/** A call that is refused for a reason its caller can do something about. */
export class Refusal extends Error {
	override name = 'Refusal';
	constructor(
		readonly status: 400 | 401 | 403 | 404 | 405 | 409 | 413 | 415 | 421 | 422 | 429 | 499 | 503,
		message: string,
		readonly issues: readonly RequestIssue[] = [],
		/** Seconds after which it may be tried again. */
		readonly retryAfter: number | null = null,
		/** What the caller's screen shows beside the sentence. */
		readonly shown: Omit<RefusalBody, 'message' | 'issues' | 'type' | 'title' | 'status' | 'detail'> = {},
	) {
		super(message);
	}
}

export const NOBODY_SIGNS_IN =
	'Nobody signs in here: Ventrel was started for one person on their own machine. README says how to start it for several people.';
