<script lang="ts">
	import GiftAddress from '$ui/components/GiftAddress.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import StateMark from '$ui/components/StateMark.svelte';
	import Words from '$ui/components/Words.svelte';
	import type { FrontKey } from '$words/en/front';
	import { useWords } from '$ui/words';
	import { priceText } from '$words/price';

	let { data, form } = $props();

	const words = useWords();

	const zone = $derived(data.site.zone);
	const held = $derived(data.plans.filter(({ state }) => state !== 'ended'));
	/** What ended, the last of each plan. */
	const before = $derived(
		data.plans.filter(
			(plan, n) =>
				plan.state === 'ended' &&
				data.plans.findIndex((one) => one.state === 'ended' && one.slug === plan.slug) === n
		)
	);

	/** What was not bought here, and runs or begins later. */
	const given = $derived(data.given.filter(({ isOver }) => !isOver));
	/** What was not bought here and is over; not where the plan is held in another way, or its end stands there already. */
	const over = $derived(
		data.given.filter(({ isOver, slug }) => isOver && !data.plans.some((plan) => plan.slug === slug))
	);

	/** What there is to say of a plan's state, with the day that it speaks of. */
	function sentenceOf(plan: (typeof data.plans)[number]): FrontKey | null {
		switch (plan.state) {
			case 'first':
			case 'running':
				// It ends by itself before anything more would be asked for.
				if (plan.nextMinor === null) return plan.openUntil === null ? 'account.paid' : 'account.paid-until';
				if (plan.state === 'first') return 'account.first';
				return plan.isInstalments ? 'account.instalments' : 'account.renews';
			case 'renewing':
			case 'owing':
				if (plan.toPay !== null) return plan.isOpen ? 'account.to-pay' : 'account.to-pay-shut';
				return plan.isOpen ? 'account.retrying' : 'account.owes-shut';
			case 'ending':
				return 'account.ending';
			case 'resting':
				return plan.tryAt === null ? 'account.rests' : 'account.rests-until';
			case 'finished':
				return plan.openUntil === null ? 'account.paid' : 'account.paid-until';
			case 'ended':
				if (plan.endedAt === null) return null;
				return plan.endReason === null || plan.endReason === 'cancelled'
					? 'account.ended'
					: `account.ended-${plan.endReason}`;
		}
	}

	/** The day that the sentence speaks of. */
	function dayOf(plan: (typeof data.plans)[number]): number {
		if (plan.state === 'ended') return plan.endedAt ?? 0;
		const goesOn = plan.state === 'first' || plan.state === 'running';
		const isOver = plan.state === 'finished' || (goesOn && plan.nextMinor === null);
		return (isOver ? (plan.openUntil ?? plan.paidThrough) : plan.paidThrough) ?? 0;
	}

	function canCancel({ state, isInstalments }: (typeof data.plans)[number]): boolean {
		return !isInstalments && state !== 'finished' && state !== 'ended';
	}
</script>

<svelte:head><title>{words().say('account.title')} · {data.site.name}</title></svelte:head>

<div class="mb-6 flex flex-wrap items-baseline justify-between gap-3">
	<h1>{words().say('account.title')}</h1>
	<form method="post" action="/sign-out" class="flex flex-wrap items-baseline gap-3">
		<span class="text-quiet">{data.viewer?.name}, {data.viewer?.email}</span>
		<a href="/account/details">{words().say('account.details')}</a>
		<button class="button-quiet">{words().say('account.sign-out')}</button>
	</form>
</div>

