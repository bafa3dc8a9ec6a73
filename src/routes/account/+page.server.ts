import { loadSessions } from '$lib/server/access/people';
import { forPage } from '$lib/server/http/http';
import { personOf } from '$lib/server/http/gate';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) =>
	forPage(async () => ({ title: 'Your account', sessions: await loadSessions(personOf(locals)) }));
