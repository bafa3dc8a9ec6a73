import { answering, idIn } from '$lib/server/http/http';
import { stopSweep } from '$lib/server/sweeps/sweeps';

export const POST = answering('POST /sweeps/[id]/stopped', ({ locals, params }) =>
	stopSweep(locals.actor, idIn(params.id, 'a sweep')),
);
