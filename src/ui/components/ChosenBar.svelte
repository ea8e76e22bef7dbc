<script lang="ts">
	import Popover from '$ui/parts/Popover.svelte';
	import type { Snippet } from 'svelte';
	import type { SvelteSet } from 'svelte/reactivity';
	import { optionsOf } from '$ui/fields/labelled';
	import PlaceField from '$ui/fields/PlaceField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import ChosenFoot from './ChosenFoot.svelte';

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

	const own = $props.id();
	const CHANGE = '/desk/library?/change';
	const GIVE = '/desk/library?/plan';

	let planId = $state('');
	let homeId = $state('');
	let categoryId = $state('');
	let tagId = $state('');
	let open = $state<'move' | 'label' | 'plan' | null>(null);

	const many = $derived(chosen.size === 1 ? 'one item' : `${chosen.size} items`);
	const called = (all: { id: string; name: string }[] | null, id: string) =>
		all?.find((one) => one.id === id)?.name ?? '';
	const TITLES: Record<string, () => string> = {
		move: () => `Move ${many}?`,
		category: () => `Set the category of ${many}?`,
		tag: () => `Tag ${many} “${called(tags, tagId)}”?`,
		untag: () => `Take “${called(tags, tagId)}” off ${many}?`,
		publish: () => `Publish ${many}?`,
		draft: () => `Take ${many} back to drafts?`,
		archive: () => `Archive ${many}?`,
		give: () => `Let ${called(plans, planId)} open ${many}?`,
		take: () => `Let ${called(plans, planId)} not open ${many} any more?`
	};

	/** Each begins with nothing chosen: what was chosen for others is not theirs. */
	function show(which: typeof open) {
		if (which !== null) homeId = categoryId = tagId = planId = '';
		open = which;
	}
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

{#snippet tools()}
	{@render more('move', 'Move', move)}
	{@render more('label', 'Label', label)}
	{#if plans}{@render more('plan', 'Give to a plan', plan)}{/if}
	{#each [['Publish', 'publish'], ['To drafts', 'draft'], ['Archive', 'archive']] as [words, what] (what)}
		<button form={own} formaction={CHANGE} name="do" value={what} class="bar-tool">{words}</button>
	{/each}
{/snippet}

<ChosenFoot
	form={own}
	size={chosen.size}
	canTakeBack
	titleOf={(did) => TITLES[did]?.() ?? ''}
	action={CHANGE}
	{zone}
	{sent}
	{tools}
	onPress={() => (open = null)}
	onNone={() => chosen.clear()}
/>
