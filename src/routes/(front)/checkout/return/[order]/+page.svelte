<script lang="ts">
	let { data } = $props();
</script>

<svelte:head><title>Not paid yet · {data.site.name}</title></svelte:head>

<div class="sheet max-w-xl p-6 pt-7">
	<h1>Not paid yet</h1>
	<p class="mt-2">Nothing was charged and nothing is open yet.</p>
	<p class="mt-4 flex flex-wrap gap-3">
		{#if data.payUrl}<a class="button-main" href={data.payUrl}>Go on to pay</a>{/if}
		<a class="button-quiet" href="/checkout/{data.planSlug}">Back to the order</a>
	</p>
</div>
