import type { RequestIssue } from '$core/request';

/** A call that is refused for a reason its caller can do something about. */
export class Refusal extends Error {
	override name = 'Refusal';
	constructor(
		readonly status: 404 | 409 | 413 | 415 | 422 | 503,
		message: string,
		readonly issues: readonly RequestIssue[] = [],
	) {
		super(message);
	}
}

export const noItem = (code: string) =>
	new Refusal(
		404,
		`There is no item “${code.slice(0, 80)}” here. It may have another code; look in the list of items.`,
	);
