<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { beforeNavigate, goto } from '$app/navigation';
	import Dialog from './Dialog.svelte';
	import type { Editing } from './editing.svelte';
	import { atRest, differing, forget, holdingsOf, labelIn, putIn, recall, remember } from './what-changed';

	/**
	 * The foot of an editor's form: what was changed, keeping it, and putting it back. Whoever leaves with something that is
	 * not kept is asked; what was typed stays on this device until it is kept, put back or thrown away.
	 */
	let {
		editing,
		of,
		by = null,
		revision = null,
		keep = 'Keep it',
		isHeld = false
	}: {
		editing: Editing;
		/** What is edited: drafts on this device are known by it. */
		of: string;
		/** The parameter of the address that says what is edited, where it is not its path. */
		by?: string | null;
		/** Of what is kept, so that nobody's save goes over another's unseen; `null`: there is none. */
		revision?: string | number | null;
		/** What the button says. */
		keep?: string;
		isHeld?: boolean;
	} = $props();

	let form = $state<HTMLFormElement | null>(null);
	let button = $state<HTMLButtonElement | null>(null);
	let begun = new Map<string, string[]>();
	let sent = new Map<string, string[]>();
	let draft = $state<ReturnType<typeof recall>>(null);
	let leavingTo = $state<URL | null>(null);

	const changed = $derived(editing.changed);
	const words = $derived(changed.map((label) => label.toLowerCase()).join(', '));
	let keptAt = -1;
	let standingAt: typeof revision;
	/** The one that what stands in the form began with, or that its last save made. */
	const begunWith = $derived.by(() => {
		if (changed.length === 0 || editing.kept !== keptAt) standingAt = revision;
		keptAt = editing.kept;
		return standingAt;
	});

	function begin(node: HTMLElement) {
		const found = node.closest('form');
		if (!found) return;
		form = found;
		const lookLater = () => void tick().then(() => look(found));
		const send = () => (sent = holdingsOf(found));
		begun = holdingsOf(found);
		draft = untrack(() => recall(of, begun));
		found.addEventListener('input', lookLater);
		found.addEventListener('change', lookLater);
		found.addEventListener('submit', send);
		return () => {
			found.removeEventListener('input', lookLater);
			found.removeEventListener('change', lookLater);
			found.removeEventListener('submit', send);
			editing.changed = [];
			// It was kept, and led elsewhere.
			if (editing.isSent) forget(of);
		};
	}

	function look(found: HTMLFormElement) {
		const names = differing(begun, holdingsOf(found));
		editing.changed = names
			.map((name) => labelIn(found, name))
			.filter((label): label is string => label !== null);
		if (editing.changed.length > 0) remember(of, found, names);
		else forget(of);
	}

	let keptBefore = untrack(() => editing.kept);
	$effect(() => {
		const { kept } = editing;
		if (kept === keptBefore || !form) return;
		keptBefore = kept;
		const found = form;
		draft = null;
		// What was typed on since it was sent is not kept yet.
		begun = atRest(found, sent);
		untrack(() => look(found));
		// Where nothing was, the fields follow what was kept of them.
		if (editing.changed.length === 0) void tick().then(() => (begun = holdingsOf(found)));
	});

	let followed = untrack(() => begunWith);
	$effect(() => {
		if (begunWith === followed || !form) return;
		followed = begunWith;
		const found = form;
		// The fields followed what somebody else has kept: nothing of it was changed here.
		if (untrack(() => changed.length) > 0) return;
		void tick().then(() => {
			begun = holdingsOf(found);
			// What was typed another time, and not put in yet, is still offered.
			if (draft === null) look(found);
			else editing.changed = [];
		});
	});

	beforeNavigate(({ type, from, to, cancel }) => {
		if (changed.length === 0 || editing.isSent) return;
		const isStaying =
			type !== 'leave' &&
			from?.url.pathname === to?.url.pathname &&
			(by === null || from?.url.searchParams.get(by) === to?.url.searchParams.get(by));
		if (isStaying) return;
		cancel();
		// Where the whole page is left, the browser asks.
		if (type !== 'leave') leavingTo = to?.url ?? null;
	});

	function leave() {
		const to = leavingTo;
		editing.changed = [];
		leavingTo = null;
		if (to) void goto(to);
	}

	function putBack() {
		forget(of);
		editing.putBack();
	}

	function takeDraft() {
		if (form && draft) putIn(form, draft.held, draft.words);
		draft = null;
	}

	function throwAway() {
		forget(of);
		draft = null;
	}

	function onkeydown(event: KeyboardEvent) {
		if (event.key !== 's' || !(event.ctrlKey || event.metaKey) || event.altKey) return;
		// Of several editors on a page it is the one that somebody is in, or else the one that was changed.
		const active = document.activeElement?.closest('form');
		if (active ? active !== form : changed.length === 0) return;
		event.preventDefault();
		form?.requestSubmit(button);
	}
</script>

<svelte:window {onkeydown} />

<div
	class="editor-foot {changed.length > 0 ? 'border-gorse' : 'border-line'}"
	role="group"
	aria-label="What was changed"
	{@attach begin}
>
	{#if begunWith !== null}<input type="hidden" name="revision" value={begunWith} />{/if}
	<button class="button-main" bind:this={button} disabled={isHeld}
		>{keep} <kbd class="font-sans text-sm opacity-80">Ctrl S</kbd></button
	>
	{#if changed.length > 0}
		<p role="status" class="min-w-0">
			<span class="font-medium">Changed:</span>
			{words}{#if begunWith !== revision && !editing.isSent}.
				<span class="text-gorse">Somebody else has kept a change of this meanwhile.</span>{/if}
		</p>
		<button type="button" class="ml-auto cursor-pointer underline" onclick={putBack}>Put it back</button>
	{:else if draft}
		<p role="status" class="min-w-0">
			Something was typed here and not kept: {draft.labels.join(', ').toLowerCase()}.
		</p>
		<button type="button" class="cursor-pointer underline" onclick={takeDraft}>Put it in</button>
		<button type="button" class="cursor-pointer underline" onclick={throwAway}>Throw it away</button>
	{:else if editing.kept > 0 && !editing.isPutBack}
		<p role="status" class="font-medium text-moss">Kept.</p>
		{#if editing.agreedTo}<a href="/desk/changes?agreed={editing.agreedTo}">Take it back</a>{/if}
	{/if}
</div>

<Dialog
	title="Leave without keeping it?"
	what="Changed: {words}. What you typed stays on this device, and can be put in when you come back."
	bind:isOpen={() => leavingTo !== null, (isOpen) => !isOpen && (leavingTo = null)}
>
	<div class="flex flex-wrap justify-end gap-2">
		<button type="button" class="button-quiet" onclick={leave}>Leave</button>
		<button type="button" class="button-main" onclick={() => (leavingTo = null)}>Stay here</button>
	</div>
</Dialog>
