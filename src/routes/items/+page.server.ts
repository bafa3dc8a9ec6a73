import { forPage } from '$lib/server/http';
import { listItems } from '$lib/server/items';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, depends }) => {
	depends('items');
	return { title: 'Items', list: await forPage(() => listItems(locals.actor.workspaceId)) };
};
