<script lang="ts">
	import CurrencyChoice from '$ui/components/CurrencyChoice.svelte';
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
</script>

<svelte:head><title>{words().say('plan.title')} · {data.site.name}</title></svelte:head>

<h1 class="mb-6">{words().say('plan.title')}</h1>
<CurrencyChoice {...data.money} />
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
				zone={data.site.zone}
			/>{/each}
	</div>
{/if}
{#if data.coming.length > 0}
	<section class="mt-8" aria-labelledby="coming">
		<h2 id="coming" class="mb-2">{words().say('plan.coming')}</h2>
		<ul class="grid gap-1">
			{#each data.coming as { id, name, slug, from } (id)}
				{#snippet when()}<Moment at={from ?? 0} zone={data.site.zone} precise />{/snippet}
				<li>
					<a href="/plans/{slug}">{name}</a>,
					<Words of={from === null ? 'plan.coming-full' : 'plan.coming-from'} things={{ when }} />
				</li>
			{/each}
		</ul>
	</section>
{/if}
