import { type Handle, type HandleServerError, redirect, type ServerInit } from '@sveltejs/kit';
import { isPlainText } from '$core/schemas';
import { closePool, onceReached } from '$lib/server/database/database';
import { prepareWorkspace } from '$lib/server/demo/prepare';
import { signInIsOn, whyNot } from '$lib/server/access/caller';
import { recordRefusal } from '$lib/server/access/happened';
import { closeStreams } from '$lib/server/access/streams';
import { addressOf, callerOfRequest, declaredFor, isSecure } from '$lib/server/http/gate';
import { countRequest } from '$lib/server/http/metrics';
import { refuseAtTheDoor } from '$lib/server/http/origin-check';
import { answerRefusal, askerOf, forPage, OUR_FAULT, problemOf, refusalOf } from '$lib/server/http/http';
import { log } from '$lib/server/log';
import { Refusal } from '$lib/server/refusal';
import { PROBLEM } from '$lib/wire/service';
import { leaveTo, refreshStatus } from '$lib/server/status/status';
import { closeProgress } from '$lib/server/sweeps/progress';
import { isAnyAtWork } from '$lib/server/sweeps/job-worker';
import { FairQueue } from '$lib/server/threads/fair-queue';
import { closeThreads } from '$lib/server/threads/threads';
import { shareUsage } from '$lib/server/threads/usage';
import { servedWorkspace } from '$lib/server/database/workspaces';

/** What is answered without the database where nobody signs in, so that a start can be told from a broken connection. */
const WITHOUT_DATABASE = ['/api/v1/health', '/api/v1/ready', '/api/v1/evaluate'];
/** The same, whoever asks. */
const FOR_ANYONE = '/api/v1/health';

/** What of a browser no page asks for. */
const NOT_USED =
	'camera=(), microphone=(), geolocation=(), payment=(), usb=(), serial=(), midi=(), display-capture=()';

export const init: ServerInit = async () => {
	const endSharing = signInIsOn() ? shareUsage() : () => Promise.resolve();
	// What computes is ended whatever it does, and what was begun in the database is rolled back with its connection.
	process.once(
		'sveltekit:shutdown',
		() =>
			void Promise.allSettled([closeThreads(), closeProgress(), closeStreams(), endSharing()]).then(() =>
				closePool().finally(() => process.exit(0)),
			),
	);
	// What takes longer is left to workers, so that serving goes on undisturbed.
	leaveTo(isAnyAtWork);
	// A start on a busy machine, or beside a database that is starting as well, is late and does not fail.
	await onceReached(prepareWorkspace);
	// What a killed server left.
	void refreshStatus();
};

