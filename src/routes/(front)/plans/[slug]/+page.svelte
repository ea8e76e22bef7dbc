<script lang="ts">
	import CurrencyChoice from '$ui/components/CurrencyChoice.svelte';
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import NotSold from '$ui/components/NotSold.svelte';
	import Price from '$ui/components/Price.svelte';
	import WaitingList from '$ui/components/WaitingList.svelte';
	import OpenedList from '$ui/components/OpenedList.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
	const HELD: ReadonlySet<string> = new Set(['plan.open', 'plan.yours']);
	const title = $derived(data.offer?.plan.name ?? words().say('plan.for-some-title'));
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

<h1 class="mb-6">{title}</h1>
{#if data.isForOthers}
	<div class="sheet max-w-xl p-6 pt-7">
		<p>
			{words().say('plan.for-some')}
			{#if !data.viewer}{words().say('plan.for-some-sign-in')}{/if}
		</p>
		{#if !data.viewer}<p class="mt-4">
				<a class="button-main" href="/sign-in?{new URLSearchParams({ next: data.next })}"
					>{words().say('sign-in.title')}</a
				>
			</p>{/if}
	</div>
{:else}
	{#if data.money}<CurrencyChoice {...data.money} />{/if}
	<div class="grid items-start gap-6 sm:grid-cols-2">
		{#if data.offer && (data.isOnSale || HELD.has(data.offer.action.kind))}
			<PlanOffer
				plan={data.offer.plan}
				action={data.offer.action}
				included={data.offer.included}
				zone={data.site.zone}
				code={data.code}
				givesTo={data.isOnSale && data.canBeGiven ? `/checkout/${data.offer.plan.slug}?gift` : null}
			/>
		{:else}
			<div class="sheet grid gap-4 p-6 pt-7">
				<p class="border-l-3 border-gorse bg-gorse-wash px-3 py-2">
					<NotSold sold={data.sold} zone={data.site.zone} />
				</p>
				{#if data.offer && data.sold.kind !== 'not'}
					<p><Price terms={data.offer.plan.terms} class="text-xl font-semibold" /></p>
					{#if data.offer.plan.lines.length > 0}
						<ul class="reading grid gap-1 text-base">
							{#each data.offer.plan.lines as line (line)}<li class="border-l-2 border-moss pl-3">
									{line}
								</li>{/each}
						</ul>
					{/if}
				{/if}
				{#if data.waiting}<WaitingList
						slug={data.slug}
						address={data.viewer?.email ?? null}
						waits={data.waiting.waits}
						{form}
					/>{/if}
			</div>
		{/if}
		<section>
			<h2 class="mb-2">{words().say('plan.what-it-opens')}</h2>
			<OpenedList items={data.items} none={words().say('plan.opens-nothing')} zone={data.site.zone} />
		</section>
	</div>
{/if}
