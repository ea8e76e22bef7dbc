<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import Moment from '$ui/components/Moment.svelte';
	import StateMark from '$ui/components/StateMark.svelte';
	import { PAYMENT_WORDS } from '$ui/wording/payment';
	import { PERIOD_WORDS } from '$ui/wording/time';

	let { data } = $props();

	const zone = $derived(data.site.zone);
</script>

<svelte:head><title>Your account · {data.site.name}</title></svelte:head>

<div class="mb-6 flex flex-wrap items-baseline justify-between gap-3">
	<h1>Your account</h1>
	<form method="post" action="/sign-out" class="flex flex-wrap items-baseline gap-3">
		<span class="text-quiet">{data.viewer?.name}, {data.viewer?.email}</span>
		<a href="/account/details">Name, password and devices</a>
		<button class="button-quiet">Sign out</button>
	</form>
</div>

<section class="grid gap-4" aria-labelledby="plans">
	<h2 id="plans">Your plans</h2>
	{#each data.plans as plan (plan.id)}
		<article class="sheet grid gap-3 p-5 pt-6 sm:grid-cols-[1fr_auto]">
			<div>
				<h3 class="flex flex-wrap items-center gap-x-3 font-semibold">
					{plan.name}
					<StateMark verdict={plan.state === 'ended' ? 'shut' : 'open'} />
				</h3>
				<p class="text-quiet">
					{formatMoney({ minor: plan.amountMinor, currency: plan.currency })}
					{PERIOD_WORDS[plan.unit]}
				</p>
				<p>
					{#if plan.state === 'active'}
						Renews on <Moment at={plan.paidUntil} {zone} />.
					{:else if plan.state === 'renewing'}
						Paid until <Moment at={plan.paidUntil} {zone} />. The card was declined; we try again in the next
						days.
					{:else if plan.state === 'ending'}
						Cancelled. Stays open until <Moment at={plan.paidUntil} {zone} />, which is paid. Nothing more is
						charged.
					{:else if plan.endedAt}
						Ended on <Moment at={plan.endedAt} {zone} />{plan.endReason === 'unpaid'
							? ', because the card was declined'
							: plan.endReason === 'refunded'
								? ', with the payment given back'
								: ''}.
					{/if}
				</p>
				{#if plan.items.length > 0}
					<ul class="mt-2 grid gap-1">
						{#each plan.items as item (item.id)}<li><a href={item.address}>{item.title}</a></li>{/each}
					</ul>
				{/if}
			</div>
			<div class="flex flex-wrap content-start items-start gap-2 sm:flex-col">
				{#if plan.state === 'ended'}
					{#if plan.isOnSale}<a class="button-main" href="/checkout/{plan.slug}">Buy again</a>{/if}
				{:else}
					{#if plan.items[0]}<a class="button-main" href={plan.items[0].address}>Open</a>{/if}
					{#if plan.state === 'ending'}
						<form method="post" action="?/resume">
							<input type="hidden" name="subscription" value={plan.id} />
							<button class="button-quiet">Keep {plan.name}</button>
						</form>
					{:else}
						<a class="button-quiet" href="/account/cancel/{plan.id}">Cancel</a>
					{/if}
				{/if}
			</div>
		</article>
	{:else}
		<p class="sheet p-5 pt-6">You have no plan yet. <a href="/plans">See the plans</a></p>
	{/each}
</section>

<section class="mt-8" aria-labelledby="payments">
	<h2 id="payments" class="mb-3">Your payments</h2>
	{#if data.payments.length === 0}
		<p class="text-quiet">None yet.</p>
	{:else}
		<div class="sheet px-5 py-3">
			<div class="overflow-x-auto">
				<table class="w-full">
					<thead>
						<tr class="text-left text-sm text-quiet">
							<th class="py-2 pr-4 font-medium">Date</th>
							<th class="py-2 pr-4 text-right font-medium">Amount</th>
							<th class="py-2 pr-4 font-medium">State</th>
							<th class="py-2 font-medium">Receipt</th>
						</tr>
					</thead>
					<tbody>
						{#each data.payments as payment (payment.id)}
							<tr class="border-t border-line">
								<td class="py-2 pr-4"><Moment at={payment.at} {zone} /></td>
								<td class="py-2 pr-4 text-right whitespace-nowrap">
									{formatMoney({ minor: payment.amountMinor, currency: payment.currency })}
								</td>
								<td class="py-2 pr-4">{PAYMENT_WORDS[payment.state]}</td>
								<td class="py-2 whitespace-nowrap">
									{#if payment.receipt}<a href="/account/receipts/{payment.receipt}">{payment.receipt}</a
										>{/if}
								</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</div>
		</div>
	{/if}
</section>
