import type { Actor } from '$lib/server/database/workspaces';

declare global {
	namespace App {
		interface Locals {
			actor: Actor;
			workspaceName: string;
			/** Ends when the caller hangs up before there is an answer. */
			hangUp: AbortSignal;
		}
		interface Error {
			message: string;
		}
		interface Platform {
			req: import('node:http').IncomingMessage;
		}
	}
}
