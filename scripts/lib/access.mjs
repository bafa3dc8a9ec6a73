// Who may reach the application, and whether people sign in.
import { isIP } from 'node:net';
import { connected } from './connected.mjs';
import { Stop } from './say.mjs';

const LOOPBACK = /^(127\.\d+\.\d+\.\d+|::1)$/;
const ANY = new Set(['0.0.0.0', '::']);

/**
 * What is said of access, checked: whoever can reach a server where nobody signs in may do everything there.
 * @param {NodeJS.ProcessEnv} env
 * @returns {{ signIn: boolean, listen: string, at: string }} listen: the address that is listened at; at: the one to reach it by
 */
export function accessOf(env) {
	const {
		VENTREL_SIGN_IN: wanted = 'off',
		VENTREL_LISTEN: listen = '127.0.0.1',
		VENTREL_ORIGIN: origin,
		VENTREL_PROXY: proxy,
	} = env;
	if (wanted !== 'on' && wanted !== 'off')
		throw new Stop(`VENTREL_SIGN_IN is “on” or “off”, not “${wanted}”.`);
	const signIn = wanted === 'on';
	if (isIP(listen) === 0)
		throw new Stop(`VENTREL_LISTEN is an address such as 127.0.0.1 or 0.0.0.0, not “${listen}”.`);
	if (proxy !== undefined && isIP(proxy) === 0)
		throw new Stop(`VENTREL_PROXY is the address of one reverse proxy, such as 127.0.0.1, not “${proxy}”.`);
	if (origin && !isOrigin(origin))
		throw new Stop(
			`VENTREL_ORIGIN is an address such as https://forecasts.example, without a path, not “${origin}”.`,
		);
	const open = LOOPBACK.test(listen)
		? origin
			? `VENTREL_ORIGIN is ${origin}`
			: null
		: `VENTREL_LISTEN is ${listen}`;
	if (open && !signIn)
		throw new Stop(
			`${open}, so that others could reach Ventrel, and nobody would have to sign in. Set VENTREL_SIGN_IN=on too; README says how people are invited.`,
		);
	if (!LOOPBACK.test(listen) && !origin)
		throw new Stop(
			`VENTREL_LISTEN is ${listen}: set VENTREL_ORIGIN to the address that people type, such as https://forecasts.example.`,
		);
	return {
		signIn,
		listen,
		at: ANY.has(listen) ? '127.0.0.1' : listen.includes(':') ? `[${listen}]` : listen,
	};
}

/** @param {string} text */
function isOrigin(text) {
	try {
		return new URL(text).origin === text.toLowerCase().replace(/\/$/, '');
	} catch {
		return false;
	}
}

/**
 * Says to the database whether people sign in: where they do, it writes nothing in the name of the machine.
 * @param {string} ownerUrl
 * @param {boolean} signIn
 * @param {boolean} [inbox] whether a folder is watched, so that what is laid there comes in
 */
export async function saySignIn(ownerUrl, signIn, inbox = false) {
	await connected(ownerUrl, (client) =>
		client.query('UPDATE access SET sign_in = $1, inbox = $2 WHERE (sign_in, inbox) <> ($1, $2)', [
			signIn,
			inbox,
		]),
	);
}
