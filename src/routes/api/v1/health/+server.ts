import { answering } from '$lib/server/http/http';

export const GET = answering('GET /health', () => ({ process: process.pid }));
