import { clearDemo } from '$lib/server/demo/clear';
import { answering } from '$lib/server/http/http';

export const POST = answering('POST /demo/cleared', ({ locals }) => clearDemo(locals.actor));
