<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import ChangedElsewhere from '$ui/components/ChangedElsewhere.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import ListenerFields from '$ui/components/ListenerFields.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import { Editing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import Pager from '$ui/parts/Pager.svelte';
	import { refresh } from '$ui/refresh';
	import { answerWords, CALL_KINDS, CALL_STATE_WORDS, callStanding, listenWords } from '$ui/wording/calls';

	let { data, form } = $props();

	const editing = new Editing();
	const answer = $derived(
		editing.of(form) as {
			errors?: Record<string, string[]>;
			values?: Record<string, string | string[]>;
			theirs?: { revision: string; words: string };
		} | null
	);
	const listener = $derived(data.listener);
	const counts = $derived(data.counts);
	const isTold = $derived(listener.endedAt === null);
	const isCalled = $derived(isTold && listener.url !== null);
	const STATES = ['waiting', 'taken', 'refused', 'let-go'] as const;
	const COLOURS = {
		waiting: 'text-gorse',
		taken: 'text-quiet',
		refused: 'text-brick',
		'let-go': 'text-quiet'
	};

	// While something is on its way, what comes of it is looked for.
	const isOnItsWay = $derived(isCalled && counts.waiting > 0);
	$effect(() => {
		if (!isOnItsWay) return;
		const timer = setInterval(() => void refresh(), 2000);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>{listener.name} · Programs · Settings · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/settings/programs#told">All programs</a></p>
<section class="sheet grid max-w-5xl gap-3 p-6 pt-7" aria-labelledby="listener">
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h1 id="listener" class="text-xl">{listener.name}</h1>
		<span class="flex flex-wrap gap-2">
			{#if isCalled}
				<form method="post" action="?/try" use:enhance>
					<button class="button-main">Make a trial call</button>
				</form>
			{/if}
			<a class="button-quiet" href="/desk/settings/programs/{listener.id}/calls.csv" download
				>As a table (CSV)</a
			>
			{#if isCalled}<Confirm
					label="New secret"
					title="Sign with a new secret?"
					what="The one it has is worth nothing from then on: it takes no call until it is given the new one. What it does not take meanwhile waits."
					action="?/secret"
					confirmLabel="Make a new secret"
					isQuiet
				/>{/if}
			{#if isTold}<Confirm
					label="End"
					title="Tell {listener.name} nothing any more?"
					what="It hears of nobody from now on, and does not come back. {counts.waiting === 0
						? ''
						: `${counts.waiting} ${counts.waiting === 1 ? 'call that waits is' : 'calls that wait are'} not sent. `}What it was told stays in the table for 90 days."
					action="?/end"
					confirmLabel="Tell it nothing more"
				/>{/if}
		</span>
	</div>
	{#if form && 'secret' in form && form.secret}
		<div role="status" class="rounded-sheet border-l-4 border-moss bg-moss-wash px-4 py-2">
			<p class="font-medium">Give it this secret now. It is not shown again.</p>
			<p class="font-mono break-all">{form.secret}</p>
		</div>
	{/if}
	{#if form && 'problem' in form}<p role="alert" class="font-medium text-brick">{form.problem}</p>{/if}
	<Saved text={form && 'said' in form ? (form.said ?? null) : null} />
	<p>
		It is told {listenWords(listener.events)}: of {listener.planNames === null
			? 'every plan'
			: listener.planNames.join(', ')}.
		{#if listener.url === null}Nobody is called: it is kept here, to be taken along as a table.
		{:else}It is called at <span class="break-all">{listener.url}</span>; we sign as
			<span class="font-mono text-sm break-all">{listener.id}</span>.{/if}
	</p>
	<p class="text-quiet">
		By now: {callStanding({ ...listener, count: counts })}{#if data.lastTakenAt !== null}, the last
			<Moment at={data.lastTakenAt} zone={data.site.zone} precise />{/if}. Whoever held a plan before is not
		among them: they stand in <a href="/desk/members">Members</a>, which can be taken along, too.
	</p>
	{#if isCalled && listener.failures > 0}
		<div
			class="flex flex-wrap items-center gap-3 rounded-sheet border-l-4 border-gorse bg-gorse-wash px-4 py-2"
		>
			<p>
				It has not taken what it is told {listener.failures === 1
					? 'once'
					: `${listener.failures} times in a row`}.
				{#if listener.restsUntil}It is called again at <Moment
						at={listener.restsUntil}
						zone={data.site.zone}
						precise
					/>; what is not taken within two days is given up.{/if}
			</p>
			<form method="post" action="?/now" use:enhance>
				<button class="button-quiet">Call it now</button>
			</form>
		</div>
	{/if}
	{#if isCalled && counts.refused > 0}
		<div class="flex flex-wrap items-center gap-3 rounded-sheet border-l-4 border-brick px-4 py-2">
			<p>{counts.refused} refused: mend the program, then send them again.</p>
			<form method="post" action="?/again" use:enhance>
				<button class="button-quiet">Send the refused again</button>
			</form>
			<form method="post" action="?/letGo" use:enhance>
				<button class="button-quiet">Let them go</button>
			</form>
		</div>
	{/if}

	<h2 id="calls" class="mt-3">What it was told</h2>
	<nav class="flex flex-wrap gap-2 text-sm" aria-label="Which calls">
		<a class="page" href={page.url.pathname} aria-current={data.state === null ? 'page' : undefined}>all</a>
		{#each STATES as state (state)}
			{#if counts[state] > 0 || data.state === state}
				<a
					class="page"
					href="{page.url.pathname}?state={state}"
					aria-current={data.state === state ? 'page' : undefined}
					>{CALL_STATE_WORDS[state]} {counts[state]}</a
				>
			{/if}
		{/each}
	</nav>
	<ul class="divide-y divide-line">
		{#each data.calls as call (call.id)}
			{@const whom = call.about.name || call.about.email}
			<li class="grid gap-1 py-2">
				<div class="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1">
					<span class="min-w-0">
						{#if call.event === 'trial'}<span class="font-medium">A trial call</span>
						{:else}<span class="font-medium"><bdi>{whom}</bdi></span>
							{CALL_KINDS[call.event]}
							<span class="font-medium">{call.about.plan}</span>
							{#if call.about.total}<span>for {call.about.total}</span>{/if}{/if}
						<span class="text-sm text-quiet"
							><Moment at={call.createdAt} zone={data.site.zone} precise /></span
						>
					</span>
					<span class="flex items-center gap-3">
						<span class="text-sm {COLOURS[call.state]}">{CALL_STATE_WORDS[call.state]}</span>
						{#if isCalled && call.state !== 'waiting'}
							<form method="post" action="?/again" use:enhance>
								<input type="hidden" name="call" value={call.id} />
								<button
									class="button-quiet"
									aria-label="Send again: {`${whom} ${CALL_KINDS[call.event]}`.trim()}">Send again</button
								>
							</form>
						{/if}
					</span>
				</div>
				{#if call.tries > 0}
					<p class="text-sm break-words text-quiet">
						{answerWords(call.status, call.answer)}
						{#if call.tries > 1}({call.tries} tries){/if}
					</p>
				{/if}
				<Fold label="What is sent"
					><pre class="overflow-x-auto text-sm">{JSON.stringify(JSON.parse(call.body), null, 2)}</pre></Fold
				>
			</li>
		{:else}
			<li class="py-1.5 text-quiet">
				{data.state === null ? 'Nothing yet: it is told of what happens from now on.' : 'None of that.'}
			</li>
		{/each}
	</ul>
	<Pager of="what it was told" total={data.total} pageSize={data.pageSize} />
</section>

{#if data.kept}
	<form
		method="post"
		action="?/save"
		aria-label="Where and of what it is told"
		class="sheet mt-5 grid max-w-5xl gap-4 p-6 pt-7"
		novalidate
		use:enhance={editing.submit}
	>
		<h2>Where and of what it is told</h2>
		{#if answer?.theirs}<ChangedElsewhere
				theirs={answer.theirs}
				what="this program"
				href={page.url.pathname}
			/>{/if}
		<ErrorSummary errors={answer?.errors ?? {}} />
		{#key editing.version}
			<ListenerFields
				plans={data.plans}
				kept={data.kept}
				values={answer?.values ?? {}}
				errors={answer?.errors ?? {}}
			/>
			<EditorFoot {editing} of="listener {listener.id}" revision={data.revision} />
		{/key}
	</form>
{/if}
