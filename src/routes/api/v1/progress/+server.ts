import { route } from '$lib/server/http/http';
import { answerProgress } from '$lib/server/sweeps/progress';

export const GET = route('GET /progress', ({ locals }) => answerProgress(locals.actor));
