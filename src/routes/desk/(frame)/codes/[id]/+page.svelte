<script lang="ts">
	import type { BatchState } from '$core/access/batches';
	import HandOn from '$ui/components/HandOn.svelte';

	let { data } = $props();

	const FINDS: Record<BatchState, string> = {
		running: 'a page with the code in its field, and a button that redeems it.',
		early: 'a page with the code in its field; whoever presses the button is told that it is too early.',
		'used-up': 'a page with the code in its field; whoever presses the button is told that it is used up.',
		over: 'a page with the code in its field; whoever presses the button is told that it is over.'
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
						text: `${data.origin}/code`,
						hint: 'A code is typed there, with or without its hyphens.'
					},
					{
						label: 'A link that carries a code',
						text: `${data.origin}/code?code=${data.codes[0]?.code}`,
						hint: 'Opening it uses nothing up; pressing the button on its page does.'
					}
				]}
				finds={FINDS[data.state]}
			/>
			<a class="button-quiet" href="/desk/codes/{data.batch.id}/codes.csv" download>As a table (CSV)</a>
		</span>
	</div>
	<table class="mt-4 w-full">
		<thead
			><tr class="border-b border-line text-left text-sm text-quiet"
				><th class="py-1.5 font-medium">Code</th><th class="py-1.5 text-right font-medium">Redeemed</th></tr
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
