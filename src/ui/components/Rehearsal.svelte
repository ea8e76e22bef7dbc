<script lang="ts">
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import type { EffectKind } from '$core/access/rehearse';
	import { forgetAnswer } from '$ui/answer';
	import { formatMoment } from '$ui/wording/time';

	/** What a save would do, inside its form: the yes names the rehearsal, and goes to the action that was rehearsed. */
	let {
		rehearsal,
		title,
		zone,
		action,
		did = null,
		besides = [],
		onLeave = forgetAnswer
	}: {
		rehearsal: RehearsalView;
		/** What it is that one says yes to. */
		title: string;
		zone: string;
		/** Where the yes is sent, whichever other buttons the form has. */
		action: string;
		/** What was pressed, where one action does several things. */
		did?: string | null;
		/** What else it would do, in sentences. */
		besides?: string[];
		/** Nothing is done, and it is closed: without a word to the server. */
		onLeave?: () => void;
	} = $props();

	let sheet = $state() as HTMLElement;

	/** What is lost comes first. */
	const COUNTS: [EffectKind, string, string][] = [
		['loses-now', 'lose access now', 'text-brick'],
		['loses-later', 'lose access later', 'text-brick'],
		['gains-now', 'gain access now', 'text-moss'],
		['gains-later', 'gain access later', 'text-moss']
	];
	const rank = ({ kind }: { kind: EffectKind }) => COUNTS.findIndex(([one]) => one === kind);
	const lines = $derived(rehearsal.lines.toSorted((a, b) => rank(a) - rank(b)));
	const counted = $derived(
		COUNTS.filter(([kind]) => rehearsal.members[kind] > 0 || rehearsal.devices[kind] > 0)
	);
	const publicly = $derived(rehearsal.outsiders.filter(({ who }) => who === 'stranger'));
	const tomorrow = $derived(rehearsal.outsiders.filter(({ who }) => who !== 'stranger'));

	const some = (words: string[], count: number, what: string) =>
		count > words.length ? `${words.join(', ')} and ${count - words.length} more ${what}` : words.join(', ');
	function when(kind: EffectKind, at: number, backAt: number | null): string {
		if (kind === 'gains-now') return 'open at once';
		if (kind === 'gains-later') return `open on ${formatMoment(at, zone)}`;
		const back = backAt === null ? '' : `, open again on ${formatMoment(backAt, zone)}`;
		return kind === 'loses-now' ? `shut at once${back}` : `shut on ${formatMoment(at, zone)}${back}`;
	}

	function anyone(kind: EffectKind, at: number, backAt: number | null): string {
		if (kind === 'gains-now') return 'Would be open to anyone';
		if (kind === 'gains-later') return `Would be open to anyone on ${formatMoment(at, zone)}`;
		const back = backAt === null ? '' : ` until ${formatMoment(backAt, zone)}`;
		return kind === 'loses-now'
			? `Would close to the public${back}`
			: `Would close to the public on ${formatMoment(at, zone)}${back}`;
	}
	function whoever(who: (typeof tomorrow)[number]['who'], name: string): string {
		if (who === 'joins') return name;
		return who === 'redeems' ? `With a code of ${name}` : 'Signed up, without a plan';
	}
	function people({ people, peopleCount, devices }: RehearsalView['lines'][number]): string {
		const without = `${devices} ${devices === 1 ? 'device' : 'devices'} with a code`;
		if (peopleCount === 0) return without;
		return some(people, peopleCount, 'members') + (devices > 0 ? ` and ${without}` : '');
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
	<h3 id="rehearsal" class="text-lg font-semibold">{title}</h3>
	<p class="mt-1">Nothing is saved yet.</p>
	{#if counted.length > 0}
		<dl class="mt-3 flex flex-wrap gap-x-8 gap-y-2">
			{#each counted as [kind, label, colour] (kind)}
				<div>
					<dt class="text-sm">{rehearsal.members[kind] === 1 ? 'member' : 'members'} would {label}</dt>
					<dd class="text-xl font-semibold {colour}">
						{rehearsal.members[kind]}
						{#if rehearsal.devices[kind] > 0}
							<span class="text-sm font-normal">and {rehearsal.devices[kind]} without an account</span>
						{/if}
					</dd>
				</div>
			{/each}
		</dl>
		<ul class="mt-3 grid gap-1.5">
			{#each lines as line, n (n)}
				<li class={line.kind.startsWith('loses') ? 'text-brick' : ''}>
					<strong>{people(line)}</strong>: {some(line.titles, line.titleCount, 'things')}
					would {when(line.kind, line.at, line.backAt)}.
				</li>
			{/each}
		</ul>
		<p class="mt-2 text-sm">
			{#if rehearsal.moreLines > 0}And {rehearsal.moreLines} more lines like these.{/if}
			{#if rehearsal.hasRows}<a href="/desk/rehearsals/{rehearsal.id}/rows.csv" download
					>All of it as a table (CSV)</a
				>{/if}
		</p>
	{/if}
	{#each besides as sentence (sentence)}<p class="mt-3 font-medium text-brick">{sentence}</p>{/each}
	{#each publicly as { kind, titles, titleCount, at, backAt }, n (n)}
		<p class="mt-3 font-medium {kind.startsWith('gains') ? 'text-brick' : ''}">
			{anyone(kind, at, backAt)}: {some(titles, titleCount, 'things')}.
		</p>
	{/each}
	{#if tomorrow.length > 0}
		<h4 class="mt-3 font-semibold">Whoever joins tomorrow</h4>
		<ul class="mt-1 grid gap-1">
			{#each tomorrow as { who, name, kind, titles, titleCount, at, backAt }, n (n)}
				<li>
					{whoever(who, name)}: {some(titles, titleCount, 'things')} would {when(kind, at, backAt)}.
				</li>
			{/each}
		</ul>
	{/if}
	{#if rehearsal.moreOutsiders > 0}
		<p class="mt-1 text-sm">And {rehearsal.moreOutsiders} more lines like these.</p>
	{/if}
	<div class="mt-4 flex flex-wrap gap-3">
		{#if did !== null}<input type="hidden" name="do" value={did} />{/if}
		<button class="button-main" formaction={action} name="agreedTo" value={rehearsal.id}>Do it</button>
		<button type="button" class="button-quiet" onclick={onLeave}>Leave it as it was</button>
	</div>
</section>
