<script lang="ts">
	import InsightBar from '$ui/components/InsightBar.svelte';

	let { data, children } = $props();
</script>

<section class="sheet p-5 pt-6">
	<InsightBar asked={data.asked} />
	{@render children()}
</section>
