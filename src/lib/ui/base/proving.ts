/**
 * What is asked of whoever looks at a page when a call comes back for it: to sign in again where the session has ended, or to give the
 * password again. The call waits meanwhile and is made again then, so that nothing on the page is lost.
 */
export type Proof = 'sign in' | 'password';

let ask: ((what: Proof) => Promise<boolean>) | null = null;
let asked: { what: Proof; given: Promise<boolean> } | null = null;

/** Says who asks; the frame around every page does. @returns takes it back */
export function onProofWanted(how: (what: Proof) => Promise<boolean>): () => void {
	ask = how;
	return () => (ask = null);
}

/** Asks for a proof, once for all calls that wait for it. @returns whether it was given */
export function proofGiven(what: Proof): Promise<boolean> {
	if (!ask) return Promise.resolve(false);
	if (asked?.what === what) return asked.given;
	const given = ask(what).finally(() => (asked = null));
	asked = { what, given };
	return given;
}

/** Which proof an answer comes back for; null for none. */
export const proofFor = (status: number, body: { again?: true } | null): Proof | null =>
	status === 401 ? 'sign in' : status === 403 && body?.again ? 'password' : null;
