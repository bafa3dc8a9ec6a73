import { queried } from '$lib/server/checked';
import { LIST_QUERY } from '$lib/wire/calls';
import { forPage } from '$lib/server/http/http';
import { loadWindow } from '$lib/server/list/list';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals, url }) =>
	forPage(async () => {
		const { asked } = queried(LIST_QUERY, url.searchParams);
		return { title: 'Items', asked, first: await loadWindow(locals.actor.workspaceId, asked) };
	});
