<script lang="ts" generics="T">
	import type { HTMLInputAttributes } from 'svelte/elements';
	import type { Typed } from '../../reading/typed';

	export interface Props<T> extends Omit<HTMLInputAttributes, 'value' | 'onblur' | 'oninput'> {
		/** What it sets, for readers who do not see it. */
		label: string;
		value: T | null;
		/** A value as it stands in the field. */
		show: (value: T) => string;
		read: (text: string) => Typed<T>;
		/** What was understood, where that is not plain from what was typed; null where it is. */
		understood?: (value: T, text: string) => string | null;
		/** Whether each readable state is taken as it is typed. */
		live?: boolean;
		/** Whether it may be emptied; `take` then gets null. */
		empties?: boolean;
		/** Takes a value; a text that it returns is why it cannot be taken. */
		take: (value: T | null) => unknown;
		/** Keys of the place it stands in, before its own; `commit` takes what was typed and says whether it was taken. */
		keys?: (event: KeyboardEvent, commit: () => boolean) => void;
		/** It was left, with its value taken or given up. */
		done?: () => void;
	}

	let {
		label,
		value,
		show,
		read,
		understood,
		live = false,
		empties = false,
		take,
		keys,
		done,
		class: classes = '',
		...rest
	}: Props<T> = $props();

	let field: HTMLInputElement;
	/** What stood there before somebody began to type. */
	const status = $derived(value === null ? '' : show(value));
	// That, until it is typed over.
	let text = $derived(status);
	let refused = $state<string | null>(null);
	let typing = $state(false);
	const hint = $derived.by(() => {
		if (!typing) return null;
		const answer = read(text);
		return 'value' in answer && answer.value !== null ? (understood?.(answer.value, text) ?? null) : null;
	});
	/** Below the field, whatever scrolls around it. */
	let place = $state({ left: 0, top: 0 });
	const placed = () => {
		const { left, bottom } = field.getBoundingClientRect();
		place = { left: Math.max(4, Math.min(left, innerWidth - 300)), top: bottom + 2 };
	};

	/** Takes what was typed. @returns whether it was taken, or nothing was typed */
	function commit(): boolean {
		typing = false;
		if (text.trim() === status.trim()) {
			refused = null;
			return true;
		}
		const answer = read(text);
		let why: unknown;
		if ('refused' in answer) why = answer.refused;
		else if (answer.value === null && !empties) why = 'Type a figure here; Escape puts the one before back.';
		else why = take(answer.value);
		refused = typeof why === 'string' ? why : null;
		if (refused !== null) placed();
		// What was typed may say the same in other words.
		else text = status;
		return refused === null;
	}

	function key(event: KeyboardEvent) {
		event.stopPropagation();
		keys?.(event, commit);
		if (event.defaultPrevented) return;
		if (event.key === 'Enter') {
			if (commit()) done?.();
		} else if (event.key === 'Escape') {
			text = status;
			refused = null;
			typing = false;
			done?.();
		}
	}
	const id = $props.id();
</script>

<input
	{...rest}
	bind:this={field}
	bind:value={text}
	aria-label={label}
	aria-invalid={refused !== null}
	aria-describedby={refused !== null || hint !== null ? id : undefined}
	class="figures {classes} aria-invalid:text-bad"
	onkeydown={key}
	oninput={() => {
		typing = true;
		refused = null;
		placed();
		const answer = live ? read(text) : null;
		if (answer && 'value' in answer) take(answer.value);
	}}
	onchange={commit}
	onblur={() => {
		if (commit()) done?.();
	}}
/>
{#if refused !== null || hint !== null}
	<span
		{id}
		class="fixed z-40 max-w-72 border bg-panel px-2 py-1 text-left font-sans text-[12px] leading-[1.35] whitespace-normal {refused !==
		null
			? 'border-bad text-bad'
			: 'border-edge text-ink'}"
		style:left="{place.left}px"
		style:top="{place.top}px"
		role={refused !== null ? 'alert' : 'status'}
		data-refused={refused !== null ? '' : undefined}
		data-understood={refused === null ? '' : undefined}>{refused ?? hint}</span
	>
{/if}
