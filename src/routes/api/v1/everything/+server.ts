import { Readable } from 'node:stream';
import { route } from '$lib/server/http/http';
import { takeEverything } from '$lib/server/list/everything';
import { CALLS } from '$lib/wire/calls';

export const GET = route('GET /everything', async ({ locals, request }) => {
	const headers = {
		'content-type': CALLS['GET /everything'].type,
		'content-disposition': `attachment; filename="ventrel-everything-${new Date().toISOString().slice(0, 10)}.zip"`,
		'cache-control': 'no-store',
	};
	// Who only asks what it would be takes nothing away.
	if (request.method === 'HEAD') return new Response(null, { headers });
	const archive = await takeEverything(locals.actor, locals.hangUp);
	return new Response(Readable.toWeb(archive) as ReadableStream<Uint8Array>, { headers });
});
