import { forPage } from '$lib/server/http';
import { loadItem } from '$lib/server/items';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, depends }) => {
	depends('item');
	const item = await forPage(() => loadItem(locals.actor.workspaceId, params.code));
	return { title: `${item.code} ${item.name}`, item };
};
