<script lang="ts">
	import { untrack } from 'svelte';
	import type { Kept } from '../../wire/service';
	import { call } from '../base/call';
	import { Doing } from '../base/doing.svelte';
	import { figure, moment } from '../base/format';
	import Button from '../kit/Button.svelte';
	import FigureInput from '../kit/FigureInput.svelte';
	import Notice from '../kit/Notice.svelte';

	let { known }: { known: Kept } = $props();

	let kept = $state.raw(untrack(() => known));
	const doing = new Doing();
	const all = $derived(kept.sizes.reduce((sum, { bytes }) => sum + bytes, 0));
	const megabytes = (bytes: number) => `${figure(bytes / 1e6, bytes < 1e7 ? 1 : 0)} MB`;

	/** When what is over goes, by what it is. */
	const ENDS: Readonly<Record<string, string>> = {
		jobs: 'gone once they are done',
		'people and sessions': 'sessions go 30 days after they ended; what happened stays',
		'keys of programs': 'gone after 30 days',
	};

	const keep = (sweepDays: number) =>
		doing.run(async () => {
			kept = await call('PUT /kept', {}, { sweepDays });
		});

	/** A download cannot ask who signs in: a call before it does. */
	const take = () =>
		doing.run(async () => {
			kept = await call('GET /kept', {});
			location.assign('/api/v1/everything');
		});
</script>

<div class="w-full max-w-3xl px-4 py-3">
	<h1 class="text-lg font-semibold">Settings</h1>

	<section class="mt-4" aria-label="Backup">
		<h2 class="font-semibold">Backup</h2>
		{#if kept.backup}
			<p class="mt-1" data-backup={kept.backup.ok ? 'well' : 'failed'}>
				{kept.backup.ok ? 'The last one went well' : 'The last one failed'}: {moment(kept.backup.at)}, {kept
					.backup.words}
			</p>
		{:else}
			<p class="mt-1" data-backup="none">
				There is no nightly copy. Start Ventrel with <code>VENTREL_BACKUP=FOLDER</code>, or write one by
				<code>npm run backup FILE</code>.
			</p>
		{/if}
	</section>

	<section class="mt-6" aria-label="Take everything away">
		<h2 class="font-semibold">Take everything away</h2>
		<p class="mt-1">
			All figures, adjustments, forecasts and who did what, as CSV and JSON in one archive that any program
			reads. Passwords and keys are not in it. <code>npm run restore FILE.zip</code> brings it back into an empty
			Ventrel.
		</p>
		<Button class="mt-2" look="other" disabled={doing.busy} onclick={take}>Download the archive</Button>
	</section>

	<section class="mt-6" aria-label="What is kept">
		<h2 class="font-semibold">What is kept: {megabytes(all)}</h2>
		<table class="mt-2 w-full text-[13px]" data-kept>
			<thead class="text-ink-2">
				<tr class="border-b border-rule">
					<th class="py-1 text-left font-normal">what</th>
					<th class="figures py-1 font-normal">size</th>
					<th class="figures py-1 font-normal">rows, about</th>
					<th class="py-1 pl-6 text-left font-normal">until</th>
				</tr>
			</thead>
			<tbody>
				{#each kept.sizes as { what, bytes, held } (what)}
					<tr class="border-b border-rule">
						<td class="py-1">{what}</td>
						<td class="figures py-1">{megabytes(bytes)}</td>
						<td class="figures py-1">{figure(held, 0)}</td>
						<td class="py-1 pl-6 text-ink-2">
							{#if what === 'sweeps'}
								rows go
								<FigureInput
									label="Days that rows of a sweep are kept"
									value={kept.sweepDays}
									whole
									least={1}
									most={36_500}
									take={(days) => void keep(days!)}
									class="typed h-5 w-12"
								/>
								days after all was decided
							{:else if what === 'raw texts'}
								on record for good, byte for byte: {megabytes(kept.rawBytes)} of text, compressed
							{:else}{ENDS[what] ?? 'on record for good'}{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if doing.refusal}<Notice class="mt-2">{doing.refusal}</Notice>{/if}
	</section>
</div>