export const handle: Handle = async ({ event, resolve }) => {
	const began = performance.now();
	const { request, url, route, platform } = event;
	const hangUp = new AbortController();
	const closed = () => hangUp.abort();
	platform?.req.socket.once('close', closed);
	event.locals.hangUp = hangUp.signal;
	let response: Response;
	try {
		response = await answer();
	} finally {
		platform?.req.socket.off('close', closed);
	}
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('x-frame-options', 'DENY');
	response.headers.set('referrer-policy', 'same-origin');
	response.headers.set('cross-origin-resource-policy', 'same-origin');
	response.headers.set('cross-origin-opener-policy', 'same-origin');
	response.headers.set('permissions-policy', NOT_USED);
	if (isSecure(request.headers)) response.headers.set('strict-transport-security', 'max-age=31536000');
	if (!response.headers.has('cache-control')) response.headers.set('cache-control', 'no-store');
	countRequest(route.id, request.method, response.status, performance.now() - began);
	log.info(
		{
			method: request.method,
			// Not the address: what people search for is theirs.
			route: route.id,
			status: response.status,
			milliseconds: performance.now() - began,
		},
		'answered',
	);
	return response;

	async function answer(): Promise<Response> {
		event.locals.caller = null;
		event.locals.address = addressOf(request.headers, platform?.req.socket.remoteAddress ?? '');
		const turnedAway = refuseAtTheDoor(request.method, url.pathname, request.headers);
		if (turnedAway) return answerRefusal(turnedAway);
		const isCall = url.pathname.startsWith('/api/');
		if (!Object.values(event.params).every((part) => part === undefined || isPlainText(part)))
			return answerRefusal(new Refusal(404, 'This address holds characters that cannot be seen.'));
		const turnedBack = await whoComes(isCall);
		if (turnedBack) return turnedBack;
		if (isCall && route.id === null)
			return answerRefusal(
				new Refusal(
					404,
					`There is no ${request.method} ${url.pathname.slice(0, 200)} here; docs/http.md lists what there is.`,
				),
			);
		const resolved = await inTurn(event, resolve);
		// Whatever was changed, how its items stand is brought up to date in the same breath.
		if (isCall && request.method !== 'GET' && resolved.ok && event.locals.actor) await refreshStatus();
		return isCall ? inJson(resolved, request.method) : resolved;
	}

	/** Finds out who asks, and whether what is asked is for them. @returns why it is not; null where it is */
	async function whoComes(isCall: boolean): Promise<Response | null> {
		if (route.id === FOR_ANYONE || (!signInIsOn() && WITHOUT_DATABASE.includes(route.id ?? ''))) return null;
		const found = await forCaller(isCall, async () => {
			const workspace = await servedWorkspace();
			if (!workspace) throw new Error('The database has no workspace: the server did not finish starting.');
			event.locals.workspaceName = workspace.name;
			event.locals.caller = await callerOfRequest(event, workspace.id);
			if (event.locals.caller) event.locals.actor = event.locals.caller.actor;
			// What is not there is for nobody to know who may not look.
			return whyNot(event.locals.caller, declaredFor(route.id, request.method) ?? { who: 'look' });
		});
		if (found === null || found instanceof Response) return found;
		if (found.status === 401 && !isCall)
			redirect(303, `/sign-in?to=${encodeURIComponent(url.pathname + url.search)}`);
		if (found.status === 403 && !found.shown.again)
			await recordRefusal(event.locals.caller!, `${request.method} ${route.id}`).catch(() => undefined);
		if (isCall)
			return answerRefusal(
				found,
				found.status === 401 ? { 'www-authenticate': 'Bearer realm="Ventrel"' } : {},
			);
		return forPage(() => Promise.reject(found));
	}
};

/**
 * Reads take turns by caller: who asks for a thousand things does not keep another one waiting who asks for one. What computes has
 * turns of its own (`threads.ts`); changes go at once, for they are few.
 */
const READS_AT_ONCE = 6;
const MOST_READS_OF_ONE = 1_000;
const reads = new FairQueue(READS_AT_ONCE);

async function inTurn(
	event: Parameters<Handle>[0]['event'],
	resolve: Parameters<Handle>[0]['resolve'],
): Promise<Response> {
	if (event.request.method !== 'GET' || !event.locals.actor) return resolve(event);
	const { caller } = askerOf(event);
	if (reads.of(caller) >= MOST_READS_OF_ONE)
		return answerRefusal(
			new Refusal(503, `${MOST_READS_OF_ONE} questions of yours wait already. Wait for some of them.`, [], 2),
		);
	try {
		await reads.take(caller, event.locals.hangUp);
	} catch {
		return answerRefusal(new Refusal(499, 'The caller hung up.'));
	}
	try {
		return await resolve(event);
	} finally {
		reads.give();
	}
}

/** Calls are answered in JSON, pages with a page, whatever went wrong. */
async function forCaller<T>(isCall: boolean, work: () => Promise<T>): Promise<T | Response> {
	if (!isCall) return forPage(work);
	try {
		return await work();
	} catch (failure) {
		const refusal = refusalOf(failure);
		if (!refusal) throw failure;
		return answerRefusal(refusal);
	}
}

/** An answer to a call that the framework wrote by itself (a method that is not there, a defect), as JSON whatever was accepted. */
function inJson(response: Response, method: string): Response {
	const type = response.headers.get('content-type') ?? '';
	if (response.status < 400 || /^application\/(problem\+)?json/.test(type)) return response;
	if (response.status === 405) {
		const allowed = response.headers.get('allow') ?? '';
		return answerRefusal(new Refusal(405, `${method} is not taken here; ${allowed} is.`), { allow: allowed });
	}
	return Response.json(problemOf(response.status, OUR_FAULT), {
		status: response.status,
		headers: { 'content-type': PROBLEM },
	});
}

export const handleError: HandleServerError = ({ error, event, status, message }) => {
	if (status === 404) return { message: 'There is no page at this address.' };
	if (status === 400)
		return { message: 'This address cannot be read: a percent sign in it begins no character.' };
	log.error({ route: event.route.id, error: error instanceof Error ? error.stack : String(error) }, message);
	return { message: OUR_FAULT };
};
