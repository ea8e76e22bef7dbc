<script lang="ts">
	import type { BatchState } from '$core/access/batches';
	import { discountText } from '$words/price';
	import { useWords } from '$ui/words';
	import HandOn from '$ui/components/HandOn.svelte';

	let { data } = $props();

	const words = useWords();
	const isOff = $derived(data.batch.discount !== null);
	const link = $derived(`${data.origin}${data.path}`);

	const FINDS: Record<BatchState, string> = {
		running: 'a page with the code in its field, and a button that redeems it.',
		early: 'a page with the code in its field; whoever presses the button is told that it is too early.',
		'used-up': 'a page with the code in its field; whoever presses the button is told that it is used up.',
		over: 'a page with the code in its field; whoever presses the button is told that it is over.'
	};
	const OFF_FINDS: Record<BatchState, string> = {
		running: 'what is offered; where they buy, the code stands in its field and is taken off.',
		early: 'what is offered; where they buy, they are told that the code does not count yet.',
		'used-up': 'what is offered; where they buy, they are told that the code is used up.',
		over: 'what is offered; where they buy, they are told that the code is over.'
	};
</script>

<svelte:head><title>{data.batch.name} · Codes · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/codes">All codes</a></p>
<section class="sheet max-w-3xl p-6 pt-7">
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h1>{data.batch.name}</h1>
		<span class="flex flex-wrap gap-2">
			<HandOn
				what={data.batch.name}
				lines={[
					{
						label: 'Address',
						text: link,
						hint: isOff
							? 'A code is typed where one buys, with or without its hyphens.'
							: 'A code is typed there, with or without its hyphens.'
					},
					{
						label: 'A link that carries a code',
						text: `${link}?code=${data.codes[0]?.code}`,
						hint: isOff
							? 'Opening it uses nothing up; buying does.'
							: 'Opening it uses nothing up; pressing the button on its page does.'
					}
				]}
				finds={(isOff ? OFF_FINDS : FINDS)[data.state]}
			/>
			<a class="button-quiet" href="/desk/codes/{data.batch.id}/codes.csv" download>As a table (CSV)</a>
		</span>
	</div>
	{#if data.batch.discount}
		<p class="mt-2">
			{discountText(words(), data.batch.discount)}{data.offPlans.length > 0
				? `, for ${data.offPlans.join(', ')}`
				: ', for every plan'}{data.batch.isOncePerBuyer ? '; once for each buyer' : ''}.
		</p>
	{/if}
	<table class="mt-4 w-full">
		<thead
			><tr class="border-b border-line text-left text-sm text-quiet"
				><th class="py-1.5 font-medium">Code</th><th class="py-1.5 text-right font-medium">Used</th></tr
			></thead
		>
		<tbody>
			{#each data.codes as { code, uses } (code)}<tr class="border-b border-line"
					><td class="py-1.5 font-mono">{code}</td><td class="py-1.5 text-right">{uses}</td></tr
				>{/each}
		</tbody>
	</table>
	{#if data.total > data.codes.length}<p class="mt-2 text-sm text-quiet">
			{data.codes.length} of {data.total} are shown; the table has all.
		</p>{/if}
</section>
