import fc from 'fast-check';
import { expect, test } from 'vitest';
import { plainText } from '$core/schemas';
import { guarded, meant } from './guarded';

test.each(['=1+1', '+49', '-5 per cent', '@SUM(A1)', '＝1+1', ' =1', '\t=1', '\u200b=1', '−4', '﹦2'])(
	'%j would be run, and is guarded',
	(text) => expect(guarded(text)).toBe(`'${text}`),
);

test.each(['70-214', 'a=1', 'Rack, “alloy”', '', "'s-Hertog", 'é'])('%j is left as it is', (text) => {
	expect(guarded(text)).toBe(text);
	expect(meant(text)).toBe(text);
});

test('what cannot be seen is no part of a text, and letters are composed', () => {
	expect(meant('70\u200b-2\u00ad14\u202e')).toBe('70-214');
	expect(meant('Cafe\u0301')).toBe('Caf\u00e9');
});

test('whatever was guarded comes back as it was', () => {
	fc.assert(
		fc.property(
			fc.string({ unit: 'binary' }),
			(text) => meant(guarded(text)) === plainText(text) || text.startsWith("'"),
		),
	);
});
