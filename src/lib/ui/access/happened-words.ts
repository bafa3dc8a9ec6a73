import type { Happened } from '../../wire/access';

/** What happened in words, by its kind: what stands after whom did it. */
const SAYS: Readonly<Record<string, string>> = {
	'brought in': 'brought figures in',
	correction: 'corrected figures of',
	gap: 'filled a gap of',
	'gap-rule': 'set the rule for gaps of',
	'left-out': 'left figures out of',
	event: 'noted an event of',
	'per-day': 'set the figures per day of',
	'season-length': 'set the season of',
	off: 'switched layers of',
	adopted: 'adopted a forecast for',
	'sweep stopped': 'stopped a sweep over',
	renamed: 'renamed',
	retired: 'retired',
	returned: 'brought back',
	planned: 'changed how is planned with',
	labelled: 'labelled',
	hidden: 'hid until the next actual',
	'shown again': 'showed again',
	'signed in': 'signed in',
	'session ended': 'ended a session',
	invited: 'invited',
	'link made': 'made a new link for',
	left: 'ended the access of',
	'role changed': 'changed the role of',
	'password chosen': 'chose a password',
	'password changed': 'changed the password',
	'second factor on': 'switched a second factor on',
	'second factor off': 'switched the second factor off',
	'second factor demanded': 'demanded a second factor of who manages',
	'second factor left free': 'left the second factor free',
	'token made': 'made',
	'token revoked': 'revoked',
	'view saved': 'saved the view',
	'view deleted': 'deleted the view',
	'end of sweeps set': 'set how long rows of sweeps are kept',
	'alarm rate set': 'set the rate of false bias alarms',
	'everything taken': 'took everything away',
	refused: 'was refused',
	'sign-in failed': 'failed to sign in',
	'sign-in slowed': 'was slowed down signing in',
};

/** Kinds that are about whoever does them. */
const OWN = new Set([
	'signed in',
	'session ended',
	'password chosen',
	'password changed',
	'second factor on',
	'second factor off',
]);

/** What was done: “adopted a forecast for”. */
export function didWords({ kind }: Pick<Happened, 'kind'>): string {
	const sweep = /^sweep: (.*)$/.exec(kind)?.[1];
	return sweep ? `began a sweep (${sweep}) over` : (SAYS[kind] ?? kind);
}

/** To what or whom: an item, so many of them, a person, a view. */
export function toWords({ kind, code, items, whom, about }: Happened): string {
	if (whom !== null) return OWN.has(kind) ? '' : kind.startsWith('sign-in') ? `as ${whom}` : whom;
	if (about === 'refused') return kind.startsWith('sign-in') ? 'under a name that nobody has' : '';
	if (code !== null && items === 1) return code;
	return items > 1 ? `${items} items` : '';
}

/** Who did it, where that is known. */
export const byWords = ({ by, kind }: Happened): string =>
	by ?? (kind.startsWith('sign-in') ? 'Somebody' : '');
