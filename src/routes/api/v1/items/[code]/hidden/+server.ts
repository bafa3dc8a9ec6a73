import { answering, codeIn } from '$lib/server/http/http';
import { hide } from '$lib/server/status/status';

export const POST = answering('POST /items/[code]/hidden', ({ locals, params }, request) =>
	hide(locals.actor, codeIn(params), request),
);
