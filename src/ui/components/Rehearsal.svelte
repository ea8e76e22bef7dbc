<script lang="ts">
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import type { EffectKind } from '$core/access/rehearse';
	import { formatMoment } from '$ui/wording/time';

	/** What a save would do, inside its form: the yes names the rehearsal, and goes to the action that was rehearsed. */
	let {
		rehearsal,
		zone,
		action,
		did = null
	}: {
		rehearsal: RehearsalView;
		zone: string;
		/** Where the yes is sent, whichever other buttons the form has. */
		action: string;
		/** What was pressed, where one action does several things. */
		did?: string | null;
	} = $props();

	let sheet = $state() as HTMLElement;

	const COUNTS: [EffectKind, string, string][] = [
		['gains-now', 'gain access now', 'text-moss'],
		['loses-now', 'lose access now', 'text-brick'],
		['gains-later', 'gain access later', 'text-moss'],
		['loses-later', 'lose access later', 'text-gorse']
	];
	const counted = $derived(COUNTS.filter(([kind]) => rehearsal.members[kind] > 0));

	const some = (words: string[], count: number, what: string) =>
		count > words.length ? `${words.join(', ')} and ${count - words.length} more ${what}` : words.join(', ');
	function when(kind: EffectKind, at: number, backAt: number | null): string {
		if (kind === 'gains-now') return 'open at once';
		if (kind === 'gains-later') return `open on ${formatMoment(at, zone)}`;
		const back = backAt === null ? '' : `, open again on ${formatMoment(backAt, zone)}`;
		return kind === 'loses-now' ? `shut at once${back}` : `shut on ${formatMoment(at, zone)}${back}`;
	}

	$effect(() => {
		void rehearsal.id;
		sheet.scrollIntoView({ block: 'nearest' });
		sheet.focus();
	});
</script>

<section
	bind:this={sheet}
	tabindex="-1"
	class="rounded-sheet border-2 border-gorse bg-gorse-wash p-5"
	aria-labelledby="rehearsal"
>
	<h3 id="rehearsal" class="text-lg font-semibold">What this save would do</h3>
	<p class="mt-1">Nothing is saved yet.</p>
	{#if counted.length > 0}
		<dl class="mt-3 flex flex-wrap gap-x-8 gap-y-2">
			{#each counted as [kind, label, colour] (kind)}
				<div>
					<dt class="text-sm">{rehearsal.members[kind] === 1 ? 'member' : 'members'} would {label}</dt>
					<dd class="text-xl font-semibold {colour}">{rehearsal.members[kind]}</dd>
				</div>
			{/each}
		</dl>
		<ul class="mt-3 grid gap-1.5">
			{#each rehearsal.lines as line, n (n)}
				<li>
					<strong>{some(line.people, line.peopleCount, 'members')}</strong>: {some(
						line.titles,
						line.titleCount,
						'items'
					)}
					would {when(line.kind, line.at, line.backAt)}.
				</li>
			{/each}
		</ul>
		<p class="mt-2 text-sm">
			{#if rehearsal.moreLines > 0}And {rehearsal.moreLines} more lines like these.{/if}
			<a href="/desk/rehearsals/{rehearsal.id}/rows.csv">All of it as a table (CSV)</a>
		</p>
	{/if}
	{#if rehearsal.becomesPublic.length > 0}
		<p class="mt-3 font-medium text-brick">
			Would be open to anyone: {some(
				rehearsal.becomesPublic.slice(0, 6),
				rehearsal.becomesPublic.length,
				'items'
			)}.
		</p>
	{/if}
	{#if rehearsal.closesToPublic.length > 0}
		<p class="mt-3 font-medium">
			Would close to the public: {some(
				rehearsal.closesToPublic.slice(0, 6),
				rehearsal.closesToPublic.length,
				'items'
			)}.
		</p>
	{/if}
	{#each [{ paths: rehearsal.listsOpen, words: 'Would be open to anyone', colour: 'text-brick' }, { paths: rehearsal.listsClose, words: 'Would close to the public', colour: '' }] as { paths, words, colour } (words)}
		{#if paths.length > 0}
			<p class="mt-3 font-medium {colour}">{words}: {some(paths.slice(0, 6), paths.length, 'lists')}.</p>
		{/if}
	{/each}
	{#if rehearsal.newcomers.length > 0}
		<h4 class="mt-3 font-semibold">Whoever joins tomorrow</h4>
		<ul class="mt-1 grid gap-1">
			{#each rehearsal.newcomers as { plan, kind, titles, titleCount, at, backAt }, n (n)}
				<li>{plan}: {some(titles, titleCount, 'items')} would {when(kind, at, backAt)}.</li>
			{/each}
		</ul>
	{/if}
	<div class="mt-4 flex flex-wrap gap-3">
		{#if did !== null}<input type="hidden" name="do" value={did} />{/if}
		<button class="button-main" formaction={action} name="agreedTo" value={rehearsal.id}
			>Save it with these effects</button
		>
		<span class="self-center text-sm">Or change it above, and save again.</span>
	</div>
</section>
