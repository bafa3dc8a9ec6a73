import type { Caller } from '$lib/server/access/caller';
import type { Actor } from '$lib/server/database/workspaces';

declare global {
	namespace App {
		interface Locals {
			/** Who asks; null where nobody is signed in. */
			caller: Caller | null;
			/** Who acts: the caller's. */
			actor: Actor;
			/** Where the request comes from. */
			address: string;
			workspaceName: string;
			/** Ends when the caller hangs up before there is an answer. */
			hangUp: AbortSignal;
		}
		interface PageData {
			me?: import('$lib/wire/access').Me | null;
			title?: string;
		}
		interface Error {
			message: string;
		}
		interface Platform {
			req: import('node:http').IncomingMessage;
		}
	}
}
