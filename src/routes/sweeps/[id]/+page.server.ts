import { forPage, idIn } from '$lib/server/http/http';
import { loadSweepSums, loadSweepWindow } from '$lib/server/sweeps/results';
import { loadSweep } from '$lib/server/sweeps/sweeps';
import { queried } from '$lib/server/checked';
import { SWEEP_QUERY } from '$lib/wire/calls';
import { inUsualOrder } from '$lib/wire/sweep-asked';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals, params, url }) =>
	forPage(async () => {
		const { workspaceId } = locals.actor;
		const id = idIn(params.id, 'A sweep');
		const sweep = await loadSweep(workspaceId, id);
		const asked = inUsualOrder(queried(SWEEP_QUERY, url.searchParams).asked, url.searchParams, sweep.kind);
		return {
			title: `Sweep ${id}`,
			asked,
			sweep,
			sums: await loadSweepSums(workspaceId, id),
			first: await loadSweepWindow(workspaceId, id, asked),
		};
	});
