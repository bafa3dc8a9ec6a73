/**
 * The program that serves: the built application behind a plain HTTP server, on the address that it is told. It is built apart
 * (`vite.work.config.ts`) and lies beside the application's own build.
 */
import { createServer, type RequestListener } from 'node:http';
import { compressed } from './compressed';

/** Milliseconds that requests under way are given when it is told to stop, and after which it ends whatever still runs. */
const GRACE = 1_500;
const LAST = 3_500;

// Heads that do not end are looked for as often as that.
const server = createServer({ connectionsCheckingInterval: 2_000 });
// Whoever says nothing of what is wanted is not waited for; a large file may take its time.
server.headersTimeout = 10_000;
server.requestTimeout = 3_600_000;
// Callers keep connections for their next question. One that is closed just as it comes loses it, so they last longer than a caller is busy.
server.keepAliveTimeout = 65_000;

let stopping = false;
function stop(): void {
	if (stopping) return;
	stopping = true;
	server.close();
	server.closeIdleConnections();
	// The application ends its threads and its connections to the database (`hooks.server.ts`) and then the process.
	process.emit('sveltekit:shutdown' as never, 'SIGTERM' as never);
	setTimeout(() => server.closeAllConnections(), GRACE).unref();
	setTimeout(() => process.exit(0), LAST);
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// Started by another process, the server ends with it, however that one ended.
if (process.connected) process.once('disconnect', stop);

// The application reads its settings and prepares its workspace while it is loaded.
const built = new URL('handler.js', import.meta.url);
const { handler } = (await import(/* @vite-ignore */ built.href)) as {
	handler: RequestListener;
};
const answer = compressed(handler);
server.on('request', (request, response) => {
	response.setHeader('x-content-type-options', 'nosniff');
	response.setHeader('cross-origin-resource-policy', 'same-origin');
	answer(request, response);
});
server.listen({ host: process.env.HOST ?? '127.0.0.1', port: Number(process.env.PORT ?? 4680) });
