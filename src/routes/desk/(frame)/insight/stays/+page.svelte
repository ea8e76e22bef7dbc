<script lang="ts">
	import LineChart from '$ui/parts/LineChart.svelte';
	import { monthWords, shareWords } from '$ui/wording/insight';

	let { data } = $props();

	const { asked } = $derived(data);
	const came = $derived(data.months.filter(({ joined }) => joined > 0));
	const columns = $derived(Array.from({ length: came[0]?.staying.length ?? 0 }, (_, n) => n));
	/** Of all who came long enough ago, the part that still paid so many months later. */
	const average = $derived(
		columns.map((after) => {
			const of = came.filter(({ staying }) => staying.length > after);
			const joined = of.reduce((sum, one) => sum + one.joined, 0);
			const stayed = of.reduce((sum, { staying }) => sum + (staying[after] ?? 0), 0);
			return joined === 0 ? null : stayed / joined;
		})
	);
	const rowsOf = (month: string, after: number) =>
		`/desk/insight/stays/rows?${new URLSearchParams({ ...asked.span, currency: asked.currency, month, after: String(after) })}`;
	const TONES = ['', 'bg-moss-wash'];
</script>

<svelte:head><title>Who stays · Insight · Desk</title></svelte:head>

<div class="flex flex-wrap items-baseline justify-between gap-x-5 gap-y-1">
	<h1 class="text-xl">Who stays</h1>
	<a
		href="/desk/insight/stays/stays.csv?{new URLSearchParams({ ...asked.span, currency: asked.currency })}"
		download>As a table (CSV)</a
	>
</div>
{#if came.length === 0}
	<p class="mt-3 text-quiet">Nobody began to pay by the period in this span.</p>
{:else}
	{@const third = average[3] ?? null}
	<p class="mt-1">
		{#if third !== null}After three months {shareWords(third)} of those who came still pay.{/if}
		{came.reduce((sum, { joined }) => sum + joined, 0)} came in this span.
	</p>
	{#if average.length > 1}
		<LineChart
			labels={columns.map((n) => (n === 0 ? 'that month' : `${n} after`))}
			lines={[
				{
					label: 'Still pay, %',
					values: average.map((share) => (share === null ? null : Math.round(share * 100)))
				}
			]}
			says="Of those who came, the part that still pays: {average
				.map((share, n) => `${shareWords(share)} after ${n} months`)
				.join(', ')}"
		/>
	{/if}
	<div class="mt-4 overflow-x-auto">
		<table class="text-sm tabular-nums">
			<caption class="sr-only">Of those who came in each month, the part that still pays</caption>
			<thead>
				<tr class="border-b border-line text-quiet">
					<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left font-medium">Came in</th>
					<th class="py-1.5 pr-4 text-right font-medium">How many</th>
					{#each columns as n (n)}
						<th class="min-w-14 py-1.5 pr-2 text-right font-medium whitespace-nowrap"
							>{n === 0 ? 'its end' : `+${n}`}</th
						>
					{/each}
				</tr>
			</thead>
			<tbody>
				{#each came as { month, joined, staying } (month)}
					<tr class="border-b border-line">
						<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left font-medium whitespace-nowrap"
							>{monthWords(month, 0)}</th
						>
						<td class="py-1.5 pr-4 text-right">{joined}</td>
						{#each staying as count, after (after)}
							<td class="py-1.5 pr-2 text-right {TONES[Number(count * 2 >= joined)]}"
								><a href={rowsOf(month, after)} title="{count} of {joined}">{shareWords(count / joined)}</a
								></td
							>
						{/each}
					</tr>
				{/each}
				<tr class="border-t-2 border-ink font-semibold">
					<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left">All</th>
					<td class="py-1.5 pr-4 text-right">{came.reduce((sum, { joined }) => sum + joined, 0)}</td>
					{#each average as share, n (n)}<td class="py-1.5 pr-2 text-right">{shareWords(share)}</td>{/each}
				</tr>
			</tbody>
		</table>
	</div>
{/if}
<p class="mt-4 max-w-3xl text-sm text-quiet">
	Members by the month in which they first paid by the period, and the part of them with recurring income at
	the end of it and of each month after; of the present month, now. Whoever came back counts again from then
	on, with those of the month in which they came first. Where half or more of them stay, the ground is green.
</p>
