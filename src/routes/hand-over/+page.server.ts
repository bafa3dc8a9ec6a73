import { loadForecasts } from '$lib/server/forecasts';
import { forPage } from '$lib/server/http';
import { listItems } from '$lib/server/items';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	const { workspaceId } = locals.actor;
	const [list, forecasts] = await forPage(() =>
		Promise.all([listItems(workspaceId), loadForecasts(workspaceId)]),
	);
	return { title: 'Forecasts to hand over', list, forecasts };
};
