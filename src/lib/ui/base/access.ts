import { page } from '$app/state';
import { type Me, mayDo, type Role, ROLE_SAYS } from '../../wire/access';

/** Who looks at the page, and what they may: the server decides, and the page shows it. */

export const me = (): Me | null => (page.data.me as Me | null | undefined) ?? null;

/** Whether whoever looks may do what is for a role. */
export const may = (role: Role): boolean => mayDo(me()?.role ?? null, role);

/** What is for others: “Adopting: for the role “work””. */
export const isFor = (does: string, role: Role): string => `${does}: for the role “${role}”`;

/** What they may instead, and whom they ask. */
export function yours(role: Role): string {
	const who = me();
	if (!who) return 'Sign in first.';
	if (who.secondFactorWanted && role === 'manage')
		return 'Managing needs a second factor. Switch it on under “Your account”.';
	const ask = who.managers.length > 0 ? ` Ask someone who manages: ${who.managers.join(', ')}.` : '';
	return `Yours is “${who.role}”, which ${ROLE_SAYS[who.role]}.${ask}`;
}
