<script lang="ts">
	import { enhance } from '$app/forms';
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import Circle from '@lucide/svelte/icons/circle';
	import { formatMoney } from '$core/billing/money';
	import { refresh } from '$ui/refresh';
	import { formatBytes } from '$ui/wording/time';
	import { forgetUpload, isLeft, useUploads } from '$ui/uploads.svelte';
	import ComingReleases from '$ui/components/ComingReleases.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import MoneyChart from '$ui/components/MoneyChart.svelte';
	import MembersChart from '$ui/components/MembersChart.svelte';
	import UploadBox from '$ui/components/UploadBox.svelte';
	import UploadList from '$ui/components/UploadList.svelte';
	import PaymentAnswer from '$ui/components/PaymentAnswer.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import { RECORD_WORDS } from '$ui/wording/sender-records';
	import Progress from '$ui/parts/Progress.svelte';
	import { LEGAL_SHORT } from '$ui/wording/legal';
	import { eventWords, whyWords } from '$ui/wording/events';

	let { data, form } = $props();

	const done = $derived(data.steps);
	const all = $derived(
		done && [
			{ done: done.hasItem, label: 'Bring in a film', href: '/desk/library', brings: true },
			{
				done: done.hasPlan,
				label: 'Write a plan: what is sold, and for how much',
				href: '/desk/plans/new'
			},
			{ done: done.hasFence, label: 'Put a fence on it: who may cross', href: '/desk/fences/new' },
			{ done: done.hasPublished, label: 'Publish it', href: '/desk/library' },
			{
				done: done.hasSold,
				label: 'Buy it yourself with a test card, in a private window',
				href: '/plans'
			}
		]
	);
	interface Step {
		done: boolean;
		label: string;
		href: string;
		/** By files that are chosen here. */
		brings?: boolean;
	}
	/** Where it goes on once the first steps are done. */
	const further = $derived(
		(
			[
				['Make a course of several films', '/desk/library/new?kind=course', '/desk/library'],
				['Lay out what opens when', '/desk/releases', '/desk/releases'],
				['Check who gets in, and why', '/desk/check', '/desk/check'],
				['Put mails into your own words', '/desk/mail/words', '/desk/mail/words'],
				['Invite a colleague', '/desk/settings/staff', '/desk/settings/staff']
			] as const
		).filter(([, , needs]) => data.areas.includes(needs))
	);
	const COMING_SHOWN = 8;
	const steps = $derived<Step[]>(all ?? []);
	/** The step that is next: the one thing to press. */
	const next = $derived(steps.find((step) => !step.done));
	const left = $derived(steps.filter((step) => !step.done));
	const uploads = useUploads();
	const going = $derived(uploads.list.filter(isLeft));
	const received = $derived(uploads.list.filter(({ state }) => state === 'done'));
	/** What this tab is sending, or has stopped sending, stands there already. */
	const unfinished = $derived(
		data.unfinished.filter(
			(one) => !uploads.list.some((entry) => entry.name === one.name && entry.bytes === one.bytes)
		)
	);
	const failed = $derived(data.preparations.filter(({ state }) => state === 'failed'));
	const working = $derived(data.preparations.filter(({ state }) => state !== 'failed'));
	const byHand = $derived(data.waiting.payments.length + data.waiting.refunds.length);
	const needs = $derived(
		byHand +
			data.disputes.length +
			data.asking.length +
			failed.length +
			data.troubles.length +
			data.programs.length +
			data.sender.length +
			(data.unreached > 0 ? 1 : 0) +
			data.findings.length
	);
	const isWorking = $derived(working.length > 0);

	$effect(() => {
		if (!isWorking) return;
		const timer = setInterval(() => void refresh(), 1500);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>Today · Desk</title></svelte:head>

{#snippet row(label: string, href: string, press: string)}
	<a class="button-quiet shrink-0" {href} aria-label="{press}: {label}">{press}</a>
{/snippet}

{#snippet unlinked()}
	{#if data.unlinked.length > 0}
		<p class="mt-3 text-sm text-quiet">
			Not linked at the foot of your pages yet: {data.unlinked.map((one) => LEGAL_SHORT[one]).join(', ')}.
			What the law asks of you stands there: <a href="/desk/settings">link it in the settings</a>.
		</p>
	{/if}
{/snippet}

<h1 class="mb-4">Today</h1>
{#if left.length > 0}
	<section class="sheet mb-5 p-5 pt-6" aria-labelledby="steps">
		<h2 id="steps">The first steps</h2>
		<ol class="mt-3 grid gap-2">
			{#each steps as step (step.label)}
				{@const { done, label, href } = step}
				<li class="flex flex-wrap items-center gap-2">
					{#if done}<CircleCheck size={18} class="text-moss" /><span class="text-quiet">{label} (done)</span>
						{#if step.brings && received.length > 0}<UploadList
								list={received}
								label="Received"
								class="basis-full pl-7"
							/>{/if}
					{:else}
						<Circle size={18} class="text-gorse" />
						{#if step.brings && data.may.library}<UploadBox
								{label}
								limit={data.uploadLimit}
								isSingle
								isCompact
								onDone={() => void refresh()}
							/>
						{:else}<a {href} class={step === next ? 'button-main' : ''}>{label}</a>{/if}
					{/if}
				</li>
			{/each}
		</ol>
		{@render unlinked()}
	</section>
{/if}
{#if left.length === 0 && done?.hasJustBegun}
	<section class="sheet mb-5 p-5 pt-6" aria-labelledby="begun">
		<h2 id="begun">That was everything: {data.site.name} sells</h2>
		<p class="mt-1">
			Somebody has bought and got in. Put the address of a plan behind any button, and come back here to see
			who comes and goes. What others do next:
		</p>
		<p class="mt-3 flex flex-wrap gap-2">
			{#each further as [label, href] (href)}<a class="button-quiet" {href}>{label}</a>{/each}
		</p>
		{@render unlinked()}
	</section>
{/if}
<section class="sheet mb-5 p-5 pt-6" aria-labelledby="needs">
	<h2 id="needs">
		{needs === 0 ? 'Nothing needs you' : needs === 1 ? 'One thing needs you' : `${needs} things need you`}
	</h2>
	{#if form?.problem}<p class="mt-2 text-brick" role="alert">{form.problem}</p>{/if}
	{#if needs === 0}
		<p class="mt-1 text-quiet">
			Payments that wait, disputes, files that wait for your yes, work that failed and fences that look wrong
			would stand here.
		</p>
	{/if}
	<ul class="divide-y divide-line {needs > 0 ? 'mt-2' : ''}">
		{#each data.waiting.payments as { id, orderId, number, memberId, name, plan, period, isFirst, amountMinor, currency, at } (id)}
			{@const amount = formatMoney({ minor: amountMinor, currency })}
			<li class="flex flex-wrap items-start justify-between gap-x-4 gap-y-2 py-2.5">
				<div>
					<p>
						<strong>{amount} waits for your yes</strong>: {plan},
						<DeskLink href="/desk/members/{memberId}">{name}</DeskLink>
						<span class="text-sm text-quiet"><Moment {at} zone={data.site.zone} /></span>
					</p>
					<p class="text-sm text-quiet">
						Order <DeskLink href="/desk/sales/{orderId}">{number}</DeskLink>{isFirst
							? ', paid without a card. Nothing is open yet.'
							: `, payment ${period + 1}, paid without a card.`}
					</p>
				</div>
				<PaymentAnswer payment={id} {amount} {currency} what={plan} member={name} {isFirst} />
			</li>
		{/each}
		{#if data.waiting.hasMore}<li class="py-2.5 text-sm text-quiet">
				More payments wait: they come up here as these are answered.
			</li>{/if}
		{#each data.waiting.refunds as { id, orderId, number, memberId, name, amountMinor, currency, at } (id)}
			{@const amount = formatMoney({ minor: amountMinor, currency })}
			<li class="flex flex-wrap items-start justify-between gap-x-4 gap-y-2 py-2.5">
				<div>
					<p>
						<strong>{amount} came in for nothing</strong>: send it back to
						<DeskLink href="/desk/members/{memberId}">{name}</DeskLink>
						<span class="text-sm text-quiet"><Moment {at} zone={data.site.zone} /></span>
					</p>
					<p class="text-sm text-quiet">
						Order <DeskLink href="/desk/sales/{orderId}">{number}</DeskLink>. It was paid without a card, so
						nobody sends it back by itself.
					</p>
				</div>
				<form method="post" action="?/sent" class="shrink-0" use:enhance>
					<input type="hidden" name="refund" value={id} />
					<button class="button-quiet" aria-label="I have sent it: {amount} to {name}">I have sent it</button>
				</form>
			</li>
		{/each}
		{#each data.disputes as { id, orderId, memberId, name, at, plan, amountMinor, restMinor, currency } (id)}
			{@const amount = formatMoney({ minor: amountMinor, currency })}
			<li class="flex items-start justify-between gap-4 py-2.5">
				<div>
					<p>
						<strong>{amount} is disputed</strong>: {plan ?? 'a plan'},
						<DeskLink href="/desk/members/{memberId}">{name}</DeskLink>
						<span class="text-sm text-quiet"><Moment {at} zone={data.site.zone} /></span>
					</p>
					<p class="text-sm text-quiet">
						The buyer’s bank took it back, and access has ended. It opens again by itself if the dispute is
						won.
						{#if restMinor > 0}What they have paid of the present period is worth {formatMoney({
								minor: restMinor,
								currency
							})} still.{/if}
					</p>
				</div>
				{@render row(amount, `/desk/sales/${orderId}`, 'See the payment')}
			</li>
		{/each}
		{#each data.asking as { itemId, title, fileName } (itemId)}
			<li class="flex items-start justify-between gap-4 py-2.5">
				<div>
					<p><strong>{title}</strong> has new content: <bdi class="break-all">{fileName}</bdi></p>
					<p class="text-sm text-quiet">
						With its ending other fences speak of it. Until you agree, the old content stays.
					</p>
				</div>
				{@render row(title, `/desk/library/${itemId}#file`, 'Look at it')}
			</li>
		{/each}
		{#each failed as { id, problem, itemId, title } (id)}
			<li class="flex items-start justify-between gap-4 py-2.5">
				<div>
					<p><strong>{title}</strong> could not be prepared</p>
					<p class="text-sm text-brick">{problem ?? 'It failed. Open it to run it again.'}</p>
				</div>
				{@render row(title, `/desk/library/${itemId}`, 'Open it')}
			</li>
		{/each}
		{#each data.troubles as { id, what, state, problem, attempts, memberId, name, at } (id)}
			<li class="flex items-start justify-between gap-4 py-2.5">
				<div>
					<p>
						<strong>{what}</strong>{#if memberId}, for <DeskLink href="/desk/members/{memberId}"
								>{name ?? 'a member'}</DeskLink
							>{/if}
						<span class="text-sm text-quiet"><Moment {at} zone={data.site.zone} /></span>
					</p>
					<p class="text-sm text-brick">{problem ?? 'It failed.'}</p>
					{#if state !== 'failed'}<p class="text-sm text-gorse">
							tried {attempts} times, and tried again by itself
						</p>{/if}
				</div>
				{#if state === 'failed'}
					<form method="post" action="?/again" use:enhance>
						<input type="hidden" name="job" value={id} />
						<button class="button-quiet" aria-label="Run it again: {what}">Run it again</button>
					</form>
				{/if}
			</li>
		{/each}
		{#each data.programs as { id, name, count, isAway, since } (`${id} ${isAway}`)}
			<li class="flex items-start justify-between gap-4 py-2.5">
				<p>
					<strong>{name}</strong>
					{#if isAway}<span class="text-gorse">takes nothing that it is told</span>{#if since}
							since <Moment at={since} zone={data.site.zone} precise />{/if}: {count}
						{count === 1 ? 'call waits' : 'calls wait'}, and {count === 1 ? 'is' : 'are'} tried again.
					{:else}<span class="text-brick">has refused</span>
						{count === 1 ? 'a call' : `${count} calls`} about who joined, left or bought.{/if}
				</p>
				{@render row(name, `/desk/settings/programs/${id}`, 'Look at it')}
			</li>
		{/each}
		{#if data.unreached > 0}
			<li class="flex items-start justify-between gap-4 py-2.5">
				<p>
					<span class="text-brick">Mails come back:</span>
					{data.unreached === 1 ? '1 member is' : `${data.unreached} members are`} not reached by mail any more.
				</p>
				{@render row('Mails that come back', '/desk/mail/returned', 'Look at it')}
			</li>
		{/if}
		{#if data.sender.length > 0}
			{@const names = data.sender.map((kind) => RECORD_WORDS[kind].name).join(' and ')}
			<li class="flex items-start justify-between gap-4 py-2.5">
				<p>
					<span class="text-gorse">Mails may end among the junk:</span>
					{names}
					{data.sender.length === 1 ? 'does' : 'do'} not stand in the names of your domain as {data.sender
						.length === 1
						? 'it'
						: 'they'} should.
				</p>
				{@render row('Mails that arrive', '/desk/mail/sender', 'Look at it')}
			</li>
		{/if}
		{#each data.findings as { text, href }, n (n)}
			<li class="flex items-start justify-between gap-4 py-2.5">
				<p><span class="text-gorse">Looks wrong:</span> {text}</p>
				{#if href}{@render row(text, href, 'Look at it')}{/if}
			</li>
		{/each}
	</ul>
	{#if data.moreFindings > 0}
		<p class="mt-2 text-sm">
			<a href="/desk/fences">{data.moreFindings} more that look wrong, at the fences</a>
		</p>
	{/if}
</section>
<div class="grid grid-cols-1 items-start gap-5 @4xl:grid-cols-2">
	{#if data.may.members}<section class="sheet p-5 pt-6" aria-labelledby="events">
			<h2 id="events">Who came and went</h2>
			{#if data.events.length === 0}<p class="mt-2 text-quiet">
					Nobody yet. Joins, cancellations, lapses and refunds show up here.
				</p>{/if}
			<ul class="mt-2 divide-y divide-line">
				{#each data.events as { id, at, action, after, why, memberId, name, plan } (id)}
					<li class="flex gap-4 py-1.5">
						<span class="w-24 shrink-0 text-sm text-quiet"><Moment {at} zone={data.site.zone} /></span>
						<span>
							<a href="/desk/members/{memberId}">{name ?? 'A member'}</a>
							{eventWords(action, after, plan)}{#if why}<span class="text-quiet">: {whyWords(why)}</span>{/if}
						</span>
					</li>
				{/each}
			</ul>
		</section>{/if}
	<div class="grid grid-cols-1 gap-5">
		{#if data.may.releases}<section class="sheet p-5 pt-6" aria-labelledby="coming">
				<h2 id="coming">What opens next</h2>
				<ComingReleases at={data.now} zone={data.site.zone} most={COMING_SHOWN} />
				<p class="mt-1 text-sm"><a href="/desk/releases">The release board</a></p>
			</section>{/if}
		{#if data.money.length > 0}<section class="sheet p-5 pt-6" aria-labelledby="money">
				<h2 id="money">Money this month</h2>
				{#each data.money as money (money.currency)}<MoneyChart {money} />{/each}
			</section>{/if}
		{#if data.held}<section class="sheet p-5 pt-6" aria-labelledby="held">
				<h2 id="held">Members over a year</h2>
				<MembersChart held={data.held} zone={data.site.zone} />
			</section>{/if}
		{#if data.may.library}<section class="sheet p-5 pt-6" aria-labelledby="work">
				<h2 id="work">Under way</h2>
				{#if working.length === 0 && going.length === 0 && unfinished.length === 0}
					<p class="mt-2 text-quiet">
						Nothing. Files that are sent and films that are prepared show up here.
					</p>
				{/if}
				{#if going.length > 0}<UploadList list={going} label="Being sent" />{/if}
				{#if unfinished.length > 0}
					<ul class="mt-2 divide-y divide-line" aria-label="Left unfinished">
						{#each unfinished as { id, name, bytes, sent, at } (id)}
							<li class="py-2">
								<p>
									<bdi class="font-medium break-all">{name}</bdi>:
									{formatBytes(sent)} of {formatBytes(bytes)} were sent, last on <Moment
										{at}
										zone={data.site.zone}
										precise
									/>
								</p>
								<p class="text-sm text-quiet">Choose the same file again, and it goes on where it was.</p>
								<div class="mt-1 flex flex-wrap items-center gap-3">
									<UploadBox
										label="Go on with {name}"
										limit={data.uploadLimit}
										isSingle
										isCompact
										resumes={{ id, bytes }}
										onDone={() => void refresh()}
									/>
									<button
										type="button"
										class="cursor-pointer underline"
										aria-label="Forget {name}"
										onclick={() => void forgetUpload(id).then(() => refresh())}>Forget it</button
									>
								</div>
							</li>
						{/each}
					</ul>
				{/if}
				<ul class="mt-2 grid gap-3">
					{#each working as { id, state, progress, itemId, title } (id)}
						<li>
							<a href="/desk/library/{itemId}">{title}</a>
							<Progress value={progress} label={state === 'running' ? 'Preparing' : 'Waiting'} />
						</li>
					{/each}
				</ul>
			</section>{/if}
	</div>
</div>
