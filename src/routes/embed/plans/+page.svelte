<script lang="ts">
	import { provideWords } from '$ui/words';
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import { frontWords } from '$words/front';

	let { data } = $props();

	provideWords(() => data.site.language);
	const words = $derived(frontWords(data.site.language));
</script>

<svelte:head>
	<title>{words.say('plan.title')} · {data.site.name}</title>
	<base target="_top" />
</svelte:head>

<main class="p-4">
	<h1 class="sr-only">{words.say('plan.title')}</h1>
	{#if data.offers.length === 0}
		<p class="sheet p-6 pt-7">{words.say('plan.none')}</p>
	{:else}
		<div class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
			{#each data.offers as { plan, action, included } (plan.id)}<PlanOffer
					{plan}
					{action}
					{included}
					zone={data.site.zone}
				/>{/each}
		</div>
	{/if}
</main>
