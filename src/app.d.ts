import type { Actor } from '$lib/server/workspaces';

declare global {
	namespace App {
		interface Locals {
			actor: Actor;
			workspaceName: string;
		}
		interface Error {
			message: string;
		}
	}
}
