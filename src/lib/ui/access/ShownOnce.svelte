<script lang="ts">
	import Button from '../kit/Button.svelte';

	/** A secret that is shown once. @prop says what it is for */
	let { says, text, done }: { says: string; text: string; done: () => void } = $props();

	let copied = $state(false);
	async function copy() {
		await navigator.clipboard.writeText(text);
		copied = true;
	}
</script>

<div class="mt-2 border-l-[3px] border-accent py-1 pl-3" role="status" data-shown-once>
	<p>{says} It is shown this once.</p>
	<p class="mt-1 flex items-baseline gap-4">
		<code class="min-w-0 break-all select-all">{text}</code>
		<Button look="offer" onclick={copy}>{copied ? 'copied' : 'copy'}</Button>
		<Button onclick={done}>done</Button>
	</p>
</div>
