<script lang="ts">
	import { signed } from './format';

	interface Props {
		/** Tracking signal; null while there is none. */
		signal: number | null;
		limit?: number;
	}

	let { signal, limit = 4 }: Props = $props();
	const WIDTH = 64;
	/** The limits stand at a fifth and four fifths, so that a signal outside still has room to be seen. */
	const x = $derived(
		signal === null ? null : WIDTH / 2 + Math.max(-1, Math.min(1, (signal / limit) * 0.6)) * (WIDTH / 2 - 4),
	);
	const out = $derived(signal !== null && Math.abs(signal) > limit);
</script>

<span class="inline-flex items-center justify-end gap-2 whitespace-nowrap">
	<span class="figures {out ? 'font-semibold text-bad' : ''}">{signed(signal, 1)}</span>
	<svg
		width={WIDTH}
		height="16"
		role="img"
		aria-label={out ? 'outside its limits' : 'inside its limits'}
		class="shrink-0"
	>
		<rect x="14" y="3" width="36" height="10" fill="var(--wash)" />
		<line x1="14" x2="14" y1="2" y2="14" stroke="var(--edge)" />
		<line x1="50" x2="50" y1="2" y2="14" stroke="var(--edge)" />
		<line x1="32" x2="32" y1="5" y2="11" stroke="var(--rule)" />
		{#if x !== null}
			<path d="M{x} 1.5 L{x + 3.5} 8 L{x} 14.5 L{x - 3.5} 8 Z" fill={out ? 'var(--bad)' : 'var(--ink)'} />
		{/if}
	</svg>
</span>
