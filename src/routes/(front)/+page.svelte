<script lang="ts">
	import ItemGrid from '$ui/components/ItemGrid.svelte';
	import Notice from '$ui/components/Notice.svelte';
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
</script>

<svelte:head><title>{data.site.name}</title></svelte:head>

<h1 class="mb-6">{data.site.name}</h1>
{#if data.denial}
	<Notice
		denial={data.denial}
		title={data.site.name}
		member={data.viewer?.name ?? null}
		plans={data.offers}
		otherWays={data.otherWays}
		zone={data.site.zone}
		path={data.path}
	/>
{:else}
	<ItemGrid items={data.items} zone={data.site.zone} />
{/if}

{#if data.offers.length > 0}
	<h2 class="mt-10 mb-4">{words().say('plan.title')}</h2>
	<div class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
		{#each data.offers as { plan, action, opensAt } (plan.id)}<PlanOffer
				{plan}
				{action}
				{opensAt}
				zone={data.site.zone}
			/>{/each}
	</div>
{/if}
