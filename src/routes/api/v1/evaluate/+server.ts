import { json } from '@sveltejs/kit';
import { evaluate } from '$core/evaluate';
import { readJson, route } from '$lib/server/http';

/** Request and answer of `evaluate`, as in docs/http.md. */
export const POST = route(async ({ request }) => json(evaluate(await readJson(request))));
