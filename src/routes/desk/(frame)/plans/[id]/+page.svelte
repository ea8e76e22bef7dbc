<script lang="ts">
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import HandOn from '$ui/components/HandOn.svelte';
	import EarlierPrices from '$ui/components/EarlierPrices.svelte';
	import PlanOpens from '$ui/components/PlanOpens.svelte';
	import PlanForm from '$ui/components/PlanForm.svelte';
	import { useWords } from '$ui/words';
	import { priceText } from '$words/price';
	import { ITEM_WORDS } from '$ui/wording/library';

	let { data, form } = $props();

	const words = useWords();

	/** What was answered to what it opens. */
	const opens = $derived(form as { opensProblem?: string; opensRehearsal?: RehearsalView } | null);
	const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;');
</script>

<svelte:head><title>{data.plan.name} · Plans · Desk</title></svelte:head>

<div class="grid items-start gap-5 @6xl:grid-cols-[1fr_22rem]">
	{#key data.plan.id}
		<PlanForm
			plan={data.plan}
			hasPrices={data.prices.length > 1}
			offlineName={data.offlineName}
			currencies={data.currencies}
			currency={data.site.currency}
			ladders={data.ladders}
			others={data.plans.filter(({ id }) => id !== data.plan.id)}
			zone={data.site.zone}
			revision={data.revision}
			theirs={(form && 'theirs' in form ? form.theirs : null) ?? null}
			rehearsal={(form && 'rehearsal' in form ? form.rehearsal : null) ?? null}
			errors={((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>}
			values={form && 'values' in form ? form.values : {}}
			saved={form && 'saved' in form ? form.saved : null}
		/>
	{/key}
	<div class="grid gap-5">
		<section class="sheet p-6" aria-labelledby="opens">
			<h2 id="opens">What it opens</h2>
			{#if data.may.includes('fences')}
				{#key data.plan.id}<PlanOpens
						planId={data.plan.id}
						planName={data.plan.name}
						isEverything={data.opensEverything}
						chosen={data.chosen}
						zone={data.site.zone}
						problem={opens?.opensProblem ?? null}
						rehearsal={opens?.opensRehearsal ?? null}
					/>{/key}
			{/if}
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="altogether">
			<h2 id="altogether">Altogether</h2>
			<p class="text-sm text-quiet">What its holders may open by any fence.</p>
			<ul class="mt-2 grid max-h-72 gap-1 overflow-y-auto">
				{#each data.opens as item (item.id)}
					<li>
						<a href="/desk/library/{item.id}">{item.title}</a>
						{#if item.state !== 'published'}<span class="text-sm text-gorse">{ITEM_WORDS[item.state]}</span
							>{/if}
					</li>
				{:else}
					<li class="font-medium text-gorse">Nothing yet: no fence has a crossing for it.</li>
				{/each}
			</ul>
			{#if data.opensCount + data.draftCount > data.opens.length}
				<p class="mt-2 text-sm text-quiet">
					The first {data.opens.length} of {data.opensCount + data.draftCount}.
				</p>
			{/if}
			{#if data.draftCount > 0}
				<p class="mt-2 text-sm text-gorse">
					{data.draftCount === 1 ? 'A draft is nobody’s' : `${data.draftCount} drafts are nobody’s`} until it is
					published: holders open it from then on.
				</p>
			{/if}
			<p class="mt-3 flex flex-wrap gap-2">
				<a class="button-quiet" href="/desk/fences/new?plan={data.plan.id}">Let it cross a new fence</a>
				<a class="button-quiet" href="/desk/releases?plan={data.plan.id}">Releases</a>
			</p>
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="prices">
			<h2 id="prices">Prices</h2>
			<p class="text-sm text-quiet">
				{data.prices.length === 1
					? 'It has one. Another one sells the same for another amount, in another rhythm, or in another currency.'
					: 'Buyers choose one of them at the checkout; the first is chosen until they do. Of several currencies they are shown one, the site’s first.'}
			</p>
			<ul class="mt-2 divide-y divide-line">
				{#each data.prices as price, n (price.id)}
					<li class="py-2">
						{#if n === 0}<span class="font-medium">{price.name || 'The first'}</span>{:else}<a
								class="font-medium"
								href="/desk/plans/{data.plan.id}/prices/{price.id}"
								>{price.name || 'A price without a name'}</a
							>{/if}
						<span class="block text-sm text-quiet"
							>{priceText(words(), price.terms)}{price.firstBuyers === null
								? ''
								: ` · ${Math.min(price.taken, price.firstBuyers)} of ${price.firstBuyers} places taken`}{price.isOnSale
								? ''
								: ' · not sold any more'}</span
						>
					</li>
				{/each}
			</ul>
			<p class="mt-3">
				<a class="button-quiet" href="/desk/plans/{data.plan.id}/prices/new">Another price</a>
			</p>
			<EarlierPrices earlier={data.earlier} {form} />
		</section>
		{#if data.plan.isOnSale && data.may.includes('members')}
			<section class="sheet p-5 pt-6" aria-labelledby="practise">
				<h2 id="practise">Practise buying it</h2>
				<p class="mt-1">
					As somebody you make up, with a test card: in no figure of yours, and no mail is sent.
				</p>
				<p class="mt-3">
					<a class="button-quiet" href="/desk/practice?begin=/plans/{data.plan.slug}">To the practice book</a>
				</p>
			</section>
		{/if}
		<section class="sheet p-5 pt-6" aria-labelledby="extras">
			<h2 id="extras">Offered after it</h2>
			<p class="mt-1">
				{data.extras.length === 0
					? 'Nothing. Whoever has just paid could take something else with one press.'
					: data.extras.join(', ')}
			</p>
			<p class="mt-3">
				<a class="button-quiet" href="/desk/plans/{data.plan.id}/extras">What is offered after it</a>
			</p>
		</section>
		{#if data.plan.hasWaitingList || data.waiting > 0}
			<section class="sheet p-5 pt-6" aria-labelledby="waiting">
				<h2 id="waiting">Waiting list</h2>
				<p class="mt-1">
					{data.waiting === 0
						? 'Nobody waits for it.'
						: `${data.waiting === 1 ? 'One person waits' : `${data.waiting} people wait`}: told by mail as soon as it can be bought.`}
				</p>
				{#if data.waiting > 0 && data.may.includes('members')}<p class="mt-3">
						<a class="button-quiet" href="/desk/members/waiting/{data.plan.id}">Who waits</a>
					</p>{/if}
			</section>
		{/if}
		<section class="sheet p-5 pt-6" aria-labelledby="sell">
			<div class="flex flex-wrap items-baseline justify-between gap-3">
				<h2 id="sell">Sell it</h2>
				<HandOn
					what={data.plan.name}
					lines={[
						{ label: 'Address', text: data.planUrl, hint: 'What one gets, and what it costs.' },
						{ label: 'Straight to the checkout', text: data.checkoutUrl, hint: 'Behind any button.' },
						...(data.plan.sellsAsGift
							? [{ label: 'To give it to somebody', text: `${data.checkoutUrl}?gift` }]
							: []),
						{
							label: 'A button for another site',
							text: `<a href="${data.checkoutUrl}">Buy ${escaped(data.plan.name)}</a>`
						}
					]}
					finds={data.plan.isOnSale && data.plan.soldTo
						? `that it is for those who may open “${data.plan.soldTo.title}”, without a word of what it is.`
						: data.plan.isOnSale
							? `what one gets, the price and the way to pay${data.plan.isPublic ? '' : '. No page leads there: only whoever has the address'}.`
							: 'that it is not on sale.'}
				/>
			</div>
			<p class="mt-2">Put this address behind any button:</p>
			<p class="mt-1"><a href={data.checkoutUrl} class="break-all">{data.checkoutUrl}</a></p>
			<p class="mt-2 text-sm text-quiet">
				The price is version {data.priceVersion}. A change makes a new one.
			</p>
		</section>
	</div>
</div>
