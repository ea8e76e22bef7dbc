<script lang="ts">
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import { asking } from '$ui/address';
	import Moment from '$ui/components/Moment.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import { aboutWords } from '$ui/wording/changes';

	let { data, form } = $props();

	const zone = $derived(data.site.zone);
	const answer = $derived(form as { saved?: string; problem?: string; rehearsal?: RehearsalView } | null);
	const chosen = $derived(data.changes.find(({ version }) => version === data.version) ?? null);
	const last = $derived(data.changes.at(-1)?.version ?? null);
</script>

<svelte:head><title>Changes of access · Desk</title></svelte:head>

<section class="sheet p-6 pt-7" aria-labelledby="changes">
	<h1 id="changes" class="text-xl">Changes of access</h1>
	<p class="mt-1 max-w-prose text-quiet">
		What was saved that opens or closes something, the newest first. As long as nobody has changed the same
		since, it can be taken back; what that would do is shown before.
	</p>
	<div class="mt-3"><Saved text={answer?.saved} /></div>
	{#if answer?.problem}<p role="alert" class="mt-3 font-medium text-brick">{answer.problem}</p>{/if}
	{#if chosen && !answer?.saved}
		<form
			method="post"
			class="mt-4 grid gap-3 rounded-sheet border-l-4 border-gorse bg-sunk p-4"
			use:enhance={() =>
				({ update }) =>
					update({ reset: false })}
		>
			<input type="hidden" name="version" value={chosen.version} />
			<h2 class="text-lg">Take back {aboutWords(chosen.about)}?</h2>
			<p>
				Saved on <Moment at={chosen.at} {zone} precise /> by {chosen.by ?? 'Stile'}.
				{#if data.whyNot}<strong class="font-medium text-gorse">{data.whyNot}</strong>{/if}
			</p>
			{#if answer?.rehearsal}
				<Rehearsal
					rehearsal={answer.rehearsal}
					title="What taking back {aboutWords(chosen.about)} would do"
					{zone}
					action=""
				/>
			{:else if !data.whyNot}
				<div class="flex flex-wrap gap-2">
					<button class="button-main">Take it back</button>
					<a class="button-quiet" href="/desk/changes">Leave it as it is</a>
				</div>
			{/if}
		</form>
	{/if}
	<ul class="mt-4 divide-y divide-line border-y border-line">
		{#each data.changes as change (change.version)}
			<li
				class="flex flex-wrap items-baseline gap-x-4 py-2 {change.version === data.version
					? 'bg-moss-wash'
					: ''}"
			>
				<span class="w-40 shrink-0 text-sm text-quiet"><Moment at={change.at} {zone} precise /></span>
				<span class="min-w-0 grow basis-60">
					<span class="inline-block font-medium first-letter:uppercase">{change.cause}</span>: {aboutWords(
						change.about
					) || 'who is named'}
				</span>
				<span class="text-sm text-quiet">{change.by ?? 'Stile'}</span>
				{#if change.version !== data.version}<a class="text-sm" href="/desk/changes?version={change.version}"
						>Take back<span class="sr-only"> {aboutWords(change.about)}</span></a
					>{/if}
			</li>
		{:else}<li class="py-4 text-quiet">Nothing was changed yet.</li>{/each}
	</ul>
	<p class="mt-3 flex gap-4">
		{#if data.before !== null}<a href="/desk/changes">The newest</a>{/if}
		{#if data.hasMore && last !== null}<a
				href={asking(page.url.searchParams, { before: String(last), version: null })}>Older ones</a
			>{/if}
	</p>
</section>
