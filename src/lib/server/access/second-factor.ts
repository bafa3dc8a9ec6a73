import { Secret, TOTP } from 'otpauth';
import type { Queryable } from '../database/database';

/** Time-based codes (RFC 6238): six digits, a step of 30 seconds, one step early or late taken as well. */
const STEP = 30;

const totp = (secret: string, name: string) =>
	new TOTP({ issuer: 'Ventrel', label: name, secret: Secret.fromBase32(secret), period: STEP });

/** A new secret of 160 bits, as text and as an address that apps read. */
export function newFactor(name: string): { secret: string; address: string } {
	const secret = new Secret({ size: 20 }).base32;
	return { secret, address: totp(secret, name).toString() };
}

/** The step of time whose code this is; null where it is none of now. */
export function stepOf(secret: string, code: string, at = Date.now()): number | null {
	const delta = totp(secret, '').validate({ token: code, timestamp: at, window: 1 });
	return delta === null ? null : Math.floor(at / 1000 / STEP) + delta;
}

/** Whether a code is right and was not used before; from then on it was. */
export async function useCode(
	database: Queryable,
	actorId: number,
	secret: string,
	code: string,
): Promise<boolean> {
	const step = stepOf(secret, code);
	if (step === null) return false;
	const { rowCount } = await database.query(
		'UPDATE person_proof SET second_factor_step = $2 WHERE actor_id = $1 AND second_factor_step < $2',
		[actorId, step],
	);
	return rowCount === 1;
}
