<script lang="ts">
	import { readTypedList } from '../../reading/typed';
	import { reader } from '../../reader.svelte';
	import { typedFigure } from '../base/format';
	import ReadInput, { type Props as ReadProps } from './ReadInput.svelte';

	/** Several figures in one field, blanks between them. */
	let { ...rest }: Omit<ReadProps<readonly number[]>, 'read' | 'show' | 'understood'> = $props();

	// Blanks stand between figures here, and so not inside them.
	const show = (values: readonly number[]) =>
		values.map((value) => typedFigure(value).replaceAll('\u202f', '')).join(' ');
	const understood = (values: readonly number[], text: string) =>
		text.trim() === show(values) ? null : `= ${show(values)}`;
</script>

<ReadInput {...rest} read={(text) => readTypedList(text, reader.mark)} {show} {understood} />
