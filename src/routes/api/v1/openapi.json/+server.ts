import { version } from '../../../../../package.json';
import { answering } from '$lib/server/http/http';
import { openApi } from '$lib/wire/openapi';

export const GET = answering('GET /openapi.json', () => openApi(version) as { openapi: string });
