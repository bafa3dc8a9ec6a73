<script lang="ts">
	import { DASHES } from '../../charts/palette';

	let { place, width = 26, bold = false }: { place: number; width?: number; bold?: boolean } = $props();
</script>

<svg {width} height="10" class="shrink-0" aria-hidden="true">
	<line
		x1="0"
		x2={width}
		y1="5"
		y2="5"
		stroke={`var(--candidate-${(place % 8) + 1})`}
		stroke-width={bold ? 3 : 2}
		stroke-dasharray={DASHES[place % 8]!.join(' ')}
	/>
</svg>
