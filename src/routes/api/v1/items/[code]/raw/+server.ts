import { route } from '$lib/server/http';
import { loadRawText } from '$lib/server/raw-texts';
import { noItem } from '$lib/server/refusal';

/** The text that the item was brought in from, byte for byte. */
export const GET = route(async ({ locals, params }) => {
	const raw = await loadRawText(locals.actor.workspaceId, params.code!);
	if (!raw) throw noItem(params.code!);
	const name = raw.fileName ?? `${params.code} as pasted.txt`;
	return new Response(raw.pieces, {
		headers: {
			'content-type': 'application/octet-stream',
			'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
		},
	});
});
