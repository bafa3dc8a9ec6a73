<script lang="ts">
	import { BOUNDS } from '$core/bounds';
	import { LEAST_PASSWORD } from '../../wire/access';
	import TextInput from '../kit/TextInput.svelte';
	import Tick from '../kit/Tick.svelte';

	/** A password that is chosen, given twice. @prop same whether both are the same */
	let { password = $bindable(''), same = $bindable(false) }: { password?: string; same?: boolean } = $props();

	let again = $state('');
	let shown = $state(false);
	const short = $derived(password !== '' && [...password].length < LEAST_PASSWORD);
	$effect(() => {
		same = password === again && !short && password !== '';
	});
</script>

<label class="grid gap-1"
	><span
		>New password <span class="text-ink-2"
			>at least {LEAST_PASSWORD} characters; several words make a good one</span
		></span
	>
	<TextInput
		type={shown ? 'text' : 'password'}
		bind:value={password}
		autocomplete="new-password"
		maxlength={BOUNDS.password}
		aria-invalid={short}
		required
		data-new-password
	/></label
>
<label class="grid gap-1"
	>The same again <TextInput
		type={shown ? 'text' : 'password'}
		bind:value={again}
		autocomplete="new-password"
		maxlength={BOUNDS.password}
		aria-invalid={again !== '' && again !== password}
		required
		data-new-password-again
	/></label
>
<label class="flex items-center gap-2 text-[13px]"
	><Tick checked={shown} take={(checked) => (shown = checked)} /> Show what is typed</label
>
