<script lang="ts">
	import Invited from '$lib/ui/access/Invited.svelte';
</script>

<Invited />
