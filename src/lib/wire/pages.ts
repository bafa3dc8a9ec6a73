import type { For } from './access';

/**
 * Whom each page is for, by its route. A page that is not named here is not built (`vite.config.ts`); what a page shows stands in its
 * load and in calls, which are declared in `calls.ts`.
 */
export const PAGES = {
	'/': 'look',
	'/items': 'look',
	'/items/[code]': 'look',
	'/groups': 'look',
	'/bring-in': 'look',
	'/sweeps': 'look',
	'/sweeps/[id]': 'look',
	'/hand-over': 'look',
	'/api': 'look',
	'/happened': 'look',
	'/account': 'look',
	'/people': 'manage',
	'/settings': 'manage',
	'/sign-in': 'anyone',
	'/invited': 'anyone',
} as const satisfies Record<string, For>;

/** Whom a page is for; null where no page is declared at a route. */
export const pageFor = (route: string): For | null =>
	Object.hasOwn(PAGES, route) ? PAGES[route as keyof typeof PAGES] : null;
