import { expect, test } from 'vitest';
import { findTerms, TERMS, termIs } from './terms';

test('every term is said in at most twenty words, once, and ends like a sentence', () => {
	for (const { term, is } of TERMS) {
		expect(is.split(/\s+/).filter((word) => /\p{L}|\d/u.test(word)).length, term).toBeLessThanOrEqual(20);
		expect(is, term).toMatch(/[.)]$/);
	}
	expect(new Set(TERMS.map(({ term }) => term)).size).toBe(TERMS.length);
});

test('a few letters find a term by its name first, then by what it is', () => {
	expect(findTerms('mad')[0]!.term).toBe('MAD');
	expect(findTerms(' too low ').map(({ term }) => term)).toEqual(['bias', 'error']);
	expect(findTerms('nothing of the kind')).toEqual([]);
	expect(findTerms('')).toBe(TERMS);
	expect(termIs('naive')).toContain('last actual');
});
