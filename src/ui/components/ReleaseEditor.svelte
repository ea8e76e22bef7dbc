<script lang="ts">
	/** The release board of one plan, with what is changed on it and not kept. */
	import { untrack } from 'svelte';
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import type { BoardRow, BoardWindow } from '$core/access/board-view';
	import type { Window } from '$core/access/model';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import type { Board } from '$core/access/release-bars';
	import { turned } from '$core/library/folds';
	import { asking } from '$ui/address';
	import Sent from '$ui/fields/Sent.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import { Editing } from '$ui/parts/editing.svelte';
	import { ReleaseList } from '$ui/release-list.svelte';
	import Rehearsal from './Rehearsal.svelte';
	import ReleaseLayOut from './ReleaseLayOut.svelte';
	import ReleaseRows from './ReleaseRows.svelte';
	import ReleaseTyped from './ReleaseTyped.svelte';

	let {
		first,
		pageSize,
		planId,
		planName,
		compareName,
		board,
		hasDates,
		idle,
		nothing,
		form,
		onAsk
	}: {
		first: BoardWindow;
		pageSize: number;
		planId: string;
		planName: string;
		compareName: string;
		board: Board;
		hasDates: boolean;
		/** How many releases count nowhere, by why. */
		idle: { 'not-let-in': number; 'open-anyway': number };
		/** What is said where there are no rows. */
		nothing: string;
		form: {
			problem?: string;
			problemAt?: string;
			rehearsal?: RehearsalView;
			notes?: string[];
			undo?: string;
		} | null;
		onAsk: (changes: Record<string, string | null>) => void;
	} = $props();

	const list = new ReleaseList(
		untrack(() => pageSize),
		() => board.zone
	);
	const editing = new Editing(() => list.putBack());
	/** Of its address, what rows are asked for. */
	const asked = $derived(asking(page.url.searchParams, { plan: planId }));
	$effect.pre(() => {
		const given = first;
		const search = asked;
		untrack(() => list.begin(given, search));
	});
	// The server, too, shows what there is.
	untrack(() => list.begin(first, asked));

	const answer = $derived(editing.of(form));
	const said = $derived(list.count === 1 ? 'one release' : `${list.count} releases`);
	/** By the first of them that is known here: what was laid out may not have come into view yet. */
	const namedChange = $derived.by(() => {
		const title = rowWhere(({ id }) => list.isChanged(id))?.title;
		if (title === undefined) return said;
		return list.count > 1
			? `the releases of “${title}” and ${list.count - 1} more`
			: `the release of “${title}”`;
	});
	/** What would put back the last save that nobody had to say yes to; gone once something else is changed. */
	const undo = $derived(answer?.undo && list.count === 0 && editing.agreedTo === null ? answer.undo : null);
	const wrongRow = $derived(rowWhere(({ id }) => id === answer?.problemAt)?.title);
	const mends = $derived({
		'not-let-in': mend('not-let-in', idle['not-let-in']),
		'open-anyway': mend('open-anyway', idle['open-anyway'])
	});

	let typed = $state<{ row: BoardRow; window: Window } | null>(null);
	let laidOut = $state<BoardRow | null>(null);

	/** The first row that was read and is such a one. */
	function rowWhere(is: (row: BoardRow) => boolean): BoardRow | undefined {
		for (let n = 0; n < list.total; n++) {
			const row = list.row(n);
			if (row && is(row)) return row;
		}
		return undefined;
	}

	function mend(why: 'not-let-in' | 'open-anyway', count: number) {
		const what = count === 1 ? 'Fence it' : `Fence these ${count}`;
		return { href: `/desk/fences/new?released=${planId}&why=${why}`, words: `${what} for ${planName}` };
	}

	function fold(id: string) {
		onAsk({ folds: turned(page.url.searchParams.get('folds'), id) });
	}

	/** The keyboard goes on where it was. */
	function close(row: BoardRow) {
		typed = laidOut = null;
		requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-track="${row.id}"]`)?.focus());
	}
</script>

<form
	method="post"
	action="?/save"
	class="mt-3 grid gap-3"
	use:enhance={(event) => {
		const sent = list.sent;
		const later = editing.submit(event);
		return async (answered) => {
			if (answered.result.type === 'success') list.kept(sent);
			await (
				await later
			)?.(answered);
		};
	}}
>
	<input type="hidden" name="plan" value={planId} />
	<div class="hidden" data-field="changes" data-label={said} data-rest={'{}'}>
		<Sent name="changes" value={list.sent} onPutIn={([put = '{}']) => list.take(put)} />
	</div>
	{#if answer?.problem}<p role="alert" class="font-medium text-brick">
			{wrongRow ? `${wrongRow}: ` : ''}{answer.problem}
		</p>{/if}
	{#if answer?.rehearsal && list.count > 0}<Rehearsal
			rehearsal={answer.rehearsal}
			title="What {namedChange} would do for {planName}"
			zone={board.zone}
			action="?/save"
		/>{/if}
	{#if list.total === 0}<p class="py-6 text-quiet">{nothing}</p>
	{:else}<ReleaseRows
			{list}
			{board}
			{hasDates}
			{planName}
			{compareName}
			{mends}
			onFold={fold}
			onType={(row, window) => (typed = { row, window })}
			onLayOut={(row) => (laidOut = row)}
		/>{/if}
	{#each answer?.notes ?? [] as note (note)}<p class="text-sm">{note}</p>{/each}
	{#if undo}<p class="text-sm">
			<button type="button" class="cursor-pointer underline" onclick={() => list.take(undo)}
				>Put back what stood there before</button
			>: it is shown on the board first, and rehearsed.
		</p>{/if}
	<EditorFoot {editing} of="releases {planId}" by="plan" isHeld={list.count === 0} />
</form>

{#if typed}
	{@const { row, window } = typed}
	<ReleaseTyped
		title={row.title}
		{planName}
		{window}
		zone={board.zone}
		onTake={(taken) => list.put(row, taken)}
		onClose={() => close(row)}
	/>
{/if}
{#if laidOut}
	{@const row = laidOut}
	<ReleaseLayOut collection={row} {planId} {list} onClose={() => close(row)} />
{/if}
