<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import DataTable from '$ui/parts/DataTable.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import ManyBar, { type Press } from '$ui/components/ManyBar.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import SalesHead from '$ui/components/SalesHead.svelte';
	import SalesTools from '$ui/components/SalesTools.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import { ChosenRows } from '$ui/chosen-rows.svelte';
	import { PAYMENT_WORDS } from '$ui/wording/payment';

	let { data } = $props();

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
	const ACCESS = [
		{ value: 'stays', label: 'Access stays as it is' },
		{ value: 'ends', label: 'What they pay for ends, and closes' }
	];

	const ANSWER = '/desk/sales?/answer';
	const SAY = 'Say what that would do';

	const ask = $derived(asking(page.url.searchParams, { page: null, order: null }).slice(1));
	const isWaiting = $derived(data.shown === 'waiting');
	const chosen = new ChosenRows(
		() => ask,
		() => data.rows
	);
	let access = $state('');
	let refundWhy = $state('');
	let why = $state('');

	const TITLES: Record<string, (many: string) => string> = {
		refund: (many) => `Refund ${many}?`,
		came: (many) => `Did the money of ${many} come in?`,
		'not-came': (many) => `Did no money come in for ${many}?`
	};
	const doings = $derived([
		...(isWaiting && data.may.includes('payments')
			? [
					{ label: 'It came in', body: came },
					{ label: 'It did not come in', body: notCame }
				]
			: []),
		...(!isWaiting && data.may.includes('refunds') ? [{ label: 'Refund', body: refund }] : [])
	]);
</script>

<svelte:head><title>Sales · Desk</title></svelte:head>

{#snippet refund(press: Press)}
	<p class="max-w-xs text-sm text-quiet">All that is left of each payment goes back the way it came.</p>
	<RadioField label="What becomes of access" options={ACCESS} bind:value={access} />
	<TextField label="Why (for your own notes)" maxlength={500} bind:value={refundWhy} />
	{@render press({ label: SAY, did: 'refund', action: '/desk/sales?/refund', isHeld: access === '' })}
{/snippet}

{#snippet came(press: Press)}
	<p class="max-w-xs text-sm text-quiet">What was bought opens, and each member is told by mail.</p>
	{@render press({ label: SAY, did: 'came', action: ANSWER })}
{/snippet}

{#snippet notCame(press: Press)}
	<p class="max-w-xs text-sm text-quiet">Whoever waits is told by mail. What you write stands in it.</p>
	<TextField label="Why" maxlength={500} bind:value={why} />
	{@render press({ label: SAY, did: 'not-came', action: ANSWER })}
{/snippet}

{#snippet sent()}
	<input type="hidden" name="access" value={access} />
	<input type="hidden" name="refundWhy" value={refundWhy} />
	<input type="hidden" name="why" value={why} />
{/snippet}

<section class="sheet p-5 pt-6">
	<SalesHead title="Payments" states={SHOWN} shown={data.shown} table="/desk/sales/rows.csv" />
	<DataTable
		caption="Payments"
		{columns}
		rows={data.rows}
		total={data.total}
		pageSize={data.pageSize}
		{...doings.length > 0 ? { chosen: chosen.ids } : {}}
		nameOf={({ number, name }) => `payment of ${number}, ${name}`}
	>
		{#snippet tools()}<SalesTools plans={data.planChoices} began="Paid" />{/snippet}
		{#snippet row(payment)}
			<td class="py-2 pr-4 whitespace-nowrap"><Moment at={payment.at} zone={data.site.zone} /></td>
			<td class="py-2 pr-4 whitespace-nowrap"><a href="/desk/sales/{payment.orderId}">{payment.number}</a></td
			>
			<td class="py-2 pr-4"><DeskLink href="/desk/members/{payment.memberId}">{payment.name}</DeskLink></td>
			<td class="py-2 pr-4"
				>{payment.plan ?? 'A plan that is gone'}{#if payment.period > 0}<span class="text-quiet"
						>, payment {payment.period + 1}</span
					>{/if}</td
			>
			<td class="py-2 pr-4 text-right whitespace-nowrap">
				{formatMoney({ minor: payment.amountMinor, currency: payment.currency })}
			</td>
			<td class="py-2 font-medium {COLOURS[payment.standing]}"
				>{isWaiting ? 'Waits for money' : PAYMENT_WORDS[payment.standing]}</td
			>
		{/snippet}
		{#snippet empty()}<p class="py-6 text-quiet">No payment yet, or none that fits.</p>{/snippet}
	</DataTable>
	{#if doings.length > 0}
		<ManyBar
			{chosen}
			total={data.total}
			{ask}
			what={['payment', 'payments']}
			action={ANSWER}
			zone={data.site.zone}
			tools={doings}
			{sent}
			titleOf={(did, many) => TITLES[did]?.(many) ?? ''}
			onOpen={() => (access = refundWhy = why = '')}
		/>
	{/if}
</section>
