<script lang="ts">
	import { enhance } from '$app/forms';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import MailMark from '$ui/components/MailMark.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>What came back · Mail · Desk</title></svelte:head>

<section class="sheet p-5 pt-6">
	<div class="flex flex-wrap items-baseline gap-x-5 gap-y-2">
		<h1 class="text-xl">Whom mails do not reach</h1>
		<a class="ml-auto" href="/desk/mail?state=back">Every mail that came back</a>
	</div>
	<p class="mt-2 max-w-prose text-quiet">
		Where nobody has the address, or three mails in a month were not taken, Stile writes no more: whoever goes
		on is soon taken for somebody who sends junk. Ways to sign in still go there when they are asked for, and
		pressing one ends this. Give the member another address, or write again if you know better.
	</p>
	<div class="mt-3"><Saved text={form && 'said' in form ? (form.said ?? null) : null} /></div>
	{#if form && 'problem' in form && form.problem}<p role="alert" class="mt-2 font-medium text-brick">
			{form.problem}
		</p>{/if}
	<ul class="mt-3">
		{#each data.held as one (one.memberId)}
			<li
				class="grid gap-x-6 gap-y-1 border-t border-line py-3 @3xl:grid-cols-[minmax(0,16rem)_minmax(0,1fr)_auto] @3xl:items-start"
			>
				<p>
					<DeskLink href="/desk/members/{one.memberId}">{one.name}</DeskLink>
					<span class="block text-sm break-all text-quiet">{one.address}</span>
				</p>
				<div>
					<MailMark fate={one.fate} code={one.code} words={one.words} />
					<p class="mt-1 text-sm text-quiet">
						“{one.subject}”{#if one.mails > 1}&#32;and {one.mails - 1} more{/if},
						<Moment at={one.fateAt ?? one.at} zone={data.site.zone} precise />
					</p>
				</div>
				<Confirm
					label="Write there again"
					spoken="Write to {one.name} again"
					title="Write to {one.name} again?"
					what="Mails go to {one.address} again, until the next one comes back. What was not sent meanwhile is not sent later."
					action="?/again"
					confirmLabel="Write there again"
					isQuiet
				>
					<input type="hidden" name="memberId" value={one.memberId} />
				</Confirm>
			</li>
		{:else}
			<li class="border-t border-line py-4 text-quiet">
				Every member can be written to, as far as is known.
			</li>
		{/each}
	</ul>
</section>
<section class="sheet mt-5 max-w-4xl p-5 pt-6" aria-labelledby="how">
	<h2 id="how">How Stile hears of it</h2>
	{#if data.hasBox}
		<p class="mt-2 max-w-prose">
			Servers report to a mailbox, and Stile reads the reports there every five minutes. What people write to
			it is left alone.
		</p>
		<form method="post" action="?/look" use:enhance class="mt-3">
			<button class="button-quiet">Look into it now</button>
		</form>
	{:else}
		<p class="mt-2 max-w-prose">
			No mailbox is set: reports go to {data.senderEmail}, and Stile does not read them. Whoever runs this
			Stile sets
			<code>STILE_RETURNS_URL</code>.
		</p>
	{/if}
	<p class="mt-3 max-w-prose text-quiet">
		A program can tell it, too, with a key of <a href="/desk/settings/programs">Settings, Programs</a>, at
		<code>/api/v1/mail-reports</code>. What a server refuses while a mail is handed over is known at once.
	</p>
</section>
