<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import TextField from '$ui/fields/TextField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import { agreementWords } from '$ui/wording/agreement';
	import { PAYMENT_WORDS } from '$ui/wording/payment';

	let { data, form } = $props();

	const ORDER_WORDS = {
		open: 'Not paid yet',
		paid: 'Paid',
		replaced: 'Begun anew elsewhere',
		expired: 'Ended unpaid',
		'given-back': 'Refunded'
	};
	const paidPeriod = $derived(
		data.agreement &&
			(['renewing', 'owing'].includes(data.agreement.state)
				? data.agreement.period - 1
				: data.agreement.period)
	);

	/** Whether refunding this payment ends access now. */
	function endsAccess(period: number): boolean {
		return data.agreement !== null && data.agreement.state !== 'ended' && period >= (paidPeriod ?? 0);
	}

	function whatHappens(payment: { amountMinor: number; currency: string; period: number }): string {
		const amount = formatMoney({ minor: payment.amountMinor, currency: payment.currency });
		const items = data.opens === 1 ? '1 item closes' : `${data.opens} items close`;
		return endsAccess(payment.period)
			? `${amount} go back to the card, what was agreed ends and ${items} for ${data.member.name} at once.`
			: `${amount} go back to the card. Access stays as it is.`;
	}
</script>

<svelte:head><title>Order {data.order.number} · Sales · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/sales">All sales</a></p>
<section class="sheet max-w-3xl p-6 pt-7">
	<h1>Order {data.order.number}</h1>
	<Saved text={form && 'saved' in form ? form.saved : null} />
	{#if form && 'problem' in form}<p role="alert" class="font-medium text-brick">{form.problem}</p>{/if}
	<dl class="mt-3 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
		<dt class="text-quiet">Member</dt>
		<dd><DeskLink href="/desk/members/{data.member.id}">{data.member.name}</DeskLink></dd>
		<dt class="text-quiet">Plan</dt>
		<dd><DeskLink href="/desk/plans/{data.plan.id}">{data.plan.name}</DeskLink></dd>
		<dt class="text-quiet">Begun</dt>
		<dd><Moment at={data.order.createdAt} zone={data.site.zone} precise /></dd>
		<dt class="text-quiet">State</dt>
		<dd>
			{ORDER_WORDS[data.order.state]}{#if data.agreement}; {agreementWords(
					data.agreement,
					data.site.zone
				)}{/if}
		</dd>
	</dl>
	<h2 class="mt-5">Payments</h2>
	<ol class="mt-2 @2xl:grid @2xl:grid-cols-[auto_1fr_auto_auto_auto]">
		{#each data.payments as payment (payment.id)}
			{@const amount = formatMoney({ minor: payment.amountMinor, currency: payment.currency })}
			<li
				class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-2 @2xl:col-span-5 @2xl:grid @2xl:grid-cols-subgrid"
			>
				<Moment at={payment.at} zone={data.site.zone} />
				<span>
					Payment {payment.period + 1}{payment.attempt > 1 ? `, try ${payment.attempt}` : ''}
				</span>
				<span class="price whitespace-nowrap @2xl:text-right">{amount}</span>
				<span>{PAYMENT_WORDS[payment.state]}</span>
				{#if (payment.state === 'captured' || payment.state === 'won') && data.may.includes('refunds')}
					<span class="ml-auto">
						<Confirm
							label="Refund"
							title="Refund this payment?"
							what={whatHappens(payment)}
							action="?/refund"
							confirmLabel="Refund {amount}"
						>
							<input type="hidden" name="payment" value={payment.id} />
							<TextField label="Why? (for your own notes)" id="why-{payment.id}" name="why" maxlength={500} />
						</Confirm>
					</span>
				{/if}
			</li>
		{/each}
	</ol>
</section>
