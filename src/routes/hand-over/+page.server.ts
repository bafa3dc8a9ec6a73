import { queried } from '$lib/server/checked';
import { LIST_QUERY } from '$lib/wire/calls';
import { countForecasts, loadForecasts } from '$lib/server/list/forecasts';
import { forPage } from '$lib/server/http/http';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals, url }) =>
	forPage(async () => {
		const { workspaceId } = locals.actor;
		const { asked } = queried(LIST_QUERY, url.searchParams);
		const [forecasts, counts] = await Promise.all([
			loadForecasts(workspaceId, asked),
			countForecasts(workspaceId, asked),
		]);
		return { title: 'Forecasts to hand over', asked, forecasts, counts };
	});
