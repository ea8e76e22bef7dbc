<script lang="ts">
	import type { Snippet } from 'svelte';
	import Popover from '$ui/parts/Popover.svelte';
	import { optionsOf } from '$ui/fields/labelled';
	import MomentField from '$ui/fields/MomentField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import ChosenFoot from './ChosenFoot.svelte';

	/** What can be done with the members that are chosen, at the foot of their list. */
	let {
		chosen,
		isAll,
		total,
		ask,
		plans,
		labels,
		zone,
		onAll,
		onNone
	}: {
		chosen: ReadonlySet<string>;
		/** All of the list are meant, on whichever page they stand. */
		isAll: boolean;
		total: number;
		/** What the list is of, as its address says it. */
		ask: string;
		plans: { id: string; name: string }[];
		labels: { id: string; name: string }[];
		zone: string;
		onAll: () => void;
		onNone: () => void;
	} = $props();

	const own = $props.id();
	const ACTION = '/desk/members?/run';

	let planId = $state('');
	let until = $state('');
	let labelId = $state('');
	let newLabel = $state('');
	let open = $state<'give' | 'end' | 'label' | null>(null);

	/** Each begins with nothing chosen: what was chosen for others is not theirs. */
	function show(which: typeof open) {
		if (which !== null) planId = until = labelId = newLabel = '';
		open = which;
	}

	const size = $derived(isAll ? total : chosen.size);
	const many = $derived(size === 1 ? 'one member' : `${size} members`);
	const called = (all: { id: string; name: string }[], id: string) =>
		all.find((one) => one.id === id)?.name ?? '';
	const TITLES: Record<string, () => string> = {
		give: () => `Give ${called(plans, planId)} to ${many}?`,
		end: () => `End ${called(plans, planId)} for ${many}?`,
		label: () => `Label ${many} “${called(labels, labelId)}”?`,
		'new-label': () => `Label ${many} “${newLabel.trim()}”?`,
		unlabel: () => `Take the label “${called(labels, labelId)}” off ${many}?`
	};

	const isBeyond = $derived(chosen.size > 0 && chosen.size < total && !isAll);
</script>

{#snippet sent()}
	<input type="hidden" name="ids" value={isAll ? '' : [...chosen].join(',')} />
	{#if isAll}<input type="hidden" name="ask" value={ask} />{/if}
	<input type="hidden" name="plan" value={planId} />
	<input type="hidden" name="until" value={until} />
	<input type="hidden" name="label" value={labelId} />
	<input type="hidden" name="newLabel" value={newLabel} />
{/snippet}

<form id="{own}-table" method="post" action="/desk/members/rows.csv">{@render sent()}</form>

{#snippet press(label: string, what: string, isHeld: boolean, isMain = true)}
	<button
		form={own}
		formaction={ACTION}
		name="do"
		value={what}
		disabled={isHeld}
		class={isMain ? 'button-main' : 'button-quiet'}>{label}</button
	>
{/snippet}

{#snippet tool(which: 'give' | 'end' | 'label', label: string, body: Snippet)}
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

{#snippet give()}
	<SelectField label="Plan" options={optionsOf(plans)} bind:value={planId} />
	<MomentField label="Until (for good, if empty)" id="{own}-until" bind:value={until} />
	{@render press('Give it, from now on', 'give', planId === '')}
{/snippet}

{#snippet end()}
	<SelectField label="Plan" id="{own}-ended" options={optionsOf(plans)} bind:value={planId} />
	{@render press('End it now', 'end', planId === '')}
{/snippet}

{#snippet label()}
	{#if labels.length > 0}
		<SelectField label="Label" options={optionsOf(labels)} bind:value={labelId} />
		<span class="flex flex-wrap gap-2">
			{@render press('Label them', 'label', labelId === '')}
			{@render press('Take it off', 'unlabel', labelId === '', false)}
		</span>
	{/if}
	<TextField
		label={labels.length > 0 ? 'Or a new label' : 'A new label'}
		maxlength={60}
		bind:value={newLabel}
	/>
	{@render press('Make it, and label them', 'new-label', newLabel.trim() === '', labels.length === 0)}
{/snippet}

{#snippet tools()}
	{@render tool('give', 'Give a plan', give)}
	{@render tool('end', 'End a plan', end)}
	{@render tool('label', 'Label', label)}
	<button form="{own}-table" class="bar-tool">As a table (CSV)</button>
{/snippet}

{#snippet more()}
	{#if isBeyond}<button type="button" class="bar-tool" onclick={onAll}>Choose all {total}</button>{/if}
{/snippet}

<ChosenFoot
	form={own}
	{size}
	titleOf={(did) => TITLES[did]?.() ?? ''}
	action={ACTION}
	{zone}
	{sent}
	{tools}
	{more}
	onPress={() => (open = null)}
	{onNone}
/>
