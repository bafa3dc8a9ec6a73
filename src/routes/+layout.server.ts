import { hasDemo } from '$lib/server/demo/clear';
import { demoProgress } from '$lib/server/demo/prepare';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals, depends }) => {
	depends('demo:progress');
	return {
		workspace: locals.workspaceName ?? '',
		demo: demoProgress(),
		// Without a database the page itself says so, in this layout.
		hasDemo: locals.actor ? await hasDemo(locals.actor.workspaceId).catch(() => false) : false,
	};
};
