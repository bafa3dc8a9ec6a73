import { demandFactor } from '$lib/server/access/people';
import { answering } from '$lib/server/http/http';

export const PUT = answering('PUT /access', ({ locals }, { secondFactor }) =>
	demandFactor(locals.caller!, secondFactor),
);
