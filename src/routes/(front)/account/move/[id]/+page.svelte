<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import Price from '$ui/components/Price.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
	const title = $derived(words().say('move.title', { plan: data.held.name }));
	type To = (typeof data.to)[number];
	/** From the highest rung down: one looks up a ladder. */
	const rungs = $derived(
		[...new Set(data.to.map(({ plan }) => plan))]
			.map((plan) => data.to.filter((to) => to.plan === plan))
			.map((prices) => ({ plan: prices[0]?.plan ?? '', lines: prices[0]?.lines ?? [], prices }))
			.reverse()
	);

	function isHere({ answer }: To): boolean {
		return answer.kind === 'refused' && answer.why === 'same';
	}
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

<h1>{title}</h1>
{#if data.later}
	{@const { at, name, terms } = data.later}
	{#snippet day()}<Moment {at} zone={data.site.zone} />{/snippet}
	<form
		method="post"
		action="?/stay"
		class="mt-4 flex flex-wrap items-center gap-x-4 gap-y-2 border-l-4 border-moss bg-moss-wash px-4 py-3"
	>
		<p class="mr-auto">
			<Words of="move.later" values={{ plan: name }} things={{ day }} /> (<Price {terms} />)
		</p>
		<button class="button-quiet">{words().say('move.stay', { plan: data.held.name })}</button>
	</form>
{/if}
<ol class="mt-6 grid max-w-3xl border-l-4 border-line">
	{#each rungs as { plan, lines, prices } (plan)}
		<li class="-ml-1 border-l-4 py-4 pl-6 {prices.some(isHere) ? 'border-moss' : 'border-transparent'}">
			<h2 class="text-lg font-semibold">{plan}</h2>
			<ul class="text-quiet">
				{#each lines as line (line)}<li>{line}</li>{/each}
			</ul>
			<ul class="mt-1 grid gap-2">
				{#each prices as to (to.priceId)}
					{@const { answer } = to}
					{#snippet day()}<Moment
							at={answer.kind === 'next' ? answer.at : 0}
							zone={data.site.zone}
						/>{/snippet}
					<li class="flex flex-wrap items-center gap-x-6 gap-y-1">
						<span class="mr-auto">
							{#if to.price}<span class="block text-sm text-quiet">{to.price}</span>{/if}
							<Price terms={to.terms} />
							{#if isHere(to)}<span class="ml-2 text-moss">{words().say('move.here')}</span>{/if}
						</span>
						{#if answer.kind !== 'refused'}
							<span class="text-sm text-quiet">
								{#if answer.kind === 'now'}{words().say(
										answer.asksMinor > 0 ? 'move.asks' : 'move.asks-nothing',
										{
											amount: words().money(answer.asksMinor, to.terms.currency)
										}
									)}
								{:else if answer.kind === 'lower'}{words().say('move.lower')}
								{:else}<Words of="move.from" things={{ day }} />{/if}
							</span>
							<a
								class="button-quiet"
								href="/account/move/{data.id}/{to.priceId}"
								aria-label={words().say('move.to', { plan: to.price ? `${plan}, ${to.price}` : plan })}
								>{words().say('move.to', { plan })}</a
							>
						{:else if !isHere(to)}
							<span class="max-w-72 text-sm text-quiet">{words().say(`move.no-${answer.why}`)}</span>
						{/if}
					</li>
				{/each}
			</ul>
		</li>
	{/each}
</ol>
<p class="mt-4"><a href="/account">{words().say('account.back')}</a></p>
