<script lang="ts">
	import { page } from '$app/state';
	import { formatMoney, plainAmount } from '$core/billing/money';
	import { asking } from '$ui/address';
	import BarsChart from '$ui/parts/BarsChart.svelte';

	let { data } = $props();

	const BY = [
		['plan', 'By plan'],
		['price', 'By price'],
		['code', 'By code'],
		['item', 'By item sold alone']
	] as const;
	const HEADS = { plan: 'Plan', price: 'Price', code: 'Code', item: 'Item' };
	const BESIDES: Partial<Record<typeof data.by, string>> = { code: 'with codes', item: 'alone' };
	const NOTHING: Partial<Record<typeof data.by, string>> = {
		code: 'Nothing was bought with a code in this span.',
		item: 'No single item was sold in this span. Each can be sold alone from its page in the Library.'
	};
	/** As many as can be read beside each other. */
	const DRAWN = 10;

	const { currency } = $derived(data.asked);
	const say = (minor: number, of: string) => (minor === 0 ? '–' : formatMoney({ minor, currency: of }));
	const own = $derived(data.rows.filter((row) => row.currency === currency));
	const drawn = $derived(own.slice(0, DRAWN));
	const sum = $derived(own.reduce((total, { leftMinor }) => total + leftMinor, 0));
	const value = (minor: number) => Number(plainAmount({ minor, currency }));
	const rowsOf = (key: string) =>
		`/desk/insight/earned/rows?${new URLSearchParams({ ...data.asked.span, currency, by: data.by, key })}`;
</script>

<svelte:head><title>What earns · Insight · Desk</title></svelte:head>

<div class="flex flex-wrap items-baseline gap-x-5 gap-y-1">
	<h1 class="text-xl">
		{formatMoney({ minor: sum, currency })}
		<span class="text-base font-normal text-quiet">are left of what was sold {BESIDES[data.by] ?? ''}</span>
	</h1>
	<p class="flex flex-wrap gap-x-4">
		{#each BY as [by, label] (by)}
			<a
				href={asking(page.url.searchParams, { by, page: null })}
				aria-current={data.by === by ? 'true' : undefined}
				class={data.by === by ? 'font-semibold text-ink' : 'text-quiet'}>{label}</a
			>
		{/each}
	</p>
	<a
		class="ml-auto"
		href="/desk/insight/earned/earned.csv?{new URLSearchParams({
			...data.asked.span,
			currency,
			by: data.by
		})}"
		download>As a table (CSV)</a
	>
</div>
{#if own.length === 0}
	<p class="mt-4 text-quiet">
		{NOTHING[data.by] ?? 'Nothing was sold in this span.'}
	</p>
{:else}
	{#if drawn.length > 1}
		<BarsChart
			labels={drawn.map(({ name }) => name)}
			bars={[{ label: 'Left', ink: '--moss', values: drawn.map(({ leftMinor }) => value(leftMinor)) }]}
			says="What is left of what each sold: {drawn
				.map(({ name, leftMinor }) => `${name} ${formatMoney({ minor: leftMinor, currency })}`)
				.join(', ')}"
		/>
	{/if}
	<div class="mt-4 overflow-x-auto">
		<table class="w-full min-w-[46rem] tabular-nums">
			<thead>
				<tr class="border-b border-line text-left text-sm text-quiet">
					<th class="py-1.5 pr-4 font-medium">{HEADS[data.by]}</th>
					<th class="py-1.5 pr-4 text-right font-medium">Sold</th>
					<th class="py-1.5 pr-4 text-right font-medium">Taken off</th>
					<th class="py-1.5 pr-4 text-right font-medium">Refunded</th>
					<th class="py-1.5 pr-4 text-right font-medium">Taken by banks</th>
					<th class="py-1.5 pr-4 text-right font-medium">Left</th>
					<th class="py-1.5 text-right font-medium">Tax beside it</th>
				</tr>
			</thead>
			<tbody>
				{#each own as row (row.key)}
					<tr class="border-b border-line">
						<td class="py-1.5 pr-4">{row.name}</td>
						<td class="py-1.5 pr-4 text-right whitespace-nowrap">{say(row.soldMinor, currency)}</td>
						<td class="py-1.5 pr-4 text-right whitespace-nowrap">{say(row.discountMinor, currency)}</td>
						<td class="py-1.5 pr-4 text-right whitespace-nowrap">{say(row.refundMinor, currency)}</td>
						<td class="py-1.5 pr-4 text-right whitespace-nowrap">{say(row.disputedMinor, currency)}</td>
						<td class="py-1.5 pr-4 text-right font-semibold whitespace-nowrap"
							><a
								href={rowsOf(row.key)}
								aria-label="{row.name}: what {say(row.leftMinor, currency)} are made of"
								>{formatMoney({ minor: row.leftMinor, currency })}</a
							></td
						>
						<td class="py-1.5 text-right whitespace-nowrap text-quiet">{say(row.taxMinor, currency)}</td>
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
{/if}
<p class="mt-4 max-w-3xl text-sm text-quiet">
	By the ledger, on the days on which it was booked, without tax. Sold: at full prices. Taken off: by codes,
	and for holders of other plans. Left: what was sold less all that was taken off, refunded or taken by banks;
	what a won dispute brought back is in it. {data.by === 'code'
		? 'A code counts all that its order brought in at the time, and not what it saves.'
		: ''}
</p>
