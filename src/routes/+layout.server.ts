import { demoProgress } from '$lib/server/demo/prepare';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = ({ locals, depends }) => {
	depends('demo:progress');
	return { workspace: locals.workspaceName ?? '', demo: demoProgress() };
};
