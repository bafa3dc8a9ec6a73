import { expect, test } from 'vitest';
import { scaleOf } from '$core/numbers/figure';
import { amongOthers } from './format';

test('a figure among others is on their scale, and on its own where that would hide it', () => {
	const shown = (values: readonly (number | null)[]) =>
		values.map((value) => amongOthers(value, scaleOf(values)).replace(/\s/g, ' '));
	expect(shown([2441, 966.4, null])).toEqual(['2 441', '966', '–']);
	// Beside billions nothing is about zero.
	expect(shown([4_291_629_707, 2441, 966.4])).toEqual(['4.29 billion', '2 441', '966']);
	expect(shown([812, 0.0123])).toEqual(['812.00', '0.0123']);
});
