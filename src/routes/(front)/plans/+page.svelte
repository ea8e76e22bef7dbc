<script lang="ts">
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
</script>

<svelte:head><title>{words().say('plan.title')} · {data.site.name}</title></svelte:head>

<h1 class="mb-6">{words().say('plan.title')}</h1>
{#if data.code && data.offers.length > 0}
	<p class="sheet mb-5 max-w-prose p-4 pt-5">{words().say('plan.code', { code: data.code })}</p>
{/if}
{#if data.offers.length === 0}
	<p class="sheet p-6 pt-7">{words().say('plan.none')}</p>
{:else}
	<div class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
		{#each data.offers as { plan, action, included } (plan.id)}<PlanOffer
				{plan}
				{action}
				{included}
				code={data.code}
			/>{/each}
	</div>
{/if}
