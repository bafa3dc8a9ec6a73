<script lang="ts">
	import Alert from 'flowbite-svelte/Alert.svelte';
	import type { Snippet } from 'svelte';

	interface Props {
		/** A refusal, a doubt, or something to know. */
		tone?: 'bad' | 'warn' | 'plain';
		class?: string;
		children: Snippet;
		[data: `data-${string}`]: string | true;
	}
	/** What went wrong, or is to be known, said at once to who does not see it. */
	let { tone = 'bad', class: more = '', children, ...rest }: Props = $props();

	const LOOKS = {
		bad: 'border-bad text-bad dark:text-bad',
		warn: 'border-warn text-ink dark:text-ink',
		plain: 'border-edge text-ink dark:text-ink',
	};
</script>

<Alert
	{...rest}
	rounded={false}
	role={tone === 'bad' ? 'alert' : 'note'}
	class="border-l-[3px] bg-transparent py-0 pr-0 pl-2 text-[13px] dark:bg-transparent {LOOKS[tone]} {more}"
	>{@render children()}</Alert
>
