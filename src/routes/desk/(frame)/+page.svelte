<script lang="ts">
	import { enhance } from '$app/forms';
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import Circle from '@lucide/svelte/icons/circle';
	import { formatMoney } from '$core/billing/money';
	import { refresh } from '$ui/refresh';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Progress from '$ui/parts/Progress.svelte';
	import { eventWords, whyWords } from '$ui/wording/events';

	let { data, form } = $props();

	const done = $derived(data.steps);
	const all = $derived(
		done && [
			{ done: done.hasItem, label: 'Bring in a video', href: '/desk/library' },
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
	const steps = $derived(all ?? []);
	const left = $derived(steps.filter((step) => !step.done));
	const isWorking = $derived(data.preparations.some(({ state }) => state !== 'failed'));

	$effect(() => {
		if (!isWorking) return;
		const timer = setInterval(() => void refresh(), 1500);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>Today · Desk</title></svelte:head>

<h1 class="mb-4">Today</h1>
{#if !data.may.library && !data.may.members && left.length === 0 && data.troubles.length === 0 && data.disputes.length === 0}
	<p class="sheet p-5 pt-6">Nothing waits for you. What your role opens stands in the areas above.</p>
{/if}
<div class="grid items-start gap-5 @4xl:grid-cols-2">
	{#if left.length > 0}
		<section class="sheet p-5 pt-6" aria-labelledby="steps">
			<h2 id="steps">The first steps</h2>
			<ol class="mt-3 grid gap-2">
				{#each steps as { done, label, href } (label)}
					<li class="flex items-center gap-2">
						{#if done}<CircleCheck size={18} class="text-moss" /><span class="text-quiet">{label} (done)</span
							>
						{:else}<Circle size={18} class="text-gorse" /><a {href}>{label}</a>{/if}
					</li>
				{/each}
			</ol>
		</section>
	{/if}
	{#if data.disputes.length > 0}
		<section class="sheet p-5 pt-6" aria-labelledby="disputes">
			<h2 id="disputes">Disputed payments</h2>
			<p class="mt-1 text-quiet">
				The buyer’s bank took the money back, and access has ended. It opens again by itself if the dispute is
				won.
			</p>
			<ul class="mt-2 divide-y divide-line">
				{#each data.disputes as { id, orderId, memberId, name, at, plan, amountMinor, restMinor, currency } (id)}
					<li class="py-2">
						<a href="/desk/sales/{orderId}">{formatMoney({ minor: amountMinor, currency })}</a>, {plan ??
							'a plan'}, <DeskLink href="/desk/members/{memberId}">{name}</DeskLink>
						<span class="text-sm text-quiet"><Moment {at} zone={data.site.zone} /></span>
						{#if restMinor > 0}
							<p class="text-sm">
								What they have paid of the present period is worth {formatMoney({
									minor: restMinor,
									currency
								})} still.
							</p>
						{/if}
					</li>
				{/each}
			</ul>
		</section>
	{/if}
	{#if data.asking.length > 0}
		<section class="sheet p-5 pt-6" aria-labelledby="asking">
			<h2 id="asking">Waiting for your yes</h2>
			<p class="mt-1 text-quiet">
				With its ending, other fences speak of it. Until you agree, the old content stays.
			</p>
			<ul class="mt-2 grid gap-2">
				{#each data.asking as { itemId, title, fileName } (itemId)}
					<li>
						<a href="/desk/library/{itemId}#file">{title}</a>: <bdi class="break-all">{fileName}</bdi>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
	{#if data.may.library}<section class="sheet p-5 pt-6" aria-labelledby="work">
			<h2 id="work">Being prepared</h2>
			{#if data.preparations.length === 0}
				<p class="mt-2 text-quiet">
					Nothing is being prepared. Videos that you upload show up here while they are.
				</p>
			{/if}
			<ul class="mt-2 grid gap-3">
				{#each data.preparations as { id, state, progress, problem, itemId, title } (id)}
					<li>
						<a href="/desk/library/{itemId}">{title}</a>
						{#if state === 'failed'}<p class="text-brick">
								{problem ?? 'It failed. Open it to run it again.'}
							</p>
						{:else}<Progress value={progress} label={state === 'running' ? 'Preparing' : 'Waiting'} />{/if}
					</li>
				{/each}
			</ul>
		</section>{/if}
	{#if data.troubles.length > 0 || form?.problem}
		<section class="sheet p-5 pt-6" aria-labelledby="troubles">
			<h2 id="troubles">What could not be done</h2>
			{#if form?.problem}<p class="mt-2 text-brick" role="alert">{form.problem}</p>{/if}
			<ul class="mt-2 divide-y divide-line">
				{#each data.troubles as { id, what, state, problem, attempts, memberId, name, at } (id)}
					<li class="grid gap-1 py-2">
						<div class="flex flex-wrap items-baseline justify-between gap-3">
							<span>
								{what}{#if memberId}, for <a href="/desk/members/{memberId}">{name ?? 'a member'}</a>{/if}
								<span class="text-sm text-quiet"><Moment {at} zone={data.site.zone} /></span>
							</span>
							{#if state === 'failed'}
								<form method="post" action="?/again" use:enhance>
									<input type="hidden" name="job" value={id} />
									<button class="button-quiet" aria-label="Run it again: {what}">Run it again</button>
								</form>
							{:else}<span class="text-sm text-gorse">tried {attempts} times, and tried again by itself</span
								>{/if}
						</div>
						<p class="text-sm text-brick">{problem ?? 'It failed.'}</p>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
	{#if data.may.members}<section class="sheet p-5 pt-6" aria-labelledby="events">
			<h2 id="events">Who came and went</h2>
			{#if data.events.length === 0}<p class="mt-2 text-quiet">
					Nobody yet. Joins, cancellations and refunds show up here.
				</p>{/if}
			<ul class="mt-2 divide-y divide-line">
				{#each data.events as { id, at, action, after, why, memberId, name } (id)}
					<li class="flex gap-4 py-1.5">
						<span class="w-24 shrink-0 text-sm text-quiet"><Moment {at} zone={data.site.zone} /></span>
						<span>
							<a href="/desk/members/{memberId}">{name}</a>
							{eventWords(action, after)}{#if why}<span class="text-quiet">: {whyWords(why)}</span>{/if}
						</span>
					</li>
				{/each}
			</ul>
		</section>{/if}
</div>
