import { type Call, CALLS } from '$lib/wire/calls';
import { paramSays } from '$lib/wire/query';
import type { PageServerLoad } from './$types';

/** Every call as it is declared, to read. */
export const load: PageServerLoad = () => ({
	title: 'Interface',
	calls: (Object.entries(CALLS) as [string, Call][]).map(([key, { does, who, query, refuses = [] }]) => {
		const [method, path] = key.split(' ') as [string, string];
		return {
			method,
			path: path.replace(/\[(\w+)\]/g, '{$1}'),
			does,
			who: who === 'anyone' ? 'anyone' : `the role “${who}”`,
			params: Object.entries(query?.params ?? {}).map(([name, param]) => ({
				name,
				says: paramSays(param),
				many: param.many === true,
			})),
			refuses: [...refuses],
		};
	}),
});
