import { redirect } from '@sveltejs/kit';
import { signInIsOn } from '$lib/server/access/caller';
import { hasPeople } from '$lib/server/access/people';
import type { PageServerLoad } from './$types';

/** A place of ours that was asked for before; anything else leads to the items. */
const placeIn = (to: string | null) => (to && /^\/(?![/\\])[\w/%.?=&~,:+-]*$/.test(to) ? to : '/items');

export const load: PageServerLoad = async ({ locals, url }) => {
	const to = placeIn(url.searchParams.get('to'));
	if (!signInIsOn() || locals.caller) redirect(303, to);
	return { title: 'Sign in', to, anybody: await hasPeople() };
};
