import { json } from '@sveltejs/kit';
import { bringIn } from '$lib/server/bring-in';
import { readTable, route } from '$lib/server/http';
import { BringInSchema } from '$lib/shapes';

/** A line of JSON that says what is wanted, then the table byte for byte. */
export const POST = route(async ({ locals, request }) => {
	const { wish, content } = await readTable(request, BringInSchema);
	return json(await bringIn(locals.actor, { content, fileName: wish.fileName ?? null }, wish));
});
