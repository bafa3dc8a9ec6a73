<script lang="ts">
	import Notice from './Notice.svelte';
</script>

<!-- What is shown in place of a part of the page that did not come. -->
<Notice class="mx-4 my-3">This part could not be loaded. Reload the page; nothing is lost.</Notice>
