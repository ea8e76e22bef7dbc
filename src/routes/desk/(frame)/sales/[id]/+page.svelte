<script lang="ts">
	import { page } from '$app/state';
	import { BY_HAND } from '$core/billing/agreement-facts';
	import { formatMoney } from '$core/billing/money';
	import { percentOf } from '$core/billing/tax';
	import { postalLines } from '$core/text/postal';
	import { countryName } from '$ui/countries';
	import AgreementMoves from '$ui/components/AgreementMoves.svelte';
	import AgreementSteps from '$ui/components/AgreementSteps.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import GiftAddress from '$ui/components/GiftAddress.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import PostalMending from '$ui/components/PostalMending.svelte';
	import PaymentAnswer from '$ui/components/PaymentAnswer.svelte';
	import RefundDialog from '$ui/components/RefundDialog.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import { agreementWords } from '$ui/wording/agreement';
	import { ORDER_WORDS } from '$ui/wording/order';
	import { PAYMENT_WORDS } from '$ui/wording/payment';
	import { formatDay } from '$ui/wording/time';
	import { discountText } from '$words/price';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	type Agreement = NonNullable<(typeof data.things)[number]['agreement']>;
	const isOne = $derived(data.things.length === 1);
	const names = $derived(data.things.map(({ plan }) => plan.name).join(', '));
	const paidPeriod = ({ state, period }: Agreement) =>
		['renewing', 'owing'].includes(state) ? period - 1 : period;

	const grants = $derived(
		data.things.flatMap(({ plan, grants: own }) => own.map((grant) => ({ ...grant, plan: plan.name })))
	);

	/** Paid for somebody who has not opened it yet. */
	const isGiftWaiting = $derived(data.gift?.state === 'kept' || data.gift?.state === 'told');
	/** Whose access it is. */
	const holder = $derived(data.gift?.holder?.name ?? data.member.name);

	/** Whether a payment pays for access that there is now, or is to come. */
	function isOfNow({ period, agreementId }: { period: number; agreementId: string | null }): boolean {
		if (isGiftWaiting) return true;
		return data.things.some(
			({ agreement }) =>
				agreement !== null &&
				(agreementId === null || agreement.id === agreementId) &&
				agreement.state !== 'ended' &&
				period >= paidPeriod(agreement)
		);
	}

	function errorsOf(paymentId: string): Record<string, string[]> {
		return form && 'errors' in form && form.values?.payment === paymentId ? (form.errors ?? {}) : {};
	}
	const PROOF_WORDS = {
		two: 'Where the buyer is stands on two proofs: ',
		one: 'Where the buyer is stands on one proof: ',
		differ: 'What is known of where the buyer is does not agree: ',
		none: 'Where the buyer is is not proved'
	};
	const SOURCE_WORDS = {
		said: 'they said',
		card: 'the bank of their card is in',
		network: 'their network is in'
	};
	const REFUND_CAUSES = { asked: '', surplus: ', which came in for nothing', outside: ', at the processor' };
	const DISPUTE_WORDS = { open: 'is not decided', won: 'was won', lost: 'was lost: the money is gone' };
</script>

<svelte:head><title>Order {data.order.number} · Sales · Desk</title></svelte:head>

