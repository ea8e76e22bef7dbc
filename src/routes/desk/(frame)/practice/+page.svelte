<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import { formatMoney } from '$core/billing/money';
	import { asking } from '$ui/address';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import Menu from '$ui/parts/Menu.svelte';
	import { formatMoment } from '$ui/wording/time';
	import { refresh } from '$ui/refresh';
	import { wholePage } from '$ui/whole-page';

	let { data, form } = $props();

	const { zone } = $derived(data.site);
	const counted = (count: number, one: string, more: string) => `${count} ${count === 1 ? one : more}`;
	const stands = $derived(
		data.facts &&
			[
				counted(data.facts.buyers, 'buyer', 'buyers'),
				counted(data.facts.orders, 'order', 'orders'),
				counted(data.facts.mails, 'mail', 'mails')
			].join(', ')
	);
	const isEmpty = $derived(!data.facts || data.facts.buyers + data.facts.orders + data.facts.mails === 0);
	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const problem = $derived(form && 'problem' in form ? form.problem : null);
	const saved = $derived.by(() => {
		if (form && 'emptied' in form && form.emptied)
			return `Deleted: ${counted(form.emptied.buyers, 'buyer', 'buyers')} and ${counted(form.emptied.orders, 'order', 'orders')}. Nothing else was touched.`;
		return null;
	});
	const moved = $derived(
		form && 'movedTo' in form && form.movedTo
			? `It is ${formatMoment(form.movedTo, zone)} there now. On the way, ${counted(form.jobs ?? 0, 'thing', 'things')} fell due.`
			: null
	);
	let isMoving = $state(false);

	const LOOKED_MS = 4000;
	const isPractising = $derived(data.doings !== null);
	// Mails come by themselves: whoever looks on sees it.
	$effect(() => {
		if (!isPractising) return;
		const timer = setInterval(() => {
			if (document.visibilityState === 'visible') void refresh('desk:practice');
		}, LOOKED_MS);
		return () => clearInterval(timer);
	});
	let days = $state('31');
	let next = $derived(data.places.some(({ href }) => href === data.begin) ? data.begin : '/plans');

	const STATES = {
		pending: 'Waits on its page',
		captured: 'Paid',
		declined: 'Declined',
		expired: 'Its page has ended'
	};
	const DISPUTES = { open: 'taken back by the bank', won: 'you won it', lost: 'you lost it' };
	const STEPS = [
		['1', 'a day'],
		['7', 'a week'],
		['31', 'a month'],
		['366', 'a year']
	] as const;

	let bank = $state<HTMLFormElement | null>(null);
	let ref = $state('');
	let deed = $state('');
	/** What a bank can do with a payment by now. */
	function deedsOf(of: NonNullable<typeof data.doings>['payments'][number]) {
		const press = (what: string) => () => {
			[ref, deed] = [of.ref, what];
			// The fields follow first.
			setTimeout(() => bank?.requestSubmit());
		};
		if (of.dispute === 'open')
			return [
				{ label: 'The bank decides for you', onChoose: press('won') },
				{ label: 'The bank decides for the buyer', onChoose: press('lost') }
			];
		if (of.leftMinor === 0) return [];
		return [
			{ label: 'The buyer’s bank takes it back', onChoose: press('dispute') },
			{ label: 'The processor refunds it', onChoose: press('refund') }
		];
	}
</script>

<svelte:head><title>Practise buying · Desk</title></svelte:head>

