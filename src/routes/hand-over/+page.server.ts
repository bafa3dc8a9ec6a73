import { askedIn } from '$lib/asked';
import { countForecasts, loadForecasts } from '$lib/server/forecasts';
import { forPage } from '$lib/server/http';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
	const { workspaceId } = locals.actor;
	const asked = askedIn(url.searchParams);
	const [forecasts, counts] = await forPage(() =>
		Promise.all([loadForecasts(workspaceId, asked), countForecasts(workspaceId, asked)]),
	);
	return { title: 'Forecasts to hand over', asked, forecasts, counts };
};
