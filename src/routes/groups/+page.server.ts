import { queried } from '$lib/server/checked';
import { GROUPS_PAGE_QUERY } from '$lib/wire/calls';
import { loadGroups } from '$lib/server/list/groups';
import { forPage } from '$lib/server/http/http';
import { loadKinds } from '$lib/server/list/list';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals, url }) =>
	forPage(async () => {
		const { workspaceId } = locals.actor;
		const { asked, by: said } = queried(GROUPS_PAGE_QUERY, url.searchParams);
		const kinds = await loadKinds(workspaceId);
		const wanted = [...new Set(said)].filter((of) => kinds.includes(of)).slice(0, 2);
		const by = wanted.length > 0 ? wanted : kinds.slice(0, 1);
		return {
			title: 'Groups',
			asked,
			kinds,
			by,
			groups: by.length > 0 ? await loadGroups(workspaceId, asked, by) : null,
		};
	});
