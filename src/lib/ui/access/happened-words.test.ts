import { expect, test } from 'vitest';
import type { Happened } from '../../wire/access';
import { byWords, didWords, toWords } from './happened-words';

const happened = (change: Partial<Happened>): Happened => ({
	about: 'items',
	kind: 'retired',
	at: '2026-11-30T08:00:00Z',
	by: 'Anna',
	code: null,
	items: 1,
	sweep: null,
	whom: null,
	words: '',
	...change,
});
const sentence = (event: Happened) =>
	[byWords(event), didWords(event), toWords(event)].filter(Boolean).join(' ');

test.each<[Partial<Happened>, string]>([
	[{ code: '70-214' }, 'Anna retired 70-214'],
	[{ code: '70-214', items: 40 }, 'Anna retired 40 items'],
	[{ about: 'forecasts', kind: 'adopted', code: '70-214' }, 'Anna adopted a forecast for 70-214'],
	[
		{ about: 'forecasts', kind: 'sweep: propose', items: 812, sweep: 4 },
		'Anna began a sweep (propose) over 812 items',
	],
	[{ about: 'figures', kind: 'brought in', items: 1 }, 'Anna brought figures in'],
	[{ about: 'access', kind: 'signed in', whom: 'Anna' }, 'Anna signed in'],
	[{ about: 'access', kind: 'invited', whom: 'Ben' }, 'Anna invited Ben'],
	[{ about: 'refused', kind: 'sign-in failed', by: null, whom: 'Ben' }, 'Somebody failed to sign in as Ben'],
	[
		{ about: 'refused', kind: 'sign-in failed', by: null },
		'Somebody failed to sign in under a name that nobody has',
	],
	[{ about: 'refused', kind: 'refused' }, 'Anna was refused'],
])('%o reads “%s”', (change, words) => {
	expect(sentence(happened(change))).toBe(words);
});
