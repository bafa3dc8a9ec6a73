import { askedOf } from '$lib/server/items/asked-sql';
import { forPage } from '$lib/server/http/http';
import { loadWindow } from '$lib/server/list/list';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals, url }) =>
	forPage(async () => {
		const asked = askedOf(url.searchParams);
		return { title: 'Items', asked, first: await loadWindow(locals.actor.workspaceId, asked) };
	});
