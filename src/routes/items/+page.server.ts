import { askedIn } from '$lib/asked';
import { forPage } from '$lib/server/http';
import { loadWindow } from '$lib/server/list';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
	const asked = askedIn(url.searchParams);
	return { title: 'Items', asked, first: await forPage(() => loadWindow(locals.actor.workspaceId, asked)) };
};
