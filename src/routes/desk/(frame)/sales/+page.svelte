<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import DataTable from '$ui/parts/DataTable.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import { PAYMENT_WORDS } from '$ui/wording/payment';

	let { data } = $props();

	const asked = $derived(page.url.searchParams);
	const SHOWN = [
		['waiting', 'Wait for money'],
		['paid', 'Paid'],
		['declined', 'Declined'],
		['refunded', 'Refunded, whole or in part'],
		['disputed', 'Disputed']
	] as const;
	const columns = [
		{ key: 'at', label: 'Date', sortable: true },
		{ key: 'number', label: 'Order' },
		{ key: 'name', label: 'Member', sortable: true },
		{ key: 'for', label: 'For' },
		{ key: 'amount', label: 'Amount', sortable: true, end: true },
		{ key: 'state', label: 'State', sortable: true }
	];
	const COLOURS = {
		pending: 'text-gorse',
		declined: 'text-gorse',
		expired: 'text-slate',
		captured: 'text-moss',
		'part-refunded': 'text-slate',
		refunded: 'text-slate',
		disputed: 'text-brick',
		won: 'text-moss',
		lost: 'text-brick'
	};
</script>

<svelte:head><title>Sales · Desk</title></svelte:head>

<section class="sheet p-5 pt-6">
	<div class="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
		<h1 class="text-xl">Sales</h1>
		<p class="flex flex-wrap gap-x-4 gap-y-2">
			{#each SHOWN as [state, words] (state)}
				<a
					href={asking(asked, { state: data.shown === state ? null : state, page: null })}
					aria-current={data.shown === state ? 'true' : undefined}
					class={data.shown === state ? 'font-semibold text-ink' : 'text-quiet'}>{words}</a
				>
			{/each}
		</p>
		<a class="ml-auto" href="/desk/sales/tax">Tax by country</a>
		<a href="/desk/sales/rows.csv{asking(asked, { page: null })}" download>As a table (CSV)</a>
	</div>
	<DataTable caption="Payments" {columns} rows={data.rows} total={data.total} pageSize={data.pageSize}>
		{#snippet row(payment)}
			<td class="py-2 pr-4"><Moment at={payment.at} zone={data.site.zone} /></td>
			<td class="py-2 pr-4"><a href="/desk/sales/{payment.orderId}">{payment.number}</a></td>
			<td class="py-2 pr-4"><DeskLink href="/desk/members/{payment.memberId}">{payment.name}</DeskLink></td>
			<td class="py-2 pr-4">Payment {payment.period + 1}</td>
			<td class="py-2 pr-4 text-right whitespace-nowrap">
				{formatMoney({ minor: payment.amountMinor, currency: payment.currency })}
			</td>
			<td class="py-2 font-medium {COLOURS[payment.standing]}"
				>{data.shown === 'waiting' ? 'Waits for money' : PAYMENT_WORDS[payment.standing]}</td
			>
		{/snippet}
		{#snippet empty()}<p class="py-6 text-quiet">No payment yet, or none that fits.</p>{/snippet}
	</DataTable>
</section>
