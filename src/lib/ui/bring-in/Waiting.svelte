<script lang="ts">
	import { onMount } from 'svelte';
	import type { Waiting } from '../../wire/bring-in';
	import { may } from '../base/access';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { moment } from '../base/format';
	import Button from '../kit/Button.svelte';
	import Notice from '../kit/Notice.svelte';

	interface Props {
		/** Opens a file as if it had been dropped. */
		take: (file: File) => void;
		/** Whether what was opened has been brought in. */
		brought: boolean;
	}
	/** Files of the folder that is watched that somebody has to look at; nothing where there are none. */
	let { take, brought }: Props = $props();

	let waiting = $state.raw<readonly Waiting[]>([]);
	let opened = $state<number | null>(null);
	const doing = new Doing();

	onMount(() => void load());
	async function load() {
		waiting = await call('GET /waiting', {}).catch(() => []);
	}
	$effect(() => {
		if (brought && opened !== null) void decide(opened, true);
	});

	const look = ({ id, name }: Waiting) =>
		doing.run(async () => {
			const answer = await fetch(`/api/v1/waiting/${id}`);
			if (!answer.ok) return load();
			take(new File([await answer.arrayBuffer()], name));
			opened = id;
		});
	async function decide(id: number, taken: boolean) {
		opened = null;
		await doing.run(async () => {
			waiting = await call('POST /waiting/[id]/decided', { id: String(id) }, { taken });
		});
		if (doing.refusal !== null) await load();
	}
</script>

{#if waiting.length > 0}
	<section
		class="mt-3 border-b border-rule pb-2 text-[13px]"
		aria-label="Waiting from the inbox"
		data-waiting
	>
		<h2 class="font-semibold">Waiting from the inbox</h2>
		<ul class="mt-1 max-h-32 overflow-y-auto">
			{#each waiting as file (file.id)}
				<li class="flex flex-wrap items-baseline gap-x-4 py-0.5">
					<span class="font-medium">{file.name}</span>
					<span class="text-ink-2">{moment(file.at)}</span>
					<span class="min-w-0 flex-1 truncate" title={file.said.join(' ')}>{file.said[0] ?? ''}</span>
					<Button look="offer" disabled={doing.busy || opened === file.id} onclick={() => look(file)}
						>{opened === file.id ? 'opened below' : 'look at it'}</Button
					>
					{#if may('work')}<Button onclick={() => decide(file.id, false)}>put away</Button>{/if}
				</li>
			{/each}
		</ul>
		{#if doing.refusal}<Notice class="mt-1">{doing.refusal}</Notice>{/if}
	</section>
{/if}
