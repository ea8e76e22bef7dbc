<script lang="ts">
	import { Dialog } from 'bits-ui';
	import { tick, untrack } from 'svelte';
	import { beforeNavigate, goto } from '$app/navigation';
	import { differing, forget, holdingsOf, labelIn, putIn, recall, remember } from './what-changed';

	/**
	 * The foot of an editor's form: what was changed, keeping it, and putting it back. Whoever leaves with something that is
	 * not kept is asked; what was typed stays on this device until it is kept, put back or thrown away.
	 */
	let {
		of,
		keep = 'Keep it',
		kept = null,
		isHeld = false,
		onPutBack
	}: {
		/** What is edited: drafts on this device are known by it. */
		of: string;
		/** What the button says. */
		keep?: string;
		/** What was said to be kept; whatever is new counts as another time. */
		kept?: unknown;
		isHeld?: boolean;
		/** Makes the form anew from what is kept. */
		onPutBack?: () => void;
	} = $props();

	let form = $state<HTMLFormElement | null>(null);
	let button = $state<HTMLButtonElement | null>(null);
	let begun = new Map<string, string[]>();
	let changed = $state<string[]>([]);
	let draft = $state<ReturnType<typeof recall>>(null);
	/** On its way to the server: what it answers may lead elsewhere. */
	let isSent = false;
	let leavingTo = $state<URL | null>(null);

	/** Whatever is sent is answered within it. */
	const ANSWERED_MS = 5000;
	const words = $derived(changed.map((label) => label.toLowerCase()).join(', '));

	function begin(node: HTMLElement) {
		const found = node.closest('form');
		if (!found) return;
		form = found;
		const look = () => {
			const names = differing(begun, holdingsOf(found));
			changed = names.map((name) => labelIn(found, name)).filter((label): label is string => label !== null);
			if (changed.length > 0) remember(of, found, names);
			else forget(of);
		};
		const lookLater = () => void tick().then(look);
		const send = () => {
			isSent = true;
			setTimeout(() => (isSent = false), ANSWERED_MS);
		};
		begun = holdingsOf(found);
		draft = untrack(() => recall(of, begun));
		found.addEventListener('input', lookLater);
		found.addEventListener('change', lookLater);
		found.addEventListener('submit', send);
		return () => {
			found.removeEventListener('input', lookLater);
			found.removeEventListener('change', lookLater);
			found.removeEventListener('submit', send);
		};
	}

	$effect(() => {
		if (!kept || !form) return;
		const found = form;
		forget(untrack(() => of));
		void tick().then(() => {
			begun = holdingsOf(found);
			changed = [];
			draft = null;
		});
	});

	beforeNavigate(({ type, to, cancel }) => {
		if (changed.length === 0 || isSent) return;
		cancel();
		// Where the whole page is left, the browser asks.
		if (type !== 'leave') leavingTo = to?.url ?? null;
	});

	function leave() {
		const to = leavingTo;
		changed = [];
		leavingTo = null;
		if (to) void goto(to);
	}

	function putBack() {
		forget(of);
		changed = [];
		onPutBack?.();
	}

	function takeDraft() {
		if (form && draft) putIn(form, draft.held);
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
	<button class="button-main" bind:this={button} disabled={isHeld}
		>{keep} <kbd class="font-sans text-sm opacity-80">Ctrl S</kbd></button
	>
	{#if changed.length > 0}
		<p role="status" class="min-w-0"><span class="font-medium">Changed:</span> {words}</p>
		{#if onPutBack}<button type="button" class="ml-auto cursor-pointer underline" onclick={putBack}
				>Put it back</button
			>{/if}
	{:else if draft}
		<p role="status" class="min-w-0">
			Something was typed here and not kept: {draft.labels.join(', ').toLowerCase()}.
		</p>
		<button type="button" class="cursor-pointer underline" onclick={takeDraft}>Put it in</button>
		<button type="button" class="cursor-pointer underline" onclick={() => (forget(of), (draft = null))}
			>Throw it away</button
		>
	{:else if kept}
		<p role="status" class="font-medium text-moss">Kept.</p>
	{/if}
</div>

<Dialog.Root bind:open={() => leavingTo !== null, (isOpen) => !isOpen && (leavingTo = null)}>
	<Dialog.Portal>
		<Dialog.Overlay class="shade" />
		<Dialog.Content class="sheet dialog">
			<Dialog.Title class="text-lg font-semibold">Leave without keeping it?</Dialog.Title>
			<Dialog.Description class="mt-2">
				Changed: {words}. What you typed stays on this device, and can be put in when you come back.
			</Dialog.Description>
			<div class="mt-4 flex flex-wrap justify-end gap-2">
				<button type="button" class="button-quiet" onclick={leave}>Leave</button>
				<button type="button" class="button-main" onclick={() => (leavingTo = null)}>Stay here</button>
			</div>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
