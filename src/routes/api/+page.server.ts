import { type Call, CALLS } from '$lib/wire/calls';
import type { PageServerLoad } from './$types';

const WHO = { anyone: 'anyone', look: 'looking', work: 'working', manage: 'managing' } as const;

/** Every call as it is declared, to read. */
export const load: PageServerLoad = () => ({
	title: 'Interface',
	calls: (Object.entries(CALLS) as [string, Call][]).map(([key, { does, who, query, refuses = [] }]) => {
		const [method, path] = key.split(' ') as [string, string];
		return {
			method,
			path: path.replace(/\[(\w+)\]/g, '{$1}'),
			does,
			who: WHO[who],
			params: Object.entries(query?.params ?? {}).map(([name, param]) => ({ name, ...param })),
			refuses: [...refuses],
		};
	}),
});
