<script lang="ts">
	import type { EChartsCoreOption, ECharts } from 'echarts/core';
	import { onMount } from 'svelte';
	import { type Palette, readPalette } from './palette';

	interface Props {
		/** Options for the theme's colours. */
		option: (palette: Palette) => EChartsCoreOption;
		/** Changes when the theme does. */
		theme: string;
		label: string;
		/** Parts of the drawing engine that only this chart has. */
		parts?: () => Promise<unknown>;
		/** Once, when the chart is there; for what a screen lays over it. */
		ready?: (chart: ECharts) => void;
		/** After each drawing, as at another size: how long it took, in milliseconds. */
		drawn?: (milliseconds: number) => void;
	}

	let { option, theme, label, parts, ready, drawn }: Props = $props();
	let home: HTMLDivElement;
	let chart: ECharts | undefined = $state.raw();

	let engine: typeof import('./engine') | undefined;
	/** Whether the engine did not come: nothing is drawn then. */
	let missing = $state(false);

	onMount(() => {
		let gone = false;
		const observer = new ResizeObserver(() => {
			const made = chart;
			if (made && (made.getWidth() !== home.clientWidth || made.getHeight() !== home.clientHeight))
				draw(made, () => made.resize());
		});
		Promise.all([import('./engine'), parts?.()]).then(
			([loaded]) => {
				if (gone) return;
				engine = loaded;
				chart = engine.init(home, null, { renderer: 'canvas' });
				ready?.(chart);
				observer.observe(home);
			},
			() => (missing = true),
		);
		return () => {
			gone = true;
			observer.disconnect();
			chart?.dispose();
		};
	});

	$effect(() => {
		const made = chart;
		if (!made || !theme) return;
		draw(made, () => made.setOption(option(readPalette(home)), { notMerge: true }));
	});

	function draw(made: ECharts, set: () => void) {
		const began = performance.now();
		set();
		// What was set is painted with the next frame unless asked for now.
		made.getZr().flush();
		const took = performance.now() - began;
		performance.mark('drawn', { detail: took });
		drawn?.(took);
	}

	/** The chart as a PNG data address, on paper. */
	export function png(): string {
		return chart!.getDataURL({ type: 'png', pixelRatio: 2, backgroundColor: readPalette(home).paper });
	}

	/** The chart as an SVG document: as it stands, or of another size, in other colours, with parts of its options put otherwise. */
	export function svg({
		width = home.clientWidth,
		height = home.clientHeight,
		palette = readPalette(home),
		put = {},
	}: { width?: number; height?: number; palette?: Palette; put?: EChartsCoreOption } = {}): string {
		return engine!.drawing({ ...option(palette), backgroundColor: palette.paper, ...put }, width, height);
	}
</script>

<div bind:this={home} class="h-full w-full" role="img" aria-label={label}>
	{#if missing}<p class="p-4 text-[13px] text-bad">
			The chart could not be loaded. Reload the page; nothing is lost.
		</p>{/if}
</div>
