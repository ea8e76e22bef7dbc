<script lang="ts">
	import PlanOffer from '$ui/components/PlanOffer.svelte';

	let { data } = $props();
</script>

<svelte:head><title>Plans · {data.site.name}</title></svelte:head>

<h1 class="mb-6">Plans</h1>
{#if data.offers.length === 0}
	<p class="sheet p-6 pt-7">Nothing is on sale at the moment.</p>
{:else}
	<div class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
		{#each data.offers as { plan, action } (plan.id)}<PlanOffer {plan} {action} />{/each}
	</div>
{/if}
