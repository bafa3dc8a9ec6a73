import { answering, idIn } from '$lib/server/http/http';
import { loadSweepWindow } from '$lib/server/sweeps/results';
import { loadSweep } from '$lib/server/sweeps/sweeps';

export const GET = answering(
	'GET /sweeps/[id]/rows',
	async ({ locals, params }, _, { asked, from, most }) => {
		const { workspaceId } = locals.actor;
		const { id } = await loadSweep(workspaceId, idIn(params.id, 'a sweep'));
		return loadSweepWindow(workspaceId, id, asked, from, most);
	},
);
