import { redirect } from '@sveltejs/kit';
import { codeIn, forPage } from '$lib/server/http/http';
import { loadItem } from '$lib/server/list/items';
import { Refusal } from '$lib/server/refusal';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, depends, url }) => {
	depends('item');
	const item = await forPage(async () => {
		try {
			return await loadItem(locals.actor.workspaceId, codeIn(params));
		} catch (failure) {
			// A link to what it was called before leads to it.
			if (failure instanceof Refusal && failure.shown.code)
				redirect(307, `/items/${encodeURIComponent(failure.shown.code)}${url.search}`);
			throw failure;
		}
	});
	return { title: `${item.code} ${item.name}`, item };
};
