<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import Price from '$ui/components/Price.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
	const { to } = $derived(data);
	const { answer } = $derived(to);
	const money = (minor: number) => words().money(minor, to.terms.currency);
	const name = $derived(to.price ? `${to.plan}, ${to.price}` : to.plan);
	const title = $derived(
		data.seats === null
			? words().say('move.to-title', { plan: name })
			: words().say('seats.more-title', { plan: name, count: data.seats })
	);
	let payBy = $derived(data.chosen);
	let isSent = $state(false);
	/** That comes on top of what is left of the price, or is taken out of it. */
	const taxMinor = $derived(
		answer.kind === 'now' ? answer.asksMinor - (answer.priceMinor - answer.creditMinor) : 0
	);
	const asks = $derived(answer.kind === 'now' ? answer.asksMinor : 0);
	const button = $derived.by(() => {
		if (answer.kind === 'next') return words().say('move.do-later', { plan: to.plan });
		if (asks === 0) return words().say('move.do-now', { plan: to.plan });
		return words().say(payBy === 'offline' ? 'checkout.order' : 'checkout.pay', { amount: money(asks) });
	});
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

{#snippet day()}<Moment
		at={(answer.kind === 'now' ? answer.next?.at : answer.at) ?? 0}
		zone={data.site.zone}
	/>{/snippet}
{#snippet nextAmount()}<span class="price font-semibold"
		>{money(answer.kind === 'now' ? (answer.next?.amountMinor ?? 0) : answer.amountMinor)}</span
	>{/snippet}

<div class="sheet max-w-xl p-6 pt-7">
	<h1>{title}</h1>
	<p class="mt-1"><Price terms={to.terms} /></p>
	{#if form?.problem}<p role="alert" class="mt-3 font-medium text-brick">
			{words().maybe(form.problem)}
		</p>{/if}
	{#if answer.kind === 'now'}
		<table class="mt-5 w-full border-y border-line">
			<tbody>
				<tr>
					<td class="py-2">{name}</td>
					<td class="price py-2 text-right whitespace-nowrap">{money(answer.priceMinor)}</td>
				</tr>
				{#if answer.creditMinor > 0}
					<tr>
						<td class="py-2">
							{words().say(answer.rest ? 'move.not-used' : 'move.paid-before', { plan: data.held })}
						</td>
						<td class="price py-2 text-right whitespace-nowrap">−{money(answer.creditMinor)}</td>
					</tr>
				{/if}
				{#if taxMinor !== 0}
					<tr>
						<td class="py-2">{words().say(taxMinor > 0 ? 'move.tax' : 'move.tax-out')}</td>
						<td class="price py-2 text-right whitespace-nowrap"
							>{taxMinor < 0 ? '−' : ''}{money(Math.abs(taxMinor))}</td
						>
					</tr>
				{/if}
				<tr class="border-t border-line font-semibold">
					<td class="py-2">{words().say('move.now')}</td>
					<td class="price py-2 text-right whitespace-nowrap">{money(answer.asksMinor)}</td>
				</tr>
			</tbody>
		</table>
		{#if answer.next}<p class="mt-3">
				<Words of="checkout.next" things={{ amount: nextAmount, day }} />
			</p>{/if}
		<p class="mt-3">
			{data.seats === null
				? words().say('move.swaps', { plan: to.plan, held: data.held })
				: words().say('seats.more-swaps', { count: data.seats })}
		</p>
	{:else}
		<p class="mt-4">
			<Words
				of={answer.kind === 'lower' ? 'move.at-once' : 'move.at-next'}
				values={{ plan: to.plan, held: data.held }}
				things={{ day, amount: nextAmount }}
			/>
		</p>
	{/if}
	<form method="post" class="mt-5 grid gap-4" onsubmit={() => (isSent = true)}>
		<input type="hidden" name="at" value={data.seen.at} />
		<input type="hidden" name="revision" value={data.seen.revision} />
		<input type="hidden" name="asks" value={answer.kind === 'next' ? '' : asks} />
		{#if asks > 0 && data.ways.length > 1}
			<fieldset class="grid gap-2">
				<legend class="question mb-2">{words().say('checkout.which-way')}</legend>
				{#each data.ways as { way, name: called } (way)}
					<label class="flex gap-3">
						<input type="radio" name="payBy" value={way} bind:group={payBy} />
						<span>{called || words().say(`checkout.way-${way}`)}</span>
					</label>
				{/each}
			</fieldset>
		{/if}
		<p class="flex flex-wrap gap-3">
			<button class="button-main" aria-disabled={isSent}>{button}</button>
			<a
				class="button-quiet"
				href={data.seats === null ? `/account/move/${data.id}` : `/account/seats/${data.id}`}
				>{words().say('pause.leave')}</a
			>
		</p>
	</form>
</div>
