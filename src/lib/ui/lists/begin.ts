import { goto } from '$app/navigation';
import type * as v from 'valibot';
import type { NewSweepSchema } from '../../wire/sweeps';
import { call } from '../base/call';

/** Begins a sweep, and opens its page. */
export async function beginSweep(wanted: v.InferInput<typeof NewSweepSchema>): Promise<void> {
	const { id } = await call('POST /sweeps', {}, wanted);
	await goto(`/sweeps/${id}`);
}
