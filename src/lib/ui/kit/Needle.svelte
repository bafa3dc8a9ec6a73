<script lang="ts">
	import { isOutside, RUNNING_LIMIT, signalWords } from '$core/accuracy/tracking';
	import { inMark } from '../../reader.svelte';

	interface Props {
		/** Tracking signal; null while there is none. */
		signal: number | null;
		/** Whether the bias alarm is raised: a signal outside its limits does not by itself. */
		biased: boolean;
		limit?: number;
	}

	let { signal, biased, limit = RUNNING_LIMIT }: Props = $props();
	const WIDTH = 60;
	/** The limits stand at a fifth and four fifths, so that a signal outside still has room to be seen. */
	const x = $derived(
		signal === null ? null : WIDTH / 2 + Math.max(-1, Math.min(1, (signal / limit) * 0.6)) * (WIDTH / 2 - 4),
	);
	const out = $derived(isOutside(signal, limit));
</script>

<span class="inline-flex items-center justify-end gap-2 whitespace-nowrap">
	<span class="figures {biased ? 'font-semibold text-bad' : ''}">{inMark(signalWords(signal, limit))}</span>
	<svg
		width={WIDTH}
		height="16"
		role="img"
		aria-label="{out ? 'outside its limits' : 'inside its limits'}{biased ? ', biased' : ''}"
		class="shrink-0"
	>
		<rect x="13" y="3" width="34" height="10" fill="var(--wash)" />
		<line x1="13" x2="13" y1="2" y2="14" stroke="var(--edge)" />
		<line x1="47" x2="47" y1="2" y2="14" stroke="var(--edge)" />
		<line x1="30" x2="30" y1="5" y2="11" stroke="var(--rule)" />
		{#if x !== null}
			<path d="M{x} 1.5 L{x + 3.5} 8 L{x} 14.5 L{x - 3.5} 8 Z" fill={biased ? 'var(--bad)' : 'var(--ink)'} />
		{/if}
	</svg>
</span>
