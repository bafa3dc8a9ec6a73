import { Refusal } from '../refusal';

/** The addresses under which this server answers: the one that it printed, and the public one where there is one. */
export function ownOrigins(env: NodeJS.ProcessEnv): URL[] {
	return [env.ORIGIN, env.VENTREL_ORIGIN].flatMap((origin) => (origin ? [new URL(origin)] : []));
}

/**
 * What stands before every route: another site, open in the same browser, can neither read nor do anything here. It may have a name of
 * its own lead to this machine, so that the name is looked at; and it may send a form or a script's call, so that whatever the
 * browser says of where a call comes from is looked at: of each that changes something, and of each of the interface. A call that says
 * nothing of it comes from no browser.
 * @returns why a request is turned away; null where it may come in
 */
export function refuseAtTheDoor(
	method: string,
	path: string,
	headers: Headers,
	env: NodeJS.ProcessEnv = process.env,
): Refusal | null {
	const own = ownOrigins(env);
	const here = own.at(-1)?.origin ?? 'the address that was printed at the start';
	const host = headers.get('host');
	if (host === null || !own.some((origin) => origin.host === host.toLowerCase()))
		return new Refusal(421, `Ventrel answers at ${here} only, not at “${(host ?? '').slice(0, 80)}”.`);
	// Links from anywhere lead to pages.
	if ((method === 'GET' || method === 'HEAD') && !path.startsWith('/api/')) return null;
	const from = headers.get('origin');
	const site = headers.get('sec-fetch-site');
	const foreign =
		(from !== null && !own.some(({ origin }) => origin === from.toLowerCase())) ||
		(site !== null && site !== 'same-origin' && site !== 'none');
	return foreign ? new Refusal(403, `Another site asks for this; Ventrel takes it from ${here} only.`) : null;
}
