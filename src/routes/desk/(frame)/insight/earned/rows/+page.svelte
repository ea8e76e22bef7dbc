<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Pager from '$ui/parts/Pager.svelte';

	let { data } = $props();

	const KINDS = {
		payment: 'Paid',
		refund: 'Refunded',
		dispute: 'Taken by a bank',
		won: 'Came back from a bank'
	};
	const { currency } = $derived(data.asked);
</script>

<svelte:head><title>{data.name} · Insight · Desk</title></svelte:head>

<h1 class="text-xl">{data.name}</h1>
<p class="text-quiet">
	{data.total === 1 ? '1 row' : `${data.total} rows`} from {data.asked.span.from} to {data.asked.span.to},
	without tax.
</p>
<div class="mt-3 overflow-x-auto">
	<table class="w-full min-w-[36rem] tabular-nums">
		<thead>
			<tr class="border-b border-line text-left text-sm text-quiet">
				<th class="py-1.5 pr-4 font-medium">Day</th>
				<th class="py-1.5 pr-4 font-medium">Order</th>
				<th class="py-1.5 pr-4 font-medium">Member</th>
				<th class="py-1.5 pr-4 font-medium">What</th>
				<th class="py-1.5 text-right font-medium">Amount</th>
			</tr>
		</thead>
		<tbody>
			{#each data.rows as row (row.entryId)}
				<tr class="border-b border-line">
					<td class="py-1.5 pr-4 whitespace-nowrap"><Moment at={row.at} zone={data.site.zone} /></td>
					<td class="py-1.5 pr-4"><a href="/desk/sales/{row.orderId}">{row.number}</a></td>
					<td class="py-1.5 pr-4"
						>{#if row.memberId}<DeskLink href="/desk/members/{row.memberId}">{row.who}</DeskLink>{/if}</td
					>
					<td class="py-1.5 pr-4">{KINDS[row.kind]}</td>
					<td class="py-1.5 text-right whitespace-nowrap">{formatMoney({ minor: row.netMinor, currency })}</td
					>
				</tr>
			{:else}
				<tr><td class="py-4 text-quiet" colspan="5">Nothing in this span.</td></tr>
			{/each}
		</tbody>
	</table>
</div>
<Pager of="what it is made of" total={data.total} pageSize={data.pageSize} />
