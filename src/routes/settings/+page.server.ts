import { forPage } from '$lib/server/http/http';
import { loadKept } from '$lib/server/status/kept';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) =>
	forPage(async () => ({ title: 'Settings', kept: await loadKept(locals.actor.workspaceId) }));
