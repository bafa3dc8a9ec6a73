<script lang="ts">
	import { page } from '$app/state';
	import type { PageData } from './$types';

	let { data }: { data: PageData } = $props();
	const base = $derived(`${page.url.origin}/api/v1`);
</script>

<!-- What stands between backticks is to be typed as it is. -->
{#snippet coded(text: string)}
	{#each text.split('`') as part, i (i)}{#if i % 2}<code>{part}</code>{:else}{part}{/if}{/each}
{/snippet}

<div class="mx-auto w-full max-w-4xl px-4 pt-3 pb-10">
	<h1 class="text-lg font-semibold">Interface for programs</h1>
	<p class="mt-1 text-ink-2">
		Calls take and give JSON below <code>{base}</code>.
		<a href="/api/v1/openapi.json" class="text-accent underline">The same as OpenAPI 3.1</a>
	</p>
	{#each data.calls as { method, path, does, who, params, refuses } (method + path)}
		<section class="mt-4 border-t border-rule pt-2" data-call="{method} {path}">
			<h2 class="font-semibold">
				<code>{method}</code> <code>{path}</code>
				<span class="ml-2 text-[13px] font-normal text-ink-2">for {who}</span>
			</h2>
			<p class="text-[13px]">{@render coded(`${does[0]!.toUpperCase()}${does.slice(1)}.`)}</p>
			{#if params.length > 0}
				<dl class="mt-1 grid grid-cols-[7rem_1fr] gap-x-4 text-[13px]">
					{#each params as { name, says, many } (name)}
						<dt><code>{name}</code>{many ? ' …' : ''}</dt>
						<dd class="text-ink-2">{@render coded(says)}</dd>
					{/each}
				</dl>
			{/if}
			{#if refuses.length > 0}<p class="mt-1 text-[13px] text-ink-2">
					Refused with {refuses.join(', ')}.
				</p>{/if}
		</section>
	{/each}
</div>
