import { expect, test } from 'vitest';
import { Secret } from 'otpauth';
import { newFactor, stepOf } from './second-factor';

/** “12345678901234567890”, the secret of the test values of RFC 6238, appendix B. */
const SECRET = Secret.fromUTF8('12345678901234567890').base32;

test.each([
	[59, '287082'],
	[1_111_111_109, '081804'],
	[1_111_111_111, '050471'],
	[1_234_567_890, '005924'],
	[2_000_000_000, '279037'],
	[20_000_000_000, '353130'],
])('at %i seconds the code is %s, as the standard has it', (seconds, code) => {
	const step = Math.floor(seconds / 30);
	expect(stepOf(SECRET, code, 1000 * seconds)).toBe(step);
	// A clock that is half a minute late or early is taken; a minute is not.
	expect(stepOf(SECRET, code, 1000 * (seconds + 30))).toBe(step);
	expect(stepOf(SECRET, code, 1000 * (seconds + 61))).toBeNull();
	expect(stepOf(SECRET, code, 1000 * (seconds - 61))).toBeNull();
});

test('a new secret has 160 bits, and its address says whose it is', () => {
	const { secret, address } = newFactor('Anna Ferry');
	expect(secret).toMatch(/^[A-Z2-7]{32}$/);
	const url = new URL(address);
	expect(url.searchParams.get('secret')).toBe(secret);
	expect(decodeURIComponent(url.pathname)).toContain('Anna Ferry');
	expect(newFactor('Anna Ferry').secret).not.toBe(secret);
});
