import { json } from '@sveltejs/kit';

/** Which process answers here. */
export const GET = () => json({ process: process.pid });
