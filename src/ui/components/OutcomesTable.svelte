<script lang="ts">
	/** What became of what began in each month: bars, and the same as a table. */
	import type { Snippet } from 'svelte';
	import { formatMoney } from '$core/billing/money';
	import type { OutcomeMonth } from '$core/measure/outcomes';
	import BarsChart from '$ui/parts/BarsChart.svelte';
	import { monthWords, shareWords } from '$ui/wording/insight';

	let {
		id,
		title,
		months,
		currency,
		words,
		empty,
		children
	}: {
		id: string;
		title: string;
		months: OutcomeMonth[];
		currency: string;
		words: Record<'begun' | 'won' | 'lost' | 'open', string>;
		/** Said where nothing began. */
		empty: string;
		/** What is counted. */
		children: Snippet;
	} = $props();

	const begun = $derived(months.reduce((sum, one) => sum + one.begun, 0));
	const won = $derived(months.reduce((sum, one) => sum + one.won, 0));
	const bars = $derived(
		(
			[
				['won', '--moss'],
				['open', '--gorse-fill'],
				['lost', '--slate-soft']
			] as const
		).map(([end, ink]) => ({ label: words[end], ink, values: months.map((one) => one[end]) }))
	);
</script>

<section aria-labelledby={id}>
	<h2 {id} class="text-base font-semibold">{title}</h2>
	{#if begun === 0}
		<p class="mt-1 text-quiet">{empty}</p>
	{:else}
		<BarsChart
			labels={months.map(({ month }, n) => monthWords(month, n))}
			{bars}
			says="{title}: {won} of {begun}"
		/>
		<div class="mt-2 overflow-x-auto">
			<table class="w-full text-sm tabular-nums">
				<thead>
					<tr class="border-b border-line text-quiet">
						<th class="py-1.5 pr-4 text-left font-medium">Month</th>
						{#each ['begun', 'won', 'lost', 'open'] as const as name (name)}
							<th class="py-1.5 pr-4 text-right font-medium">{words[name]}</th>
						{/each}
						<th class="py-1.5 pr-4 text-right font-medium">Share</th>
						<th class="py-1.5 text-right font-medium">Worth</th>
					</tr>
				</thead>
				<tbody>
					{#each months.filter((one) => one.begun > 0) as one (one.month)}
						<tr class="border-b border-line">
							<td class="py-1.5 pr-4 whitespace-nowrap">{monthWords(one.month, 0)}</td>
							<td class="py-1.5 pr-4 text-right">{one.begun}</td>
							<td class="py-1.5 pr-4 text-right">{one.won}</td>
							<td class="py-1.5 pr-4 text-right">{one.lost}</td>
							<td class="py-1.5 pr-4 text-right">{one.open}</td>
							<td class="py-1.5 pr-4 text-right">{shareWords(one.share)}</td>
							<td class="py-1.5 text-right whitespace-nowrap"
								>{formatMoney({ minor: one.wonMinor, currency })}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{/if}
	<p class="mt-3 text-sm text-quiet">{@render children()}</p>
</section>
