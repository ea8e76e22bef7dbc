<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import DataTable from '$ui/parts/DataTable.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import SalesHead from '$ui/components/SalesHead.svelte';
	import SalesTools from '$ui/components/SalesTools.svelte';
	import { ORDER_WORDS } from '$ui/wording/order';

	let { data } = $props();

	const SHOWN = [
		['paid', 'Paid'],
		['waiting', 'Wait for money'],
		['part-paid', 'Paid in part'],
		['open', 'Not paid yet'],
		['expired', 'Ended unpaid'],
		['refused', 'Refused'],
		['given-back', 'Had it already']
	] as const;
	const columns = [
		{ key: 'at', label: 'Date', sortable: true },
		{ key: 'number', label: 'Order' },
		{ key: 'name', label: 'Member', sortable: true },
		{ key: 'for', label: 'For' },
		{ key: 'amount', label: 'Total', sortable: true, end: true },
		{ key: 'by', label: 'Paid by' },
		{ key: 'state', label: 'State' }
	];
	const COLOURS: Partial<Record<keyof typeof ORDER_WORDS, string>> = {
		paid: 'text-moss',
		waiting: 'text-gorse',
		open: 'text-gorse'
	};
</script>

<svelte:head><title>Orders · Sales · Desk</title></svelte:head>

<section class="sheet p-5 pt-6">
	<SalesHead title="Orders" states={SHOWN} shown={data.shown} table="/desk/sales/orders/rows.csv" />
	<DataTable caption="Orders" {columns} rows={data.rows} total={data.total} pageSize={data.pageSize}>
		{#snippet tools()}<SalesTools plans={data.planChoices} began="Ordered" />{/snippet}
		{#snippet row(order)}
			<td class="py-2 pr-4 whitespace-nowrap"><Moment at={order.at} zone={data.site.zone} /></td>
			<td class="py-2 pr-4 whitespace-nowrap"><a href="/desk/sales/{order.id}">{order.number}</a></td>
			<td class="py-2 pr-4"><DeskLink href="/desk/members/{order.memberId}">{order.name}</DeskLink></td>
			<td class="py-2 pr-4">{order.text}</td>
			<td class="py-2 pr-4 text-right whitespace-nowrap">
				{order.totalMinor === 0 ? 'free' : formatMoney({ minor: order.totalMinor, currency: order.currency })}
			</td>
			<td class="py-2 pr-4 text-quiet"
				>{order.totalMinor === 0 ? '' : order.processor === 'card' ? 'card' : 'without a card'}</td
			>
			<td class="py-2 font-medium {COLOURS[order.state] ?? 'text-slate'}">{ORDER_WORDS[order.state]}</td>
		{/snippet}
		{#snippet empty()}<p class="py-6 text-quiet">No order yet, or none that fits.</p>{/snippet}
	</DataTable>
</section>
