<script lang="ts">
	import X from '@lucide/svelte/icons/x';
	import { Dialog } from 'bits-ui';
	import type { Snippet } from 'svelte';
	import type { ActionResult } from '@sveltejs/kit';
	import { enhance } from '$app/forms';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import Rehearsal from './Rehearsal.svelte';

	/** What can be done with those that are chosen of a list, at its foot; what it would do is rehearsed over the page. */
	let {
		form,
		size,
		action,
		zone,
		sent,
		titleOf,
		tools,
		more,
		canTakeBack = false,
		onPress,
		onNone
	}: {
		/** Its id, which buttons name. */
		form: string;
		/** How many are chosen. */
		size: number;
		/** Where a button sends that names nothing else. */
		action: string;
		zone: string;
		/** What every button sends along. */
		sent: Snippet;
		/** What somebody is asked who pressed a button of that value. */
		titleOf: (did: string) => string;
		tools: Snippet;
		/** Beside the number of those that are chosen. */
		more?: Snippet;
		/** Whether what was said yes to can be taken back. */
		canTakeBack?: boolean;
		onPress: () => void;
		onNone: () => void;
	} = $props();

	interface Done {
		action: string;
		did: string;
		saved?: string;
		problem?: string;
		rehearsal?: RehearsalView;
		/** What else it would do, in sentences. */
		besides?: string[];
		/** What it would come to, where that is no matter of who gets in. */
		foretold?: { digest: string; says: string[] };
	}

	/** What was answered to the last press: the page forgets it when the list is read anew. */
	let done = $state<Done | null>(null);
	let isLeft = $state(false);
	/** Set while it is worked out, which takes a moment where very many are chosen. */
	let stop = $state<(() => void) | null>(null);

	const words = $derived(size === 1 ? '1 chosen' : `${size} chosen`);
	const rehearsal = $derived(isLeft ? null : (done?.rehearsal ?? null));
	const foretold = $derived(isLeft ? null : (done?.foretold ?? null));
	interface Answer {
		result: ActionResult<{ bulk?: Done }, { bulk?: Done }>;
		update: (how: { reset: boolean }) => Promise<void>;
	}
	/** The rehearsal that was said yes to: by it, what was done can be taken back. */
	let agreedTo = $state<string | null>(null);
	const stay = ({ controller, formData }: { controller: AbortController; formData: FormData }) => {
		const agreed = formData.get('agreedTo');
		onPress();
		stop = () => controller.abort();
		return async ({ result, update }: Answer) => {
			stop = null;
			isLeft = false;
			if (result.type === 'success' || result.type === 'failure') done = result.data?.bulk ?? null;
			agreedTo = result.type === 'success' && typeof agreed === 'string' ? agreed : null;
			await update({ reset: false });
		};
	};
</script>

<form id={form} method="post" {action} use:enhance={stay}>{@render sent()}</form>
{#if size > 0}
	<div
		class="sticky bottom-0 z-20 mt-2 flex flex-wrap items-center gap-x-1 gap-y-1 rounded-sheet bg-bar px-4 py-2 text-on-bar"
		role="group"
		aria-label="What is chosen"
	>
		<span class="mr-auto flex flex-wrap items-baseline gap-x-3 font-semibold"
			>{words}{#if more}{@render more()}{/if}</span
		>
		{#if stop}<span role="status">Working it out.</span>
			<button type="button" class="bar-tool" onclick={() => (stop?.(), (stop = null))}>Stop</button>
		{:else if done?.saved}<span role="status">{done.saved}</span>
			{#if agreedTo && canTakeBack}<a class="bar-tool underline" href="/desk/changes?agreed={agreedTo}"
					>Take it back</a
				>{/if}{/if}
		{#if !stop && done?.problem}<span role="alert" class="font-medium text-on-bar-warn">{done.problem}</span
			>{/if}
		{@render tools()}
		<button type="button" class="bar-tool" aria-label="Choose none" onclick={onNone}><X size={16} /></button>
	</div>
{/if}

<Dialog.Root bind:open={() => rehearsal !== null || foretold !== null, (isOpen) => (isLeft = !isOpen)}>
	<Dialog.Portal>
		<Dialog.Overlay class="shade" />
		<Dialog.Content class="dialog w-2xl rounded-sheet bg-sheet" aria-describedby={undefined}>
			<Dialog.Title class="sr-only">What this would do to {words}</Dialog.Title>
			{#if rehearsal && done}
				<form method="post" action={done.action} use:enhance={stay}>
					{@render sent()}
					<Rehearsal
						{rehearsal}
						title={titleOf(done.did)}
						{zone}
						action={done.action}
						did={done.did}
						besides={done.besides ?? []}
						onLeave={() => (isLeft = true)}
					/>
				</form>
			{:else if foretold && done}
				<form method="post" action={done.action} use:enhance={stay} class="p-6">
					{@render sent()}
					<h3 class="text-lg font-semibold">{titleOf(done.did)}</h3>
					<p class="mt-1 text-quiet">Nothing is done yet.</p>
					<ul class="mt-3 grid gap-1.5">
						{#each foretold.says as sentence (sentence)}<li>{sentence}</li>{/each}
					</ul>
					<div class="mt-5 flex flex-wrap gap-3">
						<input type="hidden" name="do" value={done.did} />
						<button class="button-main" name="agreedTo" value={foretold.digest}>Do it</button>
						<button type="button" class="button-quiet" onclick={() => (isLeft = true)}
							>Leave it as it was</button
						>
					</div>
				</form>
			{/if}
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
