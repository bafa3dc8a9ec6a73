import { beforeEach, expect, test, vi } from 'vitest';
import { beginRound, followRound, noteDone, placeOf, takeDone } from './round';

const ROUND = { name: 'all items', codes: [], offset: 0, of: 1, query: '', next: null };

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
	beginRound({ ...ROUND, name: 'drifts', codes: ['A', 'B', 'C'], of: 3 });
	expect(placeOf('B')).toEqual({ name: 'drifts', at: 2, of: 3, before: 'A', after: 'C' });
	expect(placeOf('A')).toMatchObject({ at: 1, before: null, after: 'B' });
	expect(placeOf('C')).toMatchObject({ at: 3, after: null });
	expect(placeOf('D')).toBeNull();
});

test('near the end of those at hand the next ones are asked for, from where these begin, each of them once', async () => {
	const asked: string[] = [];
	vi.stubGlobal('fetch', (address: string) => {
		asked.push(address);
		return Promise.resolve(Response.json({ items: [{ code: 'C' }, { code: 'D' }], next: null }));
	});
	beginRound({ ...ROUND, codes: ['A', 'B', 'C'], offset: 40, of: 44, query: 'why=look', next: [3, -7, 'D'] });
	expect(await followRound('A')).toBe(true);
	expect(asked).toEqual([`/api/v1/items?why=look&from=${encodeURIComponent('[3,-7,"D"]')}`]);
	expect(placeOf('C')).toEqual({ name: 'all items', at: 43, of: 44, before: 'B', after: 'D' });
	expect(await followRound('D')).toBe(false);
	expect(asked).toHaveLength(1);
});

test('what was done is said once', () => {
	beginRound({ ...ROUND, codes: ['A'] });
	expect(takeDone()).toBe('');
	noteDone('A updated');
	expect([takeDone(), takeDone()]).toEqual(['A updated', '']);
	expect(placeOf('A')).not.toBeNull();
});

test('a browser that keeps nothing, or something else, has no round', () => {
	vi.stubGlobal('sessionStorage', {
		getItem: () => '{',
		setItem: () => {
			throw new Error('full');
		},
	});
	expect(() => beginRound({ ...ROUND, codes: ['A'] })).not.toThrow();
	expect(placeOf('A')).toBeNull();
});
