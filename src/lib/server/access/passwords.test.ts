import { expect, test } from 'vitest';
import { hashPassword, isPassword, whyNotPassword } from './passwords';

test('a password is told from others, whatever keyboard composes its letters', async () => {
	const hashed = await hashPassword('caf\u00e9 under the bridge');
	expect(hashed).toMatch(/^\$argon2id\$v=19\$m=65536,t=6,p=1\$/);
	expect(await isPassword(hashed, 'cafe\u0301 under the bridge')).toBe(true);
	expect(await isPassword(hashed, 'cafe under the bridge')).toBe(false);
	expect(await isPassword(null, '')).toBe(false);
	const long = 'a word '.repeat(18);
	expect(await isPassword(await hashPassword(`${long}1`), `${long}2`)).toBe(false);
	expect(await hashPassword('caf\u00e9 under the bridge')).not.toBe(hashed);
});

test.each([
	['correct horse battery', null],
	['Ein Rad ohne Kette!', null],
	['наш велосипед хорош', null],
	['twelve chars', null],
	['elevenchars', /at least 12/],
	['', /at least 12/],
	['a word '.repeat(19), /at most 128/],
	['aaaaaaaaaaaaaaa', /one pattern/],
	['abcdefghijklmnop', /one pattern/],
	['ponmlkjihgfedcba', /one pattern/],
	['qwertyuiopasdf', /one pattern/],
	['hahahahahahaha', /one pattern/],
	['123qweasdzxc', /common/],
	['leavemealone', /common/],
	['!!Football99!!', /common/],
	['2026-11-30 / 1', /common/],
	['Anna-Ventrel-1', /most of this password/],
	['anna anna anna', /pattern|most of/],
])('“%s” may be chosen, or is refused with the reason', async (password, why) => {
	const said = await whyNotPassword(password, 'Anna');
	if (why === null) expect(said).toBeNull();
	else expect(said).toMatch(why);
});
