import { loadHappened } from '$lib/server/access/happened';
import { queried } from '$lib/server/checked';
import { forPage } from '$lib/server/http/http';
import { HAPPENED_QUERY } from '$lib/wire/access';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals, url }) =>
	forPage(async () => {
		const asked = queried(HAPPENED_QUERY, url.searchParams);
		return { title: 'What happened', asked, first: await loadHappened(locals.caller!, asked) };
	});
