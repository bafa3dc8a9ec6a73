<script lang="ts">
	import { MARK_COLOUR, MARK_PATH } from '../../../charts/marks';
	import type { Mark } from '$core/series/layers';

	let { mark }: { mark: Mark } = $props();
	const { path, filled } = $derived(MARK_PATH[mark]);
</script>

<svg width="14" height="14" viewBox="-1 -1 12 12" aria-hidden="true" class="inline-block shrink-0">
	<path
		d={path}
		fill={filled ? `var(${MARK_COLOUR[mark]})` : 'none'}
		stroke="var({MARK_COLOUR[mark]})"
		stroke-width="1.5"
	/>
</svg>
