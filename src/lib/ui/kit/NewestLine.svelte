<script lang="ts">
	import type { NewestSaid } from '$core/words/status';
	import { newestWords } from '$core/words/status';

	/** How the newest period of a frequency stands; each part leads to the items that it counts. */
	let { newest }: { newest: NewestSaid } = $props();

	const said = $derived(newestWords(newest));
	const address = (why: string | null) => (why === null ? '/items' : `/items?why=${why}`);
</script>

<span data-newest={newest.frequency}>
	<b class="font-semibold">{said.head}:</b>
	{#each said.parts as { text, reason }, i (text)}{#if reason}<a
				href={address(reason)}
				class="text-accent underline">{text}</a
			>{:else}{text}{/if}{i < said.parts.length - 1 ? ', ' : ''}{/each}
</span>
