<script lang="ts">
	import Choice from '../kit/Choice.svelte';
	import type { CandidateInput } from '$core/contract/candidate';
	import { methodOf } from '$core/methods/registry';
	import type { InnerInput } from '$core/methods/inner';
	import type { ItemState } from './item-state.svelte';

	let { desk, candidate }: { desk: ItemState; candidate: CandidateInput } = $props();

	const field = $derived(methodOf(candidate.method).fields.find(({ inner }) => inner)!);
	const inner = $derived(field.read(candidate) as InnerInput);

	/** Another inner method with its usual settings. */
	function choose(id: string) {
		const { fields, constants } = methodOf(id);
		desk.set(candidate.id, {
			inner: {
				method: id,
				...Object.fromEntries(fields.map(({ key, initial }) => [key, initial])),
				...(constants.length > 0 && {
					constants: Object.fromEntries(constants.map(({ key, fallback }) => [key, fallback])),
				}),
			},
		});
	}
</script>

<Choice
	label="Inner method"
	value={inner.method as string}
	of={field.inner!}
	names={(id) => methodOf(id).name}
	take={choose}
/>
