<script lang="ts">
	import { page } from '$app/state';
	import Fold from '$ui/parts/Fold.svelte';
	import { oneStop } from '$ui/one-stop';
	import { useWords } from '$ui/words';
	import { priceText } from '$words/price';
	import { saleOf, type Sale } from '$core/billing/plan-access';
	import { formatMoment } from '$ui/wording/time';

	let { data, children } = $props();

	const words = useWords();
	/** What sells one thing of the Library. */
	const alone = $derived(data.plans.filter(({ isAlone }) => isAlone));

	const SALE_WORDS: Record<Sale, string> = {
		listed: '',
		'by-link': '· by its link alone',
		closed: '· closed to new buyers'
	};
</script>

{#snippet row(plan: (typeof data.plans)[number])}
	<li>
		<a
			href="/desk/plans/{plan.id}"
			aria-current={page.params.id === plan.id ? 'true' : undefined}
			class="block px-2 py-2 text-ink no-underline hover:bg-sunk {page.params.id === plan.id
				? 'border-l-3 border-moss bg-moss-wash'
				: 'border-l-3 border-transparent'}"
		>
			<span class="block font-medium">{plan.name}</span>
			<span class="flex flex-wrap justify-between gap-x-3 text-sm text-quiet">
				<span class={plan.opens === 0 ? 'text-gorse' : ''}>
					{plan.isAlone && plan.opens > 0
						? 'this alone'
						: plan.opens === 0
							? plan.drafts === 0
								? 'opens nothing yet'
								: `opens ${plan.drafts === 1 ? 'a draft' : `${plan.drafts} drafts`}, not published yet`
							: plan.opens === 1
								? 'opens 1 item'
								: `opens ${plan.opens} items`}
					{SALE_WORDS[saleOf(plan)]}
					{plan.elsewhere ? `· bought at ${plan.elsewhere}` : ''}
					{plan.isOnSale && plan.sellsFrom !== null
						? `· from ${formatMoment(plan.sellsFrom, data.site.zone)}`
						: ''}
					{plan.isOnSale && plan.sellsUntil !== null
						? `· until ${formatMoment(plan.sellsUntil, data.site.zone)}`
						: ''}
					{plan.firstDay !== null && plan.firstDay > data.now
						? `· begins ${formatMoment(plan.firstDay, data.site.zone)}`
						: ''}
					{plan.isGiven ? '· every new account has it' : ''}
					{plan.isForSome ? '· for those who may open something else' : ''}
				</span>
				<span class="text-ink"
					>{priceText(words(), plan.terms)}{plan.morePrices > 0 ? `, or ${plan.morePrices} more` : ''}</span
				>
			</span>
		</a>
	</li>
{/snippet}

<div class="grid grid-cols-1 items-start gap-5 @4xl:grid-cols-[24rem_1fr]">
	<section class="sheet p-4 pt-6" aria-labelledby="plans">
		<div class="flex items-baseline justify-between">
			<h1 id="plans" class="text-xl">Plans</h1>
			{#if data.areas.includes('/desk/codes')}<a href="/desk/codes">Codes</a>{/if}
			<a class="button-main" href="/desk/plans/new">New plan</a>
		</div>
		{#if data.plans.length > 1}<p class="mt-2 text-sm">
				<a href="/desk/plans/order">Put them in order</a>
			</p>{/if}
		<ul class="mt-3 divide-y divide-line" data-sveltekit-preload-data="hover" {@attach oneStop}>
			{#each data.plans.filter(({ isAlone }) => !isAlone) as plan (plan.id)}{@render row(plan)}
			{:else}
				<li class="py-3 text-quiet">
					A plan is what is sold: it opens whatever a fence lets its holders cross to.
				</li>
			{/each}
		</ul>
		{#if alone.length > 0}
			<Fold label="Sold alone: {alone.length}" isOpen={alone.some(({ id }) => id === page.params.id)}>
				<ul
					class="max-h-96 divide-y divide-line overflow-y-auto"
					data-sveltekit-preload-data="hover"
					{@attach oneStop}
				>
					{#each alone as plan (plan.id)}{@render row(plan)}{/each}
				</ul>
			</Fold>
		{/if}
	</section>
	<div class="min-w-0" id="editor" tabindex="-1">{@render children()}</div>
</div>