<section class="sheet max-w-3xl p-6 pt-7">
	<h1>Order {data.order.number}</h1>
	<Saved text={form && 'saved' in form ? form.saved : null} />
	<dl class="mt-3 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
		<dt class="text-quiet">Member</dt>
		<dd><DeskLink href="/desk/members/{data.member.id}">{data.member.name}</DeskLink></dd>
		<dt class="text-quiet">{isOne ? 'Plan' : 'Plans'}</dt>
		<dd>
			{#each data.things as { id, plan } (id)}
				<span class="block"><DeskLink href="/desk/plans/{plan.id}">{plan.name}</DeskLink></span>
			{/each}
		</dd>
		{#each data.things.filter(({ discount }) => discount !== null) as { id, plan, discount } (id)}
			<dt class="text-quiet">Taken off</dt>
			<dd>
				{#if discount}{discountText(words(), discount)}{/if}{#if !isOne}
					of {plan.name}{/if}{#if data.code}, by the code <DeskLink href="/desk/codes/{data.code.batchId}"
						>{data.code.code}</DeskLink
					>{:else}, because of what they held{/if}
			</dd>
		{/each}
		{#if data.tax}
			<dt class="text-quiet">Tax</dt>
			<dd>
				{#if data.tax.taxed.kind === 'none'}None in {countryName(data.tax.buyer.country ?? '')}
				{:else if data.tax.taxed.kind === 'reversed'}Owed by the buyer, the business {data.tax.buyer.taxId}
				{:else}{data.tax.taxed.name}
					{percentOf(data.tax.taxed.rate)} % of {countryName(data.tax.taxed.country)}, {data.tax.taxed
						.isIncluded
						? 'in the price'
						: 'on top of the price'}{data.tax.buyer.taxId
						? `; the business ${data.tax.buyer.taxId}`
						: ''}{/if}
				<span class="block text-sm {data.tax.proof === 'differ' ? 'text-gorse' : 'text-quiet'}">
					{PROOF_WORDS[data.tax.proof]}{data.tax.proofs
						.map(({ from, country }) => `${SOURCE_WORDS[from]} ${countryName(country)}`)
						.join(', ')}.
				</span>
			</dd>
		{/if}
		{#if data.order.postal}
			<dt class="text-quiet">Sent to</dt>
			<dd>
				{#each postalLines(data.order.postal, countryName(data.order.postal.country)) as line, n (n)}
					<span class="block">{line}</span>
				{/each}
				{#if data.may.includes('members')}
					<PostalMending
						postal={data.order.postal}
						revision={data.postalRevision ?? ''}
						countries={data.countries}
						answered={form && 'errors' in form && form.values && 'postalName' in form.values ? form : null}
					/>
				{/if}
			</dd>
		{/if}
		<dt class="text-quiet">Begun</dt>
		<dd><Moment at={data.order.createdAt} zone={data.site.zone} precise /></dd>
		<dt class="text-quiet">State</dt>
		<dd>
			{ORDER_WORDS[data.order.state]}{#if isOne && data.things[0]?.agreement}; {agreementWords(
					data.things[0].agreement,
					data.site.zone
				)}{/if}
		</dd>
		{#if !isOne}
			{#each data.things as { id, plan, agreement } (id)}
				{#if agreement}
					<dt class="text-quiet">{plan.name}</dt>
					<dd>{agreementWords(agreement, data.site.zone)}</dd>
				{/if}
			{/each}
		{/if}
		{#each data.things as { id, agreement } (id)}
			{#if agreement?.people}
				<dt class="text-quiet">People</dt>
				<dd>
					{agreement.seats}: the buyer, {agreement.people.given} asked, of whom {agreement.people.came} came
				</dd>
			{/if}
		{/each}
		{#if grants.length > 0}
			<dt class="text-quiet">Access</dt>
			<dd>
				{#each grants as { id, memberId, from, until, revokedAt, plan } (id)}
					{@const end = revokedAt ?? until}
					<DeskLink href="/desk/members/{memberId}#grants"
						>from {formatDay(from, data.site.zone)}{end === null
							? ', for good'
							: `${end <= data.now ? ' to' : ' until'} ${formatDay(end, data.site.zone)}`}</DeskLink
					>{revokedAt === null ? '' : ', ended before its time'}{isOne ? '' : `: ${plan}`}<br />
				{/each}
			</dd>
		{/if}
	</dl>
	{#if data.gift}
		<div class="mt-4 grid gap-2 border-l-3 border-moss bg-moss-wash px-4 py-3">
			<p>
				A gift for <strong>{data.gift.email || 'somebody who was deleted since'}</strong>:
				{#if data.gift.openedAt !== null}opened <Moment
						at={data.gift.openedAt}
						zone={data.site.zone}
					/>{#if data.gift.holder}, by <DeskLink href="/desk/members/{data.gift.holder.id}"
							>{data.gift.holder.name}</DeskLink
						>{/if}.
				{:else if data.gift.state === 'given-back'}it does not open any more, for the money went back.
				{:else if data.gift.state === 'unpaid'}they are told when it is paid.
				{:else if data.gift.toldAt !== null}told <Moment at={data.gift.toldAt} zone={data.site.zone} />, not
					opened yet.
				{:else}they are told <Moment at={data.gift.tellAt} zone={data.site.zone} />.{/if}
			</p>
			{#if isGiftWaiting && data.may.includes('members')}
				<GiftAddress
					gift={data.gift}
					answered={form && 'errors' in form && form.values?.gift ? form : null}
				/>
			{/if}
		</div>
	{/if}
	{#if form && 'problem' in form}<p role="alert" class="mt-3 font-medium text-brick">{form.problem}</p>{/if}
	{#each data.things as { id, plan, agreement, opens } (id)}
		{#if agreement && agreement.steps.length + agreement.moves.length > 0 && data.may.includes('members')}
			{#if !isOne}<h2 class="mt-4">{plan.name}</h2>{/if}
			<div class="{isOne ? 'mt-4' : 'mt-2'} flex flex-wrap gap-2">
				{#if agreement.moves.length > 0}<AgreementMoves
						{agreement}
						member={holder}
						zone={data.site.zone}
					/>{/if}
				<AgreementSteps
					{agreement}
					currency={data.payments[0]?.currency ?? ''}
					plan={plan.name}
					member={holder}
					{opens}
					zone={data.site.zone}
				/>
			</div>
		{/if}
	{/each}
	<h2 class="mt-5">Payments</h2>
	<ol class="mt-2 @2xl:grid @2xl:grid-cols-[auto_1fr_auto_auto_auto]">
		{#each data.payments as payment (payment.id)}
			{@const amount = formatMoney({ minor: payment.amountMinor, currency: payment.currency })}
			<li
				class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-2 @2xl:col-span-5 @2xl:grid @2xl:grid-cols-subgrid"
			>
				<Moment at={payment.at} zone={data.site.zone} />
				<span>
					Payment {payment.period + 1}{payment.attempt >= BY_HAND
						? ', by hand'
						: payment.attempt > 1
							? `, try ${payment.attempt}`
							: ''}
				</span>
				<span class="price whitespace-nowrap @2xl:text-right">{amount}</span>
				<span>{payment.isWaitedFor ? 'Waits for your yes' : PAYMENT_WORDS[payment.standing]}</span>
				{#if payment.isWaitedFor && data.may.includes('payments')}
					<span class="ml-auto"
						><PaymentAnswer
							payment={payment.id}
							{amount}
							currency={payment.currency}
							what={names}
							member={data.member.name}
							isFirst={payment.isFirst}
						/></span
					>
				{/if}
				{#if payment.leftMinor > 0 && data.order.state !== 'part-paid' && data.may.includes('refunds')}
					<span class="ml-auto">
						<RefundDialog
							{payment}
							member={holder}
							isGift={isGiftWaiting}
							opens={data.opens}
							isOfNow={isOfNow(payment)}
							errors={errorsOf(payment.id)}
						/>
					</span>
				{/if}
				{#if payment.refunds.length + payment.disputes.length > 0}
					<ul class="w-full border-l-2 border-line pl-3 text-sm @2xl:col-span-5">
						{#each payment.disputes as dispute (dispute.id)}
							<li>
								<Moment at={dispute.openedAt} zone={data.site.zone} />: {formatMoney({
									minor: dispute.amountMinor,
									currency: payment.currency
								})} disputed; it {DISPUTE_WORDS[dispute.state]}{#if dispute.closedAt}, <Moment
										at={dispute.closedAt}
										zone={data.site.zone}
									/>{/if}.
								{#if data.may.includes('members')}<a
										href="/desk/sales/{page.params.id}/evidence/{dispute.id}"
										download
										data-sveltekit-preload-data="off">What speaks for you (PDF)</a
									>{/if}
							</li>
						{/each}
						{#each payment.refunds as refund (refund.id)}
							<li>
								<Moment at={refund.doneAt ?? refund.askedAt} zone={data.site.zone} />: {formatMoney({
									minor: refund.amountMinor,
									currency: payment.currency
								})}
								{refund.doneAt === null
									? 'are to go back; the processor is asked until it answers'
									: 'refunded'}{REFUND_CAUSES[refund.cause]}{refund.cause === 'surplus'
									? ''
									: refund.endsAccess
										? '; access ended with it'
										: '; access stayed'}.{refund.why ? ` “${refund.why}”` : ''}
							</li>
						{/each}
					</ul>
				{/if}
			</li>
		{/each}
	</ol>
</section>
