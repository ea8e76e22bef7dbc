<script lang="ts">
	import { formatMoney, plainAmount } from '$core/billing/money';
	import { WHYS, type Why } from '$core/measure/recurring';
	import { dayAfter, monthAfter } from '$core/measure/spans';
	import { SvelteURLSearchParams } from 'svelte/reactivity';
	import { asking } from '$ui/address';
	import BarsChart from '$ui/parts/BarsChart.svelte';
	import LineChart from '$ui/parts/LineChart.svelte';
	import { monthWords, shareWords, WHY_WORDS } from '$ui/wording/insight';

	let { data } = $props();

	const NOTHING = new SvelteURLSearchParams();
	const { asked } = $derived(data);
	const { currency } = $derived(asked);
	const months = $derived(data.months);
	const last = $derived(months.at(-1));
	const first = $derived(months[0]);
	const say = (minor: number) => formatMoney({ minor, currency });
	const plain = (minor: number) => plainAmount({ minor, currency });
	const value = (minor: number) => Number(plain(minor));
	const labels = $derived(months.map(({ month }, n) => monthWords(month, n)));
	const sum = (kinds: Why[]) =>
		months.map(({ moved }) => value(kinds.reduce((total, why) => total + moved[why].minor, 0)));
	const bars = $derived([
		{ label: 'New, or came back', ink: '--moss', values: sum(['new', 'back']) },
		{ label: 'Moved up', ink: '--moss-soft', values: sum(['up']) },
		{ label: 'Moved down', ink: '--slate-soft', values: sum(['down']) },
		{ label: 'Went', ink: '--slate', values: sum(['lost', 'failed', 'refunded']) }
	]);
	/** Of the whole span. */
	const all = $derived(
		Object.fromEntries(
			WHYS.map((why) => [
				why,
				{
					minor: months.reduce((total, { moved }) => total + moved[why].minor, 0),
					count: months.reduce((total, { moved }) => total + moved[why].count, 0)
				}
			])
		) as Record<Why, { minor: number; count: number }>
	);
	const grown = $derived((last?.end.minor ?? 0) - (first?.start.minor ?? 0));
	const came = $derived(all.new.count + all.back.count);
	const went = $derived(all.lost.count + all.failed.count + all.refunded.count);

	/** Where a figure's rows are: of a month, or of the whole span. */
	function rowsOf(why: Why | null, month: string | null): string {
		const begin = month && `${month}-01` > asked.span.from ? `${month}-01` : asked.span.from;
		const end = month ? lastDay(month) : asked.span.to;
		const to = end < asked.span.to ? end : asked.span.to;
		return `/desk/insight/moved${asking(NOTHING, { from: begin, to, currency, why })}`;
	}

	function lastDay(month: string): string {
		const next = `${monthAfter(month)}-01`;
		for (let day = `${month}-28`; ; day = dayAfter(day)) if (dayAfter(day) === next) return day;
	}
</script>

<svelte:head><title>Insight · Desk</title></svelte:head>

<div class="flex flex-wrap items-baseline justify-between gap-x-5 gap-y-1">
	<h1 class="text-xl">
		{say(last?.end.minor ?? 0)} <span class="text-base font-normal text-quiet">come in by the month</span>
	</h1>
	<a href="/desk/insight/income.csv?{new URLSearchParams({ ...asked.span, currency })}" download
		>As a table (CSV)</a
	>
