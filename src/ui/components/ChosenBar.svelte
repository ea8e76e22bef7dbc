<script lang="ts">
	import X from '@lucide/svelte/icons/x';
	import { Dialog } from 'bits-ui';
	import Popover from '$ui/parts/Popover.svelte';
	import type { Snippet } from 'svelte';
	import type { ActionResult } from '@sveltejs/kit';
	import type { SvelteSet } from 'svelte/reactivity';
	import { enhance } from '$app/forms';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import { optionsOf } from '$ui/fields/labelled';
	import PlaceField from '$ui/fields/PlaceField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import Rehearsal from './Rehearsal.svelte';

	/** What can be done with those that are chosen, at the foot of the list. */
	let {
		chosen,
		plans,
		categories,
		tags,
		zone
	}: {
		chosen: SvelteSet<string>;
		/** Those that may be given; `null`: that is for others. */
		plans: { id: string; name: string }[] | null;
		categories: { id: string; name: string }[];
		tags: { id: string; name: string }[];
		zone: string;
	} = $props();

	interface Done {
		action: string;
		did: string;
		saved?: string;
		problem?: string;
		rehearsal?: RehearsalView;
	}

	const own = $props.id();
	/** What was answered to the last press: the page forgets it when the list is read anew. */
	let done = $state<Done | null>(null);
	const CHANGE = '/desk/library?/change';
	const GIVE = '/desk/library?/plan';

	let planId = $state('');
	let homeId = $state('');
	let categoryId = $state('');
	let tagId = $state('');
	let open = $state<'move' | 'label' | 'plan' | null>(null);
	let isLeft = $state(false);

	/** Each begins with nothing chosen: what was chosen for others is not theirs. */
	function show(which: typeof open) {
		if (which !== null) homeId = categoryId = tagId = planId = '';
		open = which;
	}

	const words = $derived(chosen.size === 1 ? '1 chosen' : `${chosen.size} chosen`);
	const rehearsal = $derived(isLeft ? null : (done?.rehearsal ?? null));
	interface Answer {
		result: ActionResult<{ bulk?: Done }, { bulk?: Done }>;
		update: (how: { reset: boolean }) => Promise<void>;
	}
	const stay = () => {
		open = null;
		return async ({ result, update }: Answer) => {
			isLeft = false;
			if (result.type === 'success' || result.type === 'failure') done = result.data?.bulk ?? null;
			await update({ reset: false });
		};
	};
</script>

{#snippet sent()}
	<input type="hidden" name="items" value={[...chosen].join(',')} />
	<input type="hidden" name="home" value={homeId} />
	<input type="hidden" name="category" value={categoryId} />
	<input type="hidden" name="tag" value={tagId} />
	<input type="hidden" name="plan" value={planId} />
{/snippet}

{#snippet press(label: string, action: string, what: string, isMain = false, isHeld = false)}
	<button
		form={own}
		formaction={action}
		name="do"
		value={what}
		disabled={isHeld}
		class={isMain ? 'button-main' : 'button-quiet'}>{label}</button
	>
{/snippet}

{#snippet more(which: 'move' | 'label' | 'plan', label: string, body: Snippet)}
	<Popover
		title={label}
		side="top"
		triggerClass="bar-tool"
		bind:isOpen={() => open === which, (isOpen) => show(isOpen ? which : null)}
	>
		{#snippet trigger()}{label} …{/snippet}
		<div class="grid gap-3">{@render body()}</div>
	</Popover>
{/snippet}

{#snippet move()}
	<PlaceField
		label="Into"
		id="{own}-home"
		kinds="collection,page"
		placeholder="nothing: type a name"
		onChange={(id) => (homeId = id)}
	/>
	{@render press('Move', CHANGE, 'move', true)}
{/snippet}

{#snippet label()}
	<SelectField
		label="Category for them"
		options={[{ value: '', label: 'no category' }, ...optionsOf(categories)]}
		bind:value={categoryId}
	/>
	{@render press('Set category', CHANGE, 'category')}
	<SelectField label="Tag for them" options={optionsOf(tags)} bind:value={tagId} />
	<span class="flex gap-2">
		{@render press('Tag', CHANGE, 'tag', false, tagId === '')}
		{@render press('Untag', CHANGE, 'untag', false, tagId === '')}
	</span>
{/snippet}

{#snippet plan()}
	<SelectField label="Plan" options={optionsOf(plans ?? [])} bind:value={planId} />
	{@render press('This plan opens them', GIVE, 'give', true, planId === '')}
	{@render press('It does not any more', GIVE, 'take', false, planId === '')}
{/snippet}

<form id={own} method="post" action={CHANGE} use:enhance={stay}>{@render sent()}</form>
{#if chosen.size > 0}
	<div
		class="sticky bottom-0 z-20 mt-2 flex flex-wrap items-center gap-x-1 gap-y-1 rounded-sheet bg-bar px-4 py-2 text-on-bar"
		role="group"
		aria-label="What is chosen"
	>
		<span class="mr-auto font-semibold">{words}</span>
		{#if done?.saved}<span role="status">{done.saved}</span>{/if}
		{#if done?.problem}<span role="alert" class="font-medium text-on-bar-warn">{done.problem}</span>{/if}
		{@render more('move', 'Move', move)}
		{@render more('label', 'Label', label)}
		{#if plans}{@render more('plan', 'Give to a plan', plan)}{/if}
		{#each [['Publish', 'publish'], ['To drafts', 'draft'], ['Archive', 'archive']] as [words, what] (what)}
			<button form={own} formaction={CHANGE} name="do" value={what} class="bar-tool">{words}</button>
		{/each}
		<button type="button" class="bar-tool" aria-label="Choose none" onclick={() => chosen.clear()}
			><X size={16} /></button
		>
	</div>
{/if}

<Dialog.Root bind:open={() => rehearsal !== null, (isOpen) => (isLeft = !isOpen)}>
	<Dialog.Portal>
		<Dialog.Overlay class="shade" />
		<Dialog.Content class="dialog w-2xl rounded-sheet bg-sheet" aria-describedby={undefined}>
			<Dialog.Title class="sr-only">What this would do to {words}</Dialog.Title>
			{#if rehearsal && done}
				<form method="post" action={done.action} use:enhance={stay}>
					{@render sent()}
					<Rehearsal {rehearsal} {zone} action={done.action} did={done.did} onLeave={() => (isLeft = true)} />
				</form>
			{/if}
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
