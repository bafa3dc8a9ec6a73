import { forPage } from '$lib/server/http/http';
import { loadSweeps } from '$lib/server/sweeps/sweeps';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => ({
	title: 'Sweeps',
	sweeps: await forPage(() => loadSweeps(locals.actor.workspaceId)),
});