{#if form && 'problem' in form && form.problem}<p role="alert" class="mb-4 font-medium text-brick">
		{words().maybe(form.problem)}
	</p>{/if}
{#if data.said}
	{@const isBad = data.said === 'declined' || data.said === 'ended' || data.said === 'no-card'}
	<p
		role="status"
		class="mb-4 border-l-4 px-4 py-2 {isBad ? 'border-gorse bg-gorse-wash' : 'border-moss bg-moss-wash'}"
	>
		{words().say(`account.said-${data.said}`)}
	</p>
{/if}

{#if data.unreached !== null}
	<p class="mb-4 border-l-4 border-gorse bg-gorse-wash px-4 py-2">
		{words().say('account.mails-come-back', { address: data.unreached })}
		<a href="/account/details#address">{words().say('account.mend-address')}</a>
	</p>
{/if}

{#snippet plans()}<a href="/plans">{words().say('account.see-plans')}</a>{/snippet}

{#if data.waiting.length > 0}
	<section class="mb-8" aria-labelledby="waiting">
		<h2 id="waiting" class="mb-3">{words().say('account.waiting')}</h2>
		<ul class="sheet px-5 py-3">
			{#each data.waiting as { id, plan, number, amountMinor, currency } (id)}
				<li class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-2 last:border-b-0">
					<span class="mr-auto"
						>{words().say('account.waiting-order', {
							...{ plan, number, amount: words().money(amountMinor, currency) }
						})}</span
					>
					<a class="button-quiet" href="/checkout/return/{id}">{words().say('account.how-to-pay')}</a>
				</li>
			{/each}
		</ul>
	</section>
{/if}

{#if data.gifts.waiting.length + data.seats.length > 0}
	<section class="mb-8" aria-labelledby="for-you">
		<h2 id="for-you" class="mb-3">{words().say('account.for-you')}</h2>
		<ul class="sheet px-5 py-3">
			{#each data.gifts.waiting as { id, plan, giver } (id)}
				<li class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-2 last:border-b-0">
					<span class="mr-auto">{words().say('account.gift-waits', { plan, giver })}</span>
					<a class="button-main" href="/gifts/{id}">{words().say('account.gift-look')}</a>
				</li>
			{/each}
			{#each data.seats as { id, plan, giver } (id)}
				<li class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-2 last:border-b-0">
					<span class="mr-auto">{words().say('account.seat-waits', { plan, giver })}</span>
					<a class="button-main" href="/account/seat/{id}">{words().say('account.seat-look')}</a>
				</li>
			{/each}
		</ul>
	</section>
{/if}

<section class="grid gap-4" aria-labelledby="plans">
	<h2 id="plans">{words().say('account.plans')}</h2>
	{#each held as plan (plan.id)}
		{#snippet day()}<Moment at={dayOf(plan)} {zone} />{/snippet}
		{#snippet until()}<Moment
				at={(plan.toPay === null ? plan.tryAt : plan.openUntil) ?? 0}
				{zone}
			/>{/snippet}
		<article class="sheet grid gap-3 p-5 pt-6 sm:grid-cols-[1fr_auto]">
			<div>
				<h3 class="flex flex-wrap items-center gap-x-3 font-semibold">
					{plan.name}
					<StateMark verdict={plan.isOpen ? 'open' : plan.begins === null ? 'shut' : 'opens-later'} />
				</h3>
				<p class="text-quiet">
					{priceText(words(), plan.terms)}
				</p>
				{#if plan.begins !== null}
					{#snippet firstDay()}<Moment at={plan.begins ?? 0} {zone} />{/snippet}
					<p><Words of="account.begins" things={{ day: firstDay }} /></p>
				{/if}
				<p>
					{#if sentenceOf(plan)}
						<Words
							of={sentenceOf(plan) ?? 'account.ended'}
							values={{ amount: words().money(plan.nextMinor ?? 0, plan.terms.currency) }}
							things={{ day, until }}
						/>
					{/if}
				</p>
				{#if plan.later}
					{#snippet laterDay()}<Moment at={plan.later?.at ?? 0} {zone} />{/snippet}
					<p class="font-medium">
						<Words of="account.later" values={{ plan: plan.later.name }} things={{ day: laterDay }} />
					</p>
				{/if}
				{#if plan.card}
					<form method="post" action="?/card" class="mt-1 flex flex-wrap items-baseline gap-x-3 text-sm">
						<input type="hidden" name="agreement" value={plan.id} />
						{#if plan.card.ending !== null}<span class="text-quiet"
								>{words().say('account.card', {
									ending: plan.card.ending,
									expires: plan.card.expires ?? 'none'
								})}</span
							>{/if}
						<button class="cursor-pointer text-moss underline">{words().say('account.card-change')}</button>
					</form>
				{/if}
				{#if plan.isOpen && plan.items.length > 0}
					<ul class="mt-2 grid gap-1">
						{#each plan.items as item (item.id)}<li><a href={item.address}>{item.title}</a></li>{/each}
					</ul>
				{/if}
			</div>
			<div class="flex flex-wrap content-start items-start gap-2 sm:flex-col">
				{#if plan.toPay !== null}<a class="button-main" href="/account/waiting/{plan.toPay}"
						>{words().say('account.how-to-pay')}</a
					>{/if}
				{#if plan.owed}<a class="button-main" href="/account/pay/{plan.id}"
						>{words().say('account.pay-now', {
							amount: words().money(plan.owed.amountMinor, plan.owed.currency)
						})}</a
					>{/if}
				{#if plan.isOpen && plan.items[0]}<a
						class={plan.owed || plan.toPay !== null ? 'button-quiet' : 'button-main'}
						href={plan.items[0].address}>{words().say('plan.open')}</a
					>{/if}
				{#if plan.state === 'ending'}
					<form method="post" action="?/resume">
						<input type="hidden" name="subscription" value={plan.id} />
						<button class="button-quiet">{words().say('account.keep', { plan: plan.name })}</button>
					</form>
				{:else if plan.state === 'resting'}
					<form method="post" action="?/wake">
						<input type="hidden" name="subscription" value={plan.id} />
						<button class={plan.isOpen ? 'button-quiet' : 'button-main'}
							>{words().say('account.go-on')}</button
						>
					</form>
				{/if}
				{#if plan.seats > 1}
					<a class="button-quiet" href="/account/seats/{plan.id}">{words().say('account.seats')}</a>
				{/if}
				{#if plan.mayMove}
					<a class="button-quiet" href="/account/move/{plan.id}">{words().say('account.move')}</a>
				{/if}
				{#if plan.mayPause}
					<a class="button-quiet" href="/account/pause/{plan.id}">{words().say('account.pause')}</a>
				{/if}
				{#if plan.state !== 'ending' && canCancel(plan)}
					<a class="button-quiet" href="/account/cancel/{plan.id}">{words().say('account.cancel')}</a>
				{/if}
			</div>
		</article>
	{/each}
	{#each given as one (one.id)}
		{#snippet from()}<Moment at={one.from} {zone} />{/snippet}
		{#snippet until()}<Moment at={one.until ?? 0} {zone} />{/snippet}
		<article class="sheet grid gap-3 p-5 pt-6 sm:grid-cols-[1fr_auto]">
			<div>
				<h3 class="flex flex-wrap items-center gap-x-3 font-semibold">
					{one.name}
					<StateMark verdict={one.isOpen ? 'open' : 'opens-later'} />
				</h3>
				<p class="text-quiet">{words().say(`account.source-${one.source}`)}</p>
				<p>
					{#if !one.isOpen}<Words of="account.given-from" things={{ from }} />
					{:else if one.until === null}{words().say('account.given')}
					{:else}<Words of="account.given-until" things={{ until }} />{/if}
				</p>
				{#if one.items.length > 0}
					<ul class="mt-2 grid gap-1">
						{#each one.items as item (item.id)}<li><a href={item.address}>{item.title}</a></li>{/each}
					</ul>
				{/if}
			</div>
			{#if one.items[0]}<a class="button-main self-start" href={one.items[0].address}
					>{words().say('plan.open')}</a
				>{/if}
		</article>
	{/each}
	{#if held.length === 0 && given.length === 0}
		<p class="sheet p-5 pt-6"><Words of="account.no-plan" things={{ plans }} /></p>
	{/if}
</section>

{#if before.length > 0 || over.length > 0}
	<section class="mt-8" aria-labelledby="before">
		<h2 id="before" class="mb-3">{words().say('account.before')}</h2>
		<ul class="sheet px-5 py-3">
			{#each before as plan (plan.id)}
				{#snippet day()}<Moment at={dayOf(plan)} {zone} />{/snippet}
				<li class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-line py-2 last:border-b-0">
					<span class="font-medium">{plan.name}</span>
					<span class="mr-auto text-quiet"
						><Words of={sentenceOf(plan) ?? 'account.ended'} things={{ day }} /></span
					>
					{#if plan.isOnSale && !held.some(({ slug }) => slug === plan.slug)}
						<a href="/checkout/{plan.slug}">{words().say('plan.buy-again')}</a>
					{/if}
				</li>
			{/each}
			{#each over as one (one.id)}
				{#snippet day()}<Moment at={one.until ?? 0} {zone} />{/snippet}
				<li class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-line py-2 last:border-b-0">
					<a class="font-medium" href="/plans/{one.slug}">{one.name}</a>
					<span class="mr-auto text-quiet"
						>{words().say(`account.source-${one.source}`)} <Words of="account.ended" things={{ day }} /></span
					>
				</li>
			{/each}
		</ul>
	</section>
{/if}

{#if data.gifts.gave.length > 0}
	<section class="mt-8" aria-labelledby="gifts">
		<h2 id="gifts" class="mb-3">{words().say('account.gifts')}</h2>
		<ul class="sheet px-5 py-3">
			{#each data.gifts.gave as gift (gift.id)}
				{#snippet day()}<Moment at={gift.at} {zone} />{/snippet}
				<li class="grid gap-2 border-b border-line py-2 last:border-b-0">
					<p class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
						<span class="font-medium">{gift.plan}</span>
						{#if gift.email}<span>{words().say('account.gift-to', { address: gift.email })}</span>{/if}
						<span class="text-quiet"><Words of={`account.gift-${gift.state}`} things={{ day }} /></span>
					</p>
					{#if gift.state === 'kept' || gift.state === 'told'}
						<GiftAddress {gift} answered={form && 'gift' in form && form.gift === gift.id ? form : null} />
					{/if}
				</li>
			{/each}
		</ul>
	</section>
{/if}

<section class="mt-8" aria-labelledby="payments">
	<h2 id="payments" class="mb-3">{words().say('account.payments')}</h2>
	{#if data.payments.length === 0}
		<p class="text-quiet">{words().say('account.none')}</p>
	{:else}
		<div class="sheet px-5 py-3">
			<div class="overflow-x-auto">
				<table class="w-full">
					<thead>
						<tr class="text-left text-sm text-quiet">
							<th class="py-2 pr-4 font-medium">{words().say('account.date')}</th>
							<th class="py-2 pr-4 text-right font-medium">{words().say('account.amount')}</th>
							<th class="py-2 pr-4 font-medium">{words().say('account.state')}</th>
							<th class="py-2 font-medium">{words().say('account.documents')}</th>
						</tr>
					</thead>
					<tbody>
						{#each data.payments as payment (payment.id)}
							<tr class="border-t border-line">
								<td class="py-2 pr-4"><Moment at={payment.at} {zone} /></td>
								<td class="py-2 pr-4 text-right whitespace-nowrap">
									{words().money(payment.amountMinor, payment.currency)}
								</td>
								<td class="py-2 pr-4">{words().say(`payment.${payment.standing}`)}</td>
								<td class="py-2 whitespace-nowrap">
									{#each payment.documents as number (number)}
										<a class="block" href="/account/documents/{number}">{number}</a>
									{/each}
								</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</div>
		</div>
	{/if}
</section>
