import { loadWaitingContent } from '$lib/server/bring-in/inbox';
import { answerBytes, idIn, route } from '$lib/server/http/http';

export const GET = route('GET /waiting/[id]', async ({ locals, params }) => {
	const { content } = await loadWaitingContent(
		locals.actor.workspaceId,
		idIn((params as { id: string }).id, 'A file that waits'),
	);
	return answerBytes(content, 'application/octet-stream');
});
