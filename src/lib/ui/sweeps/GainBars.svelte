<script lang="ts">
	import type { SweepSums } from '../../wire/sweeps';
	import { figure } from '../base/format';

	/** How many items gain how much, those that clearly do filled. */
	let { gains }: { gains: SweepSums['gains'] } = $props();

	const STEP = 0.05;
	const END = 0.5;
	const WIDTH = 460;
	const HEIGHT = 96;
	const BASE = 78;
	const bins = $derived(
		Array.from({ length: Math.round((2 * END) / STEP) }, (_, i) => {
			const from = -END + i * STEP;
			const found = gains.find((each) => Math.abs(each.from - from) < STEP / 2);
			return { from, items: found?.items ?? 0, clear: found?.clear ?? 0 };
		}),
	);
	const most = $derived(Math.max(1, ...bins.map(({ items }) => items)));
	const width = (WIDTH * STEP) / (2 * END);
	const tall = (count: number) => ((BASE - 12) * count) / most;
	const percent = (share: number) => `${figure(100 * share, 0)} %`;
	const ends = (from: number) =>
		from <= -END + 1e-9
			? `${percent(-END + STEP)} or less`
			: from >= END - STEP - 1e-9
				? `${percent(END - STEP)} or more`
				: `${percent(from)} to ${percent(from + STEP)}`;
	const words = $derived(
		bins
			.filter(({ items }) => items > 0)
			.map(({ from, items, clear }) => `${ends(from)}: ${items}, ${clear} clearly`)
			.join('; '),
	);
</script>

<figure class="m-0">
	<svg
		width={WIDTH}
		height={HEIGHT}
		role="img"
		aria-label="How much smaller errors are, item by item: {words}"
		class="block"
	>
		{#each bins as { from, items, clear }, i (i)}
			<g>
				<title>Errors {ends(from)} smaller: {items} items, {clear} clearly</title>
				<rect x={i * width} y="0" {width} height={BASE} fill="transparent" />
				<rect
					x={i * width + 2}
					y={BASE - tall(items)}
					width={width - 4}
					height={tall(items)}
					fill="var(--edge)"
					opacity="0.55"
				/>
				<rect
					x={i * width + 2}
					y={BASE - tall(clear)}
					width={width - 4}
					height={tall(clear)}
					fill="var(--accent)"
				/>
			</g>
		{/each}
		<line x1="0" x2={WIDTH} y1={BASE + 0.5} y2={BASE + 0.5} stroke="var(--ink-2)" />
		<line x1={WIDTH / 2} x2={WIDTH / 2} y1="2" y2={BASE + 4} stroke="var(--ink-2)" stroke-dasharray="2 3" />
		<text x="0" y={HEIGHT - 3} font-size="12" fill="var(--ink-2)">{percent(END)} larger error</text>
		<text x={WIDTH / 2} y={HEIGHT - 3} font-size="12" text-anchor="middle" fill="var(--ink-2)">the same</text>
		<text x={WIDTH} y={HEIGHT - 3} font-size="12" text-anchor="end" fill="var(--ink-2)"
			>{percent(END)} smaller error</text
		>
		<text x="0" y="11" font-size="12" fill="var(--ink-2)"
			>{figure(most, 0)} {most === 1 ? 'item' : 'items'}</text
		>
	</svg>
</figure>
