import type { PageServerLoad } from './$types';

export const load: PageServerLoad = () => ({ title: 'Bring in' });
