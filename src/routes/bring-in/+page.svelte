<script lang="ts">
	import BringIn from '$lib/ui/BringIn.svelte';
</script>

<BringIn />