<div class="grid items-start gap-5 @4xl:grid-cols-2">
	<section class="sheet grid gap-4 p-6 pt-7">
		<h1 class="text-xl">{data.doings ? 'You practise' : 'Practise buying'}</h1>
		<Saved text={saved} />
		{#if problem}<p role="alert" class="font-medium text-brick">{problem}</p>{/if}
		{#if data.doings}
			<p>
				On the front you are nobody yet, or whom you made up. Buy with any made-up name and address, and pay
				with a test card. <a href="/desk/sales/orders">Orders</a>, <a href="/desk/members">members</a>,
				<a href="/desk/insight">Insight</a> and <a href="/desk">Today</a> show the practice book until you leave.
			</p>
			<div class="flex flex-wrap gap-3">
				<a class="button-main" href={next} data-sveltekit-reload>Go and buy</a>
				<form method="post" action="?/leave" use:enhance={wholePage}>
					<button class="button-quiet">Leave practice</button>
				</form>
			</div>
		{:else}
			<p>
				Go through your own site as somebody you make up: buy, pay, be declined, renew, cancel, be refunded.
				Pages, prices, mails and access are the real ones.
			</p>
			<ul class="grid list-disc gap-1 pl-5">
				<li>
					It stands in a book of its own, with numbers of its own: in no figure, no list and no table of
					yours.
				</li>
				<li>Cards are test cards, and no mail leaves Stile: you read them here.</li>
				<li>Its time is its own, too: move it on, and see what falls due.</li>
				<li>Nobody outside is told, and what is sold stays as it is.</li>
			</ul>
			<form method="post" action="?/begin" class="flex flex-wrap items-end gap-3" use:enhance={wholePage}>
				<SelectField
					name="next"
					label="Begin at"
					options={data.places.map(({ href, label }) => ({ value: href, label }))}
					bind:value={next}
				/>
				<button class="button-main">Begin to practise</button>
			</form>
		{/if}
	</section>

	<section class="sheet grid gap-4 p-6 pt-7" aria-labelledby="book">
		<h2 id="book" class="text-lg">The practice book</h2>
		{#if isEmpty}
			<p class="text-quiet">Nothing stands in it{data.doings ? ' yet' : ''}.</p>
		{:else}
			<p>{stands}.</p>
		{/if}
		{#if data.facts && data.doings}
			<p>It is <strong><Moment at={data.facts.now} {zone} precise /></strong> there.</p>
			<Saved text={moved} />
			<form
				method="post"
				action="?/move"
				class="flex flex-wrap items-end gap-3"
				novalidate
				use:enhance={() => {
					isMoving = true;
					return async ({ update }) => {
						await update({ reset: false });
						isMoving = false;
					};
				}}
			>
				<NumberField name="days" label="Move on by days" {errors} class="max-w-32" bind:value={days} />
				<button class="button-quiet" disabled={isMoving}>{isMoving ? 'Moving' : 'Move on'}</button>
				<p class="flex flex-wrap gap-x-4 pb-2">
					{#each STEPS as [count, label] (count)}
						<button type="button" class="cursor-pointer underline" onclick={() => (days = count)}
							>{label}</button
						>
					{/each}
				</p>
			</form>
		{/if}
		{#if !isEmpty}
			<div>
				<Confirm
					label="Delete all of it"
					title="Delete everything in the practice book?"
					what="{stands} go, with all that was paid, opened and mailed there, and its time begins anew. The site’s own members, orders and figures stay."
					action="?/empty"
					confirmLabel="Delete all of it"
				/>
			</div>
		{/if}
	</section>

	{#if data.doings}
		<section class="sheet grid gap-3 p-6 pt-7" aria-labelledby="mails">
			<h2 id="mails" class="text-lg">Mails</h2>
			{#if data.doings.mails.length === 0}
				<p class="text-quiet">Mails to whoever you made up appear here, and nowhere else.</p>
			{:else}
				<ul class="grid">
					{#each data.doings.mails as { id, to, subject, at } (id)}
						<li class="border-t border-line py-1.5">
							<a
								href={asking(page.url.searchParams, { mail: id })}
								aria-current={data.mail?.id === id ? 'true' : undefined}
								class="text-ink {data.mail?.id === id ? 'font-semibold' : ''}">{subject}</a
							>
							<span class="block text-sm text-quiet"><Moment {at} {zone} /> · to {to}</span>
						</li>
					{/each}
				</ul>
			{/if}
			{#if data.mail}
				<h3 class="mt-2 font-semibold">{data.mail.subject}</h3>
				<iframe
					class="h-128 w-full rounded-sheet border border-line bg-white"
					title="The mail as it would have arrived"
					sandbox=""
					srcdoc={data.mail.html}
				></iframe>
				<ul class="grid gap-1" aria-label="Links in it">
					{#each data.mail.links as href (href)}
						<li><a {href} class="break-all" data-sveltekit-reload>{href}</a></li>
					{/each}
				</ul>
			{/if}
		</section>

		<section class="sheet grid gap-3 p-6 pt-7" aria-labelledby="paid">
			<h2 id="paid" class="text-lg">At the processor</h2>
			{#if data.doings.payments.length === 0}
				<p class="text-quiet">
					What is paid with a test card appears here, and what its bank may do with it.
				</p>
			{:else}
				<ul class="grid">
					{#each data.doings.payments as one (one.ref)}
						<li class="flex items-start gap-3 border-t border-line py-1.5">
							<span class="min-w-0 grow"
								>{one.text}
								<span class="block text-sm text-quiet">
									<Moment at={one.createdAt} {zone} />{one.card ? ` · card …${one.card}` : ''} · {STATES[
										one.state
									]}{#if one.refundedMinor > 0}, refunded {formatMoney({
											minor: one.refundedMinor,
											currency: one.currency
										})}{/if}{#if one.dispute}, {DISPUTES[one.dispute]}{/if}
								</span></span
							>
							<span class="whitespace-nowrap tabular-nums"
								>{one.isCardOnly
									? 'keeps a card'
									: formatMoney({ minor: one.amountMinor, currency: one.currency })}</span
							>
							{#if deedsOf(one).length > 0}<Menu
									label="Bank"
									of={one.text}
									isPlain
									entries={deedsOf(one)}
								/>{/if}
						</li>
					{/each}
				</ul>
				<form method="post" action="?/bank" bind:this={bank} use:enhance hidden>
					<input type="hidden" name="ref" value={ref} />
					<input type="hidden" name="deed" value={deed} />
				</form>
			{/if}
		</section>
	{/if}
</div>
