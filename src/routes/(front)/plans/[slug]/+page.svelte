<script lang="ts">
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import NotSold from '$ui/components/NotSold.svelte';
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
				<p><NotSold sold={data.sold} zone={data.site.zone} /></p>
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
