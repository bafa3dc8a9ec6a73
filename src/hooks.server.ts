import { userInfo } from 'node:os';
import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { closePool } from '$lib/server/database';
import { prepareWorkspace } from '$lib/server/demo';
import { log } from '$lib/server/log';
import { firstWorkspace } from '$lib/server/workspaces';
import { forPage } from '$lib/server/http';

/** Who changes things, until people sign in: VENTREL_USER, else the account that the server runs under. */
const ANALYST = process.env.VENTREL_USER ?? userInfo().username;

export const init: ServerInit = async () => {
	// Started by another process, the server ends with it, however that one ended.
	if (process.connected) process.once('disconnect', () => process.kill(process.pid, 'SIGTERM'));
	// By then every request is answered; what is still open (the channel to the parent) must not keep it alive.
	process.once('sveltekit:shutdown', () => void closePool().finally(() => process.exit(0)));
	await prepareWorkspace();
};

export const handle: Handle = async ({ event, resolve }) => {
	const began = performance.now();
	// Health is answered without the database, so that a start can be told from a broken connection.
	if (
		event.route.id !== '/api/v1/health' &&
		event.route.id !== '/api/v1/evaluate' &&
		event.route.id !== null
	) {
		const workspace = await forPage(firstWorkspace);
		if (!workspace) throw new Error('The database has no workspace: the server did not finish starting.');
		event.locals.actor = { workspaceId: workspace.id, name: ANALYST };
		event.locals.workspaceName = workspace.name;
	}
	const response = await resolve(event);
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('x-frame-options', 'DENY');
	response.headers.set('referrer-policy', 'same-origin');
	const { method, url } = event.request;
	log.info({ method, url, status: response.status, milliseconds: performance.now() - began }, 'answered');
	return response;
};

export const handleError: HandleServerError = ({ error, event, status, message }) => {
	if (status === 404) return { message: 'There is no page at this address.' };
	log.error({ url: event.request.url, error: error instanceof Error ? error.stack : String(error) }, message);
	return { message: 'Something went wrong on our side. Nothing was stored; the log says more.' };
};
