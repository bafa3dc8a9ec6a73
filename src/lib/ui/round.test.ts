import { beforeEach, expect, test, vi } from 'vitest';
import { beginRound, noteDone, placeOf, takeDone } from './round';

const kept = new Map<string, string>();
beforeEach(() => {
	kept.clear();
	vi.stubGlobal('sessionStorage', {
		getItem: (key: string) => kept.get(key) ?? null,
		setItem: (key: string, text: string) => kept.set(key, text),
	});
});

test('an item knows its place among those that are worked through, and who comes before and after', () => {
	expect(placeOf('B')).toBeNull();
	beginRound('drifts', ['A', 'B', 'C']);
	expect(placeOf('B')).toEqual({ name: 'drifts', at: 2, of: 3, before: 'A', after: 'C' });
	expect(placeOf('A')).toMatchObject({ at: 1, before: null, after: 'B' });
	expect(placeOf('C')).toMatchObject({ at: 3, after: null });
	expect(placeOf('D')).toBeNull();
});

test('what was done is said once', () => {
	beginRound('all items', ['A']);
	expect(takeDone()).toBe('');
	noteDone('A carried on');
	expect([takeDone(), takeDone()]).toEqual(['A carried on', '']);
	expect(placeOf('A')).not.toBeNull();
});

test('a browser that keeps nothing, or something else, has no round', () => {
	vi.stubGlobal('sessionStorage', {
		getItem: () => '{',
		setItem: () => {
			throw new Error('full');
		},
	});
	expect(() => beginRound('all', ['A'])).not.toThrow();
	expect(placeOf('A')).toBeNull();
});
