import { availableParallelism } from 'node:os';
import { hash, verify } from '@node-rs/argon2';
import { BOUNDS } from '$core/bounds';
import { LEAST_PASSWORD } from '../../wire/access';
import { Refusal } from '../refusal';

/** Argon2id (RFC 9106): 64 MiB, six passes, one lane. `bench -- access` says what that costs. */
const COST = { memoryCost: 65_536, timeCost: 6, parallelism: 1 };
/** How many are looked at once, each on a thread that does not serve: a core is left to serving. And how many wait. */
const AT_ONCE = Math.max(1, availableParallelism() - 1);
const MOST_WAITING = 20;
const TRY_AGAIN = 5;

/** A password as it is hashed: letters composed, so that every keyboard gives the same. */
const composed = (password: string) => password.normalize('NFC');

let busy = 0;
const waiting: (() => void)[] = [];

/** @throws Refusal 503 where too many wait for a password to be looked at */
export function refuseCrowd(): void {
	if (waiting.length >= MOST_WAITING)
		throw new Refusal(503, 'Many are signing in at once. Try again in a moment.', [], TRY_AGAIN);
}

/** Has its turn at the threads that hash. @param first before those that wait already, however many they are */
async function inTurn<T>(work: () => Promise<T>, first = false): Promise<T> {
	if (busy >= AT_ONCE) {
		if (!first) refuseCrowd();
		await new Promise<void>((enter) => (first ? waiting.unshift(enter) : waiting.push(enter)));
	} else busy++;
	try {
		return await work();
	} finally {
		const next = waiting.shift();
		if (next) next();
		else busy--;
	}
}

export const hashPassword = (password: string): Promise<string> =>
	inTurn(() => hash(composed(password), COST), true);

let nobodys: Promise<string> | null = null;

/**
 * Whether a password is the one that was hashed. Where there is none it is compared all the same, so that it takes as long.
 * @param hashed null where nobody has this name, or no password was chosen yet
 * @param first before others that wait: of a browser that is known, or a session
 */
export async function isPassword(hashed: string | null, password: string, first = false): Promise<boolean> {
	nobodys ??= hash('', COST);
	const against = hashed ?? (await nobodys);
	return (await inTurn(() => verify(against, composed(password)), first)) && hashed !== null;
}

/** What comes one after the other on keyboards and in the alphabet. */
const ROWS = [
	'abcdefghijklmnopqrstuvwxyz',
	'01234567890123456789',
	'qwertyuiopasdfghjklzxcvbnm',
	'qwertzuiopasdfghjklyxcvbnm',
];

/** Whether it is a piece said again and again, or characters one after the other. */
function isPattern(text: string): boolean {
	for (let length = 1; length <= text.length / 2.5; length++)
		if (
			text ===
			text
				.slice(0, length)
				.repeat(Math.ceil(text.length / length))
				.slice(0, text.length)
		)
			return true;
	return ROWS.some((row) => row.includes(text) || [...row].reverse().join('').includes(text));
}

/**
 * Why a password cannot be chosen, in words; null where it can.
 * @param name of whose it would be
 */
export async function whyNotPassword(password: string, name: string): Promise<string | null> {
	const text = composed(password).toLowerCase();
	const length = [...text].length;
	if (length < LEAST_PASSWORD)
		return `A password has at least ${LEAST_PASSWORD} characters; this one has ${length}. Several words make a good one.`;
	if (length > BOUNDS.password) return `A password has at most ${BOUNDS.password} characters.`;
	const own = name.toLowerCase();
	const said = text.replaceAll(own, '').replaceAll('ventrel', '');
	if (said.length < LEAST_PASSWORD - 4 && said !== text)
		return 'Your name, or Ventrel, is most of this password. Choose another one.';
	if (isPattern(text))
		return 'This password is one pattern. Choose another one; several words make a good one.';
	const { dictionary } = await import('@zxcvbn-ts/language-common');
	const common = new Set(dictionary['passwords-common']);
	// “Password2024!” is “password”.
	const core = text.replace(/^[^\p{L}]+|[^\p{L}]+$/gu, '');
	if (common.has(text) || common.has(core) || core === '')
		return 'This password is among the common ones, which are tried first. Choose another one; several words make a good one.';
	return null;
}

/** @throws Refusal 422 where a password cannot be chosen */
export async function refusePassword(password: string, name: string): Promise<void> {
	const message = await whyNotPassword(password, name);
	if (message) throw new Refusal(422, message, [{ path: 'password', message }]);
}
