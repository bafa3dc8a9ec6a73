import { pool } from '$lib/server/database/database';
import { codeIn, route } from '$lib/server/http/http';
import { findItem } from '$lib/server/items/item-records';
import { loadRawText } from '$lib/server/items/raw-texts';
import { Refusal } from '$lib/server/refusal';

/** The text that the item was brought in from, byte for byte. */
export const GET = route('GET /items/[code]/raw', async ({ locals, params }) => {
	const { workspaceId } = locals.actor;
	const item = await findItem(pool(), workspaceId, codeIn(params));
	const raw = await loadRawText(workspaceId, item.id);
	if (!raw) throw new Refusal(404, `No figures of ${item.code} came from a text.`);
	const name = raw.fileName ?? `${item.code} as pasted.txt`;
	return new Response(raw.pieces, {
		headers: {
			'content-type': 'application/octet-stream',
			'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
		},
	});
});
