import { loadPeople, loadTokens } from '$lib/server/access/people';
import { forPage } from '$lib/server/http/http';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) =>
	forPage(async () => ({
		title: 'People and tokens',
		people: await loadPeople(locals.actor.workspaceId),
		tokens: await loadTokens(locals.actor.workspaceId),
	}));
