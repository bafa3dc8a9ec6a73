<script lang="ts">
	import type { ECharts } from 'echarts/core';
	import { periodsInWords } from '$core/series/frequency';
	import { STRIP_MARGINS } from '../../charts/strip';
	import type { ItemState } from './state/item-state.svelte';

	interface Props {
		itemState: ItemState;
		plot: ECharts | null;
		/** First and last period on show. */
		frame: readonly [number, number];
		/** Where a 0-based position stands, in pixels; NaN before it is drawn. */
		xOf: (position: number) => number;
	}

	let { itemState, plot, frame, xOf }: Props = $props();

	const n = $derived(itemState.series.values.length);
	/** 0-based position of the last period that is fitted. */
	const cut = $derived(n - itemState.answers.holdout - 1);
	let dragging = $state(false);
	const x = $derived.by(() => {
		if (cut < frame[0] || cut > frame[1]) return null;
		const at = xOf(cut);
		return Number.isFinite(at) ? at : null;
	});

	function drag(event: PointerEvent) {
		if (!dragging || !plot) return;
		const { left } = plot.getDom().getBoundingClientRect();
		const [index] = plot.convertFromPixel({ gridIndex: 0 }, [event.clientX - left, 20]) as [number, number];
		itemState.answers.holdBack(n - 1 - Math.round(index));
	}

	function key(event: KeyboardEvent) {
		const moves: Record<string, number> = {
			ArrowLeft: itemState.answers.holdout + 1,
			ArrowRight: itemState.answers.holdout - 1,
			PageUp: itemState.answers.holdout + itemState.series.seasonLength,
			PageDown: itemState.answers.holdout - itemState.series.seasonLength,
			End: 0,
			Home: itemState.answers.mostHeld,
		};
		const to = moves[event.key];
		if (to === undefined) return;
		itemState.answers.holdBack(to);
		event.preventDefault();
		event.stopPropagation();
	}
</script>

<svelte:window onpointermove={drag} onpointerup={() => (dragging = false)} />

{#if x !== null && itemState.answers.mostHeld >= 1}
	<div
		class="absolute flex w-[13px] cursor-ew-resize touch-none justify-center"
		style:left="{x - 6.5}px"
		style:top="{STRIP_MARGINS.top}px"
		style:bottom="{STRIP_MARGINS.bottom}px"
		role="slider"
		tabindex="0"
		aria-label="Cut: periods after it are in the holdout"
		aria-valuemin="0"
		aria-valuemax={Math.floor(itemState.answers.mostHeld)}
		aria-valuenow={itemState.answers.holdout}
		aria-valuetext="{periodsInWords(itemState.series.frequency, itemState.answers.holdout)} in the holdout"
		title="Drag to set the holdout"
		onpointerdown={(event) => {
			dragging = true;
			event.preventDefault();
		}}
		onkeydown={key}
	>
		{#if itemState.answers.holdout > 0}<span class="w-px bg-accent"></span>{/if}
		<svg width="13" height="15" class="absolute bottom-[-8px]" aria-hidden="true">
			<path d="M6.5 0 L13 7 V15 H0 V7 Z" fill="var(--paper)" stroke="var(--accent)" />
			<path d="M4.5 8 V13 M8.5 8 V13" stroke="var(--accent)" />
		</svg>
	</div>
{/if}
