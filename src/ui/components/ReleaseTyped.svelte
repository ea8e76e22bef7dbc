<script lang="ts">
	/** A release that is typed. */
	import { untrack } from 'svelte';
	import type { Window } from '$core/access/model';
	import { windowDraft } from '$ui/fence-draft';
	import Dialog from '$ui/parts/Dialog.svelte';
	import { readTyped } from '$ui/release-typed';
	import WindowInput from './WindowInput.svelte';

	let {
		title,
		planName,
		window,
		zone,
		onTake,
		onClose
	}: {
		title: string;
		planName: string;
		/** What it begins with. */
		window: Window;
		zone: string;
		onTake: (window: Window) => void;
		onClose: () => void;
	} = $props();

	let edited = $state(untrack(() => windowDraft(window, zone)));
	let problem = $state('');

	function take(event: SubmitEvent) {
		event.preventDefault();
		const read = readTyped(edited, zone);
		problem = read.ok ? '' : read.message;
		if (!read.ok) return;
		onTake(read.window);
		onClose();
	}
</script>

<Dialog
	{title}
	what="When it opens for whoever holds {planName}. Steps count from the day they joined it; dates are {zone}."
	bind:isOpen={() => true, (isOpen) => !isOpen && onClose()}
>
	<form onsubmit={take} class="grid gap-4" novalidate>
		<WindowInput bind:window={edited} name="typed" />
		{#if problem}<p role="alert" class="font-medium text-brick">{problem}</p>{/if}
		<div class="flex justify-end gap-2">
			<button type="button" class="button-quiet" onclick={onClose}>Leave it as it was</button>
			<button class="button-main">Take it</button>
		</div>
	</form>
</Dialog>
