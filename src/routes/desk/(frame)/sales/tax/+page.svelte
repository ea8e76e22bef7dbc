<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import { percentOf } from '$core/billing/tax';
	import { countryName } from '$ui/countries';

	let { data } = $props();

	const sold = $derived(data.quarters.filter(({ rows }) => rows.length > 0));
	const MONTHS = ['January to March', 'April to June', 'July to September', 'October to December'];

	/** Of each currency what it comes to; currencies are never added up. */
	function sums(rows: (typeof data.quarters)[number]['rows']) {
		const codes = [...new Set(rows.map(({ currency }) => currency))];
		return codes.map((currency) => {
			const of = rows.filter((row) => row.currency === currency);
			const sum = (all: number[]) => all.reduce((total, one) => total + one, 0);
			return {
				currency,
				netMinor: sum(of.map(({ netMinor }) => netMinor)),
				taxMinor: sum(of.map(({ taxMinor }) => taxMinor))
			};
		});
	}
</script>

<svelte:head><title>Tax {data.year} · Sales · Desk</title></svelte:head>

<section class="sheet p-5 pt-6">
	<div class="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
		<h1 class="text-xl">Tax in {data.year}</h1>
		<p class="flex flex-wrap gap-x-4">
			<a href="?year={data.year - 1}">{data.year - 1}</a>
			<a href="?year={data.year + 1}">{data.year + 1}</a>
		</p>
		{#if sold.length > 0}
			<p class="ml-auto flex flex-wrap gap-x-4">
				<a href="/desk/sales/tax/sums.csv?year={data.year}" download>These sums (CSV)</a>
				<a href="/desk/sales/tax/documents.csv?year={data.year}" download>Every document (CSV)</a>
			</p>
		{/if}
	</div>
	<p class="max-w-3xl text-quiet">
		By what invoices and credit notes say, on the days on which they were issued. Refunds are taken off in the
		quarter in which they were made. What a bank has taken back is not: ask your bookkeeper.
	</p>
	{#if sold.length === 0}
		<p class="mt-4">
			{#if data.way === 'none'}
				No tax is asked for. <a href="/desk/settings/tax">Say in the Settings</a> whether prices have tax in them.
			{:else}
				Nothing with tax in it was sold in {data.year}.
			{/if}
		</p>
	{/if}
	{#each sold as { quarter, rows } (quarter)}
		<h2 class="mt-5 text-base font-semibold">{MONTHS[quarter - 1]}</h2>
		<div class="mt-1 overflow-x-auto">
			<table class="w-full min-w-[36rem] table-fixed">
				<thead>
					<tr class="border-b border-line text-left text-sm text-quiet">
						<th class="py-1.5 pr-4 font-medium">Country</th>
						<th class="py-1.5 pr-4 font-medium">Tax</th>
						<th class="py-1.5 pr-4 text-right font-medium">Documents</th>
						<th class="py-1.5 pr-4 text-right font-medium">Without tax</th>
						<th class="py-1.5 text-right font-medium">Tax</th>
					</tr>
				</thead>
				<tbody>
					{#each rows as row (`${row.country} ${row.rate} ${row.kind} ${row.currency}`)}
						<tr class="border-b border-line">
							<td class="py-1.5 pr-4">{countryName(row.country)}</td>
							<td class="py-1.5 pr-4">
								{#if row.kind === 'reversed'}Owed by the buyer, a business{:else}{row.name}
									{percentOf(row.rate)} %{/if}
							</td>
							<td class="price py-1.5 pr-4 text-right">{row.documents}</td>
							<td class="price py-1.5 pr-4 text-right whitespace-nowrap"
								>{formatMoney({ minor: row.netMinor, currency: row.currency })}</td
							>
							<td class="price py-1.5 text-right whitespace-nowrap"
								>{formatMoney({ minor: row.taxMinor, currency: row.currency })}</td
							>
						</tr>
					{/each}
					{#each sums(rows) as sum (sum.currency)}
						<tr class="border-t-2 border-ink font-semibold">
							<td class="py-1.5 pr-4" colspan="3">All together</td>
							<td class="price py-1.5 pr-4 text-right whitespace-nowrap"
								>{formatMoney({ minor: sum.netMinor, currency: sum.currency })}</td
							>
							<td class="price py-1.5 text-right whitespace-nowrap"
								>{formatMoney({ minor: sum.taxMinor, currency: sum.currency })}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{/each}
</section>
