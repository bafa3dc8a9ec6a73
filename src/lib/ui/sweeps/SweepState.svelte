<script lang="ts">
	import type { Sweep } from '../../wire/sweeps';
	import type { WorkerState } from '../../wire/service';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { may } from '../base/access';
	import Button from '../kit/Button.svelte';
	import ProgressBar from '../kit/ProgressBar.svelte';
	import { idleWords, stateWords } from './words';

	/** How far a sweep is, whether anybody works at it, and stopping it. */
	interface Props {
		sweep: Sweep;
		put: (sweep: Sweep) => void;
		/** What works it off; null while that is not known. */
		worker: WorkerState | null;
	}
	let { sweep, put, worker }: Props = $props();

	const stopping = new Doing();

	const stop = () =>
		stopping.run(async () => put(await call('POST /sweeps/[id]/stopped', { id: String(sweep.id) })));
</script>

<span class="flex min-w-0 flex-wrap items-baseline gap-x-3" data-sweep-state={sweep.id}>
	{#if sweep.endedAt === null}
		<ProgressBar done={sweep.done} of={sweep.items} />
	{/if}
	<span class="text-ink-2">{stateWords(sweep)}</span>
	{#if sweep.endedAt === null && worker && !worker.alive}
		<span class="text-bad" role="status" title="Ventrel starts one by itself; npm run worker starts another"
			>{idleWords(worker)}</span
		>
	{/if}
	{#if sweep.endedAt === null && may('work')}
		<Button look="offer" disabled={stopping.busy} onclick={stop}>stop</Button>
	{/if}
	{#if stopping.refusal}<span class="text-bad" role="alert">{stopping.refusal}</span>{/if}
</span>
