import { answering, codeIn } from '$lib/server/http/http';
import { addLayerEntries } from '$lib/server/items/layer-entries';

export const POST = answering('POST /items/[code]/layers', ({ locals, params }, entries) =>
	addLayerEntries(locals.actor, codeIn(params), entries),
);
