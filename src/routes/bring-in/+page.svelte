<script lang="ts">
	import BringIn from '$lib/ui/bring-in/BringIn.svelte';
</script>

<BringIn />
