import { meOf } from '$lib/server/access/caller';
import { hasDemo } from '$lib/server/demo/clear';
import { demoProgress } from '$lib/server/demo/prepare';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals, depends }) => {
	depends('demo:progress');
	return {
		me: locals.caller && (await meOf(locals.caller)),
		workspace: locals.caller ? locals.workspaceName : '',
		demo: locals.caller ? demoProgress() : null,
		// Without a database the page itself says so, in this layout.
		hasDemo: locals.caller ? await hasDemo(locals.actor.workspaceId).catch(() => false) : false,
	};
};
