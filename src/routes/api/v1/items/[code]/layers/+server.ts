import { answering, codeIn } from '$lib/server/http';
import { addLayerEntries } from '$lib/server/layer-entries';

export const POST = answering('POST /items/[code]/layers', ({ locals, params }, entries) =>
	addLayerEntries(locals.actor, codeIn(params), entries),
);
