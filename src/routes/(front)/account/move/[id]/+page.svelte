<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import Price from '$ui/components/Price.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
	const title = $derived(words().say('move.title', { plan: data.held.name }));
	/** From the highest rung down: one looks up a ladder. */
	const rungs = $derived([...data.to].reverse());
	type To = (typeof data.to)[number];

	function isPossible({ answer }: To): boolean {
		return answer.kind !== 'refused';
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
	{#each rungs as to (to.priceId)}
		{@const { answer } = to}
		{#snippet day()}<Moment at={answer.kind === 'next' ? answer.at : 0} zone={data.site.zone} />{/snippet}
		{@const isHere = answer.kind === 'refused' && answer.why === 'same'}
		<li class="relative -ml-1 border-l-4 py-4 pl-6 {isHere ? 'border-moss' : 'border-transparent'}">
			<div class="flex flex-wrap items-start gap-x-6 gap-y-2">
				<div class="mr-auto">
					<h2 class="text-lg font-semibold">
						{to.plan}{to.price ? `, ${to.price}` : ''}
						{#if isHere}<span class="ml-2 text-base font-normal text-moss">{words().say('move.here')}</span
							>{/if}
					</h2>
					<p><Price terms={to.terms} /></p>
					<ul class="mt-1 text-quiet">
						{#each to.lines as line (line)}<li>{line}</li>{/each}
					</ul>
				</div>
				{#if isPossible(to)}
					<div class="grid gap-1 text-right">
						<a class="button-quiet justify-self-end" href="/account/move/{data.id}/{to.priceId}"
							>{words().say(answer.kind === 'now' ? 'move.to-now' : 'move.to-later', { plan: to.plan })}</a
						>
						<span class="text-sm text-quiet">
							{#if answer.kind === 'now'}{words().say(
									answer.asksMinor > 0 ? 'move.asks' : 'move.asks-nothing',
									{
										amount: words().money(answer.asksMinor, to.terms.currency)
									}
								)}
							{:else if answer.kind === 'next'}<Words of="move.from" things={{ day }} />{/if}
						</span>
					</div>
				{:else if answer.kind === 'refused' && !isHere}
					<p class="max-w-64 text-sm text-quiet">{words().say(`move.no-${answer.why}`)}</p>
				{/if}
			</div>
		</li>
	{/each}
</ol>
<p class="mt-4"><a href="/account">{words().say('account.back')}</a></p>
