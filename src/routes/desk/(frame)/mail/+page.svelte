<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import MailDays from '$ui/components/MailDays.svelte';
	import MailMark from '$ui/components/MailMark.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import DataTable from '$ui/parts/DataTable.svelte';
	import { refresh } from '$ui/refresh';
	import { aboutWords, queueProblem } from '$ui/wording/mail-fates';

	let { data, form } = $props();

	const asked = $derived(page.url.searchParams);
	const today = $derived(data.days.at(-1) ?? { sent: 0, back: 0 });
	const back = $derived(data.days.reduce((sum, day) => sum + day.back, 0));
	const { waiting } = $derived(data);
	const shown = $derived(data.list?.shown ?? null);
	const isStuck = $derived(waiting.failed > 0 || waiting.rows.some(({ attempts }) => attempts > 0));

	const SHOWN = [
		['sent', 'Taken'],
		['back', 'All that came back'],
		['late', 'Still on their way'],
		['refused', 'Not taken'],
		['gone', 'Nobody has the address'],
		['complaint', 'Not wanted'],
		['held', 'Not sent']
	] as const;
	const columns = [
		{ key: 'at', label: 'When' },
		{ key: 'to', label: 'To' },
		{ key: 'subject', label: 'Mail' },
		{ key: 'fate', label: 'What became of it' }
	];

	const [WHILE_WAITING_MS, ELSE_MS] = [4000, 60_000];
	const isWaiting = $derived(waiting.waiting > 0);
	// Mails leave by themselves: whoever looks on sees it.
	$effect(() => {
		const look = () => {
			if (document.visibilityState === 'visible') void refresh('desk:mail');
		};
		const timer = setInterval(look, isWaiting ? WHILE_WAITING_MS : ELSE_MS);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>Mail · Desk</title></svelte:head>

<section class="sheet grid gap-x-8 gap-y-4 p-5 pt-6 @3xl:grid-cols-[minmax(0,1fr)_22rem]">
	<div>
		<h1 class="text-xl">What leaves</h1>
		<ul class="mt-3 flex flex-wrap gap-x-10 gap-y-3 border-b-2 border-ink pb-2">
			{@render post(
				'Waiting',
				String(waiting.waiting + waiting.failed),
				isStuck ? 'text-gorse' : 'text-quiet',
				'wait'
			)}
			{@render post('Taken', String(today.sent + today.back), 'text-moss', 'taken today')}
			{@render post('Back', String(back), back > 0 ? 'text-brick' : 'text-quiet', 'came back in 14 days')}
		</ul>
	</div>
	<MailDays days={data.days} zone={data.site.zone} />
</section>

{#snippet post(name: string, count: string, colour: string, words: string)}
	<li class="flex items-end gap-3 {colour}">
		<svg
			width="8"
			height="44"
			viewBox="0 0 8 44"
			aria-hidden="true"
			fill="none"
			stroke="currentColor"
			stroke-width="4"
			>{#if name === 'Waiting'}<path d="M4 0v44" stroke-dasharray="7 5" />{:else if name === 'Back'}<path
					d="M4 0v14M4 22v22"
				/>{:else}<path d="M4 0v44" />{/if}</svg
		>
		<p>
			<span class="block text-2xl font-semibold tabular-nums">{count}</span>
			<span class="block text-sm text-quiet">{words}</span>
		</p>
	</li>
{/snippet}

{#if waiting.waiting + waiting.failed > 0 || form}
	<section class="sheet mt-5 p-5 pt-6" aria-labelledby="waiting">
		<div class="flex flex-wrap items-center gap-x-5 gap-y-2">
			<h2 id="waiting">Waiting to be sent</h2>
			{#if data.may.members && isStuck}
				<form method="post" action="?/all" use:enhance class="ml-auto">
					<button class="button-main">Send all now</button>
				</form>
			{/if}
		</div>
		<Saved text={form && 'said' in form ? (form.said ?? null) : null} />
		{#if form && 'problem' in form && form.problem}<p role="alert" class="mt-2 font-medium text-brick">
				{form.problem}
			</p>{/if}
		{#if waiting.failed > 0}<p class="mt-1 max-w-prose text-quiet">
				What could not be sent for two days is tried no more by itself.
			</p>{/if}
		{#if data.may.members}
			<ul class="mt-2">
				{#each waiting.rows as mail (mail.id)}
					<li class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-2">
						<span class="min-w-0 grow">
							<span class="font-medium">{aboutWords(mail.about)}</span>
							{#if mail.memberId}to <DeskLink href="/desk/members/{mail.memberId}">{mail.to}</DeskLink
								>{:else if mail.to}to {mail.to}{/if}
							<span class="block text-sm {mail.state === 'failed' ? 'text-brick' : 'text-quiet'}">
								{#if mail.state === 'failed'}Could not be sent: {queueProblem(mail.problem)}
								{:else if mail.attempts > 0}Tried {mail.attempts === 1 ? 'once' : `${mail.attempts} times`}: {queueProblem(
										mail.problem
									)} Next try <Moment at={mail.runAt} zone={data.site.zone} precise />.
								{:else}Is sent in a moment.{/if}
							</span>
						</span>
						{#if mail.state === 'failed' || mail.attempts > 0}
							<form method="post" action="?/now" use:enhance>
								<input type="hidden" name="jobId" value={mail.id} />
								<button class="button-quiet"
									>{mail.state === 'failed' ? 'Send it again' : 'Send it now'}</button
								>
							</form>
						{/if}
						{#if mail.state === 'failed'}
							<Confirm
								label="Let it be"
								spoken="Let it be: {aboutWords(mail.about)} to {mail.to}"
								title="Not send this mail?"
								what="“{aboutWords(mail.about)}” is not sent to {mail.to}, and stands here no more."
								action="?/be"
								confirmLabel="Do not send it"
							>
								<input type="hidden" name="jobId" value={mail.id} />
							</Confirm>
						{/if}
					</li>
				{/each}
			</ul>
			{#if waiting.waiting + waiting.failed > waiting.rows.length}<p class="mt-2 text-quiet">
					And {waiting.waiting + waiting.failed - waiting.rows.length} more.
				</p>{/if}
		{/if}
	</section>
{/if}

{#if data.list}
	<section class="sheet mt-5 p-5 pt-6">
		<div class="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-1">
			<h2>
				Mails to members <span class="text-sm font-normal text-quiet"
					>of the last 30 days; older ones are found by a name</span
				>
			</h2>
			<p class="flex flex-wrap gap-x-4 gap-y-2">
				{#each SHOWN as [state, words] (state)}
					<a
						href={asking(asked, { state: shown === state ? null : state, page: null })}
						aria-current={shown === state ? 'true' : undefined}
						class={shown === state ? 'font-semibold text-ink' : 'text-quiet'}>{words}</a
					>
				{/each}
			</p>
		</div>
		<DataTable
			caption="Mails to members"
			{columns}
			rows={data.list.rows}
			total={data.list.total}
			pageSize={data.list.pageSize}
		>
			{#snippet row(mail)}
				<td class="py-2 pr-4 align-top whitespace-nowrap"
					><Moment at={mail.at} zone={data.site.zone} precise /></td
				>
				<td class="py-2 pr-4 align-top"
					><DeskLink href="/desk/members/{mail.memberId}">{mail.name}</DeskLink><span
						class="block text-sm break-all text-quiet">{mail.address}</span
					></td
				>
				<td class="py-2 pr-4 align-top">{mail.subject}</td>
				<td class="py-2 align-top"
					><MailMark fate={mail.fate} code={mail.code} words={mail.words} isCleared={mail.isCleared} /></td
				>
			{/snippet}
			{#snippet empty()}<p class="py-6 text-quiet">No mail yet, or none that fits.</p>{/snippet}
		</DataTable>
	</section>
{/if}
