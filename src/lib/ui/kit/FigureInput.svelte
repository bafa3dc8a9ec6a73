<script lang="ts">
	import type { Scale } from '$core/numbers/figure';
	import { readTyped } from '../../reading/typed';
	import { reader } from '../../reader.svelte';
	import { inWords, scaled, typedFigure } from '../base/format';
	import ReadInput, { type Props as ReadProps } from './ReadInput.svelte';

	interface Props extends Omit<ReadProps<number>, 'read' | 'show' | 'understood' | 'min' | 'max'> {
		show?: (value: number) => string;
		/** The figure stands, and is typed, on this scale, which something around it names. */
		scale?: Scale;
		least?: number;
		most?: number;
		whole?: boolean;
	}

	let { show, scale, least = -Infinity, most = Infinity, whole = false, take, ...rest }: Props = $props();

	const factor = $derived(10 ** (scale?.power ?? 0));
	const shown = $derived(show ?? ((value: number) => (scale ? scaled(value, scale) : typedFigure(value))));

	function read(text: string) {
		const typed = readTyped(text, reader.mark);
		if ('refused' in typed || typed.value === null || factor === 1) return typed;
		return { value: Number((typed.value * factor).toPrecision(15)) };
	}

	/** Where a figure is written otherwise than it is understood, the latter is said. */
	function understood(value: number, text: string): string | null {
		const plain = /^[-−]?\d{1,3}([.,]\d{0,2})?$/.test(text.trim());
		if (factor !== 1) return `= ${inWords(value)}`;
		return plain || text.trim() === typedFigure(value) ? null : `= ${typedFigure(value)}`;
	}

	function takeChecked(value: number | null): unknown {
		if (value === null) return take(null);
		if (whole && !Number.isInteger(value)) return `A whole number belongs here, not ${typedFigure(value)}.`;
		if (value < least || value > most) return `${typedFigure(value)} is not ${limits()}.`;
		return take(value);
	}

	function limits(): string {
		if (most === Infinity) return `${typedFigure(least)} or more`;
		if (least === -Infinity) return `${typedFigure(most)} or less`;
		return `between ${typedFigure(least)} and ${typedFigure(most)}`;
	}
</script>

<ReadInput {...rest} {read} show={shown} {understood} take={takeChecked} inputmode="decimal" />
