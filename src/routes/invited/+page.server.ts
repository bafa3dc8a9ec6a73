import { redirect } from '@sveltejs/kit';
import { signInIsOn } from '$lib/server/access/caller';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = () => {
	if (!signInIsOn()) redirect(303, '/items');
	return { title: 'Choose your password' };
};
