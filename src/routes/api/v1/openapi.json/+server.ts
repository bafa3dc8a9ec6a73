import { version } from '../../../../../package.json';
import { answering } from '$lib/server/http/http';
import { openApi } from '$lib/wire/openapi';

/** Made when it is first asked for; it stays as it is. */
let described: { openapi: string } | null = null;

export const GET = answering(
	'GET /openapi.json',
	() => (described ??= openApi(version) as { openapi: string }),
);
