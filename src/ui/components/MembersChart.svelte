<script lang="ts">
	/** How many members held a plan, week by week: a line, and the same as a table. */
	import Fold from '$ui/parts/Fold.svelte';
	import LineChart from '$ui/parts/LineChart.svelte';
	import { formatDay } from '$ui/wording/time';

	let { held, zone }: { held: { at: number; count: number }[]; zone: string } = $props();

	const last = $derived(held.at(-1)?.count ?? 0);
	const first = $derived(held[0]?.count ?? 0);
	const change = $derived(
		last === first
			? 'as many as a year ago'
			: `${Math.abs(last - first)} ${last > first ? 'more' : 'fewer'} than a year ago`
	);
</script>

<p class="mt-1">
	<strong class="text-2xl">{last}</strong> <span class="text-quiet">hold a plan, {change}</span>
</p>
<LineChart
	labels={held.map(({ at }) => formatDay(at, zone))}
	lines={[{ label: 'Hold a plan', values: held.map(({ count }) => count) }]}
	says="Members who held a plan, week by week over a year: {first} then, {last} now"
	isStepped
/>
<div class="mt-2">
	<Fold label="As a table">
		<div class="max-h-60 overflow-y-auto">
			<table class="w-full text-sm tabular-nums">
				<thead
					><tr
						><th class="text-left font-medium">Week</th><th class="text-right font-medium">Hold a plan</th
						></tr
					></thead
				>
				<tbody>
					{#each held.toReversed() as { at, count } (at)}
						<tr class="border-t border-line"
							><td class="py-1">{formatDay(at, zone)}</td><td class="py-1 text-right">{count}</td></tr
						>
					{/each}
				</tbody>
			</table>
		</div>
	</Fold>
</div>