</div>
<p class="mt-1">
	From {last?.end.count ?? 0}
	{last?.end.count === 1 ? 'agreement' : 'agreements'} that go on until they are ended.
	{#if grown === 0 && came + went === 0}
		Nothing has moved in this span.
	{:else}
		That is {grown < 0 ? `${say(-grown)} less` : `${say(grown)} more`} than at the beginning of this span:
		<a href={rowsOf(null, null)}>{came} came, {went} went</a>.
	{/if}
</p>

{#if months.length > 1}
	<div class="mt-3 grid gap-5 @4xl:grid-cols-2">
		<div>
			<h2 class="text-base font-semibold">At the end of each month</h2>
			<LineChart
				{labels}
				lines={[{ label: 'By the month', values: months.map(({ end }) => value(end.minor)) }]}
				says="Recurring income at the end of each month: {say(first?.end.minor ?? 0)} at first, {say(
					last?.end.minor ?? 0
				)} now"
			/>
		</div>
		<div>
			<h2 class="text-base font-semibold">What moved it</h2>
			<BarsChart
				{labels}
				{bars}
				says="What moved recurring income in each month: {came} agreements came and {went} went in all"
			/>
			<ul class="mt-1 flex flex-wrap gap-x-4 text-sm text-quiet">
				{#each bars as { label, ink } (label)}
					<li class="flex items-center gap-1.5">
						<svg width="12" height="12" aria-hidden="true"
							><rect width="12" height="12" rx="2" fill="var({ink})" /></svg
						>{label}
					</li>
				{/each}
			</ul>
		</div>
	</div>
{/if}

<div class="mt-5 overflow-x-auto">
	<table class="w-full text-sm tabular-nums">
		<caption class="sr-only">Recurring income month by month, in {currency}</caption>
		<thead>
			<tr class="border-b border-line text-quiet">
				<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left font-medium">{currency} by the month</th>
				{#each months as { month }, n (month)}
					<th class="py-1.5 pl-3 text-right font-medium whitespace-nowrap">{monthWords(month, n)}</th>
				{/each}
				<th class="py-1.5 pl-4 text-right font-medium">In all</th>
			</tr>
		</thead>
		<tbody>
			<tr class="border-b border-line">
				<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left font-medium">At the beginning</th>
				{#each months as { month, start } (month)}<td class="py-1.5 pl-3 text-right">{plain(start.minor)}</td
					>{/each}
				<td class="py-1.5 pl-4 text-right">{plain(first?.start.minor ?? 0)}</td>
			</tr>
			{#each WHYS as why (why)}
				<tr class="border-b border-line">
					<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left font-normal whitespace-nowrap"
						>{WHY_WORDS[why]}</th
					>
					{#each months as { month, moved }, n (month)}
						<td class="py-1.5 pl-3 text-right whitespace-nowrap">
							{#if moved[why].count > 0}
								<a
									href={rowsOf(why, month)}
									aria-label="{WHY_WORDS[why]}, {monthWords(month, n)}: {moved[why].count}, {say(
										moved[why].minor
									)}">{plain(moved[why].minor)}</a
								>
							{:else}<span class="text-quiet">–</span>{/if}
						</td>
					{/each}
					<td class="py-1.5 pl-4 text-right whitespace-nowrap">
						{#if all[why].count > 0}<a href={rowsOf(why, null)}>{plain(all[why].minor)}</a>{:else}<span
								class="text-quiet">–</span
							>{/if}
					</td>
				</tr>
			{/each}
			<tr class="border-t-2 border-ink font-semibold">
				<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left">At the end</th>
				{#each months as { month, end } (month)}<td class="py-1.5 pl-3 text-right">{plain(end.minor)}</td
					>{/each}
				<td class="py-1.5 pl-4 text-right">{plain(last?.end.minor ?? 0)}</td>
			</tr>
			<tr class="text-quiet">
				<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left font-normal">Agreements that pay</th>
				{#each months as { month, end } (month)}<td class="py-1.5 pl-3 text-right">{end.count}</td>{/each}
				<td class="py-1.5 pl-4 text-right">{last?.end.count ?? 0}</td>
			</tr>
			<tr class="text-quiet">
				<th class="sticky left-0 bg-sheet py-1.5 pr-4 text-left font-normal">Part that went</th>
				{#each months as { month, left } (month)}<td class="py-1.5 pl-3 text-right">{shareWords(left)}</td
					>{/each}
				<td></td>
			</tr>
		</tbody>
	</table>
</div>
<p class="mt-4 max-w-3xl text-sm text-quiet">
	An agreement counts with what its paid period asks for, as for a month and without tax: 120.00 a year counts
	10.00. It counts from the moment the period is paid until it is over, not paid, refunded or paused. What is
	paid once, by instalments, or in a first stretch of another length does not count. Part that went: of the
	agreements that paid at the beginning of a month, how many stopped in it, those included whose payment came
	in later.
</p>
