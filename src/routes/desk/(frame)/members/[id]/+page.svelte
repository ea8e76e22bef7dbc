<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import Confirm from '$ui/components/Confirm.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Why from '$ui/components/Why.svelte';
	import { whyOf } from '$ui/wording/decision';
	import { CANCEL_WORDS, PAYMENT_WORDS, SUBSCRIPTION_WORDS } from '$ui/wording/payment';
	import { formatMoment } from '$ui/wording/time';

	let { data } = $props();

	const zone = $derived(data.site.zone);
	const plan = (id: string) => data.planNames.get(id) ?? 'a plan that is gone';
	const names = $derived({
		plan,
		fence: (id: string) => data.fenceNames.get(id) ?? 'a fence that is gone',
		when: (at: number) => formatMoment(at, zone)
	});
	const living = $derived(data.subscriptions.filter(({ state }) => state !== 'ended'));
	const open = $derived(data.items.filter(({ decision }) => decision.verdict === 'open').length);
</script>

<svelte:head><title>{data.member.name} · Members · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/members">All members</a></p>
<div class="mb-5 flex flex-wrap items-start justify-between gap-3">
	<div>
		<h1>{data.member.name}</h1>
		<p class="text-quiet">{data.member.email}, came on <Moment at={data.member.createdAt} {zone} /></p>
	</div>
	<Confirm
		label="Delete this account"
		title="Delete the account of {data.member.name}?"
		what="The address and password go, {living.length === 1
			? '1 subscription ends'
			: `${living.length} subscriptions end`} now without a refund, and {open === 1
			? '1 item closes'
			: `${open} items close`} for this member. Receipts stay. This cannot be undone."
		action="?/delete"
		confirmLabel="Delete the account"
	/>
</div>

<div class="grid items-start gap-5 xl:grid-cols-2">
	<section class="sheet p-5 pt-6" aria-labelledby="decisions">
		<h2 id="decisions">What this member can open now</h2>
		<p class="text-sm text-quiet">Open a mark to see why.</p>
		<ul class="mt-2 divide-y divide-line">
			{#each data.items as { id, title, decision } (id)}
				<li class="flex flex-wrap items-center justify-between gap-3 py-2">
					<a href="/desk/library/{id}">{title}</a>
					<Why
						verdict={decision.verdict}
						note={decision.until ? `until ${formatMoment(decision.until, zone)}` : null}
						why={whyOf(decision, names)}
					/>
				</li>
			{:else}
				<li class="py-2 text-quiet">The Library is empty.</li>
			{/each}
		</ul>
	</section>

	<div class="grid gap-5">
		<section class="sheet p-5 pt-6" aria-labelledby="plans">
			<h2 id="plans">Plans</h2>
			<ul class="mt-2 divide-y divide-line">
				{#each data.subscriptions as subscription (subscription.id)}
					<li class="py-2">
						<a href="/desk/plans/{subscription.planId}" class="font-medium">{plan(subscription.planId)}</a>
						<span class="text-quiet">{SUBSCRIPTION_WORDS[subscription.state]}</span>
						{#if subscription.endedAt}<Moment at={subscription.endedAt} {zone} />{/if}
						{#if subscription.cancelWhy}
							<p class="text-sm">
								Said: {CANCEL_WORDS[
									subscription.cancelWhy as keyof typeof CANCEL_WORDS
								]}{subscription.cancelWords ? `: “${subscription.cancelWords}”` : ''}
							</p>
						{/if}
					</li>
				{:else}
					<li class="py-2 text-quiet">None bought yet.</li>
				{/each}
			</ul>
			{#if data.grants.length > 0}
				<h3 class="mt-3 font-medium">Grants</h3>
				<ul class="text-sm">
					{#each data.grants as grant (grant.id)}
						<li class="py-0.5">
							{plan(grant.planId)}, from <Moment at={grant.from} {zone} />
							{#if grant.revokedAt}, ended <Moment at={grant.revokedAt} {zone} />{:else if grant.until}, to <Moment
									at={grant.until}
									{zone}
								/>{/if}
						</li>
					{/each}
				</ul>
				<p class="mt-1 text-sm text-quiet">
					First joined: {#each data.tenures as tenure, i (tenure.id)}{i > 0 ? ', ' : ''}{plan(tenure.planId)}
						<Moment at={tenure.firstJoinedAt} {zone} />{/each}. A renewing grant outlives the paid period by a
					week, for retries.
				</p>
			{/if}
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="payments">
			<h2 id="payments">Payments</h2>
			<table class="mt-2 w-full">
				<tbody>
					{#each data.payments as payment (payment.id)}
						<tr class="border-t border-line">
							<td class="py-1.5 pr-4"><Moment at={payment.at} {zone} /></td>
							<td class="py-1.5 pr-4 text-right whitespace-nowrap">
								{formatMoney({ minor: payment.amountMinor, currency: payment.currency })}
							</td>
							<td class="py-1.5 pr-4"
								><a href="/desk/sales/{payment.orderId}">{PAYMENT_WORDS[payment.state]}</a></td
							>
							<td class="py-1.5">
								{#if payment.receipt}<a href="/account/receipts/{payment.receipt}">{payment.receipt}</a>{/if}
							</td>
						</tr>
					{:else}
						<tr><td class="py-2 text-quiet">None yet.</td></tr>
					{/each}
				</tbody>
			</table>
		</section>
	</div>
</div>
