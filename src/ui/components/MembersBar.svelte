<script lang="ts">
	import type { ChosenRows } from '$ui/chosen-rows.svelte';
	import { optionsOf } from '$ui/fields/labelled';
	import MomentField from '$ui/fields/MomentField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import ManyBar, { type Press } from './ManyBar.svelte';

	/** What can be done with the members that are chosen, at the foot of their list. */
	let {
		chosen,
		total,
		ask,
		plans,
		labels,
		zone
	}: {
		chosen: ChosenRows;
		total: number;
		/** What the list is of, as its address says it. */
		ask: string;
		plans: { id: string; name: string }[];
		labels: { id: string; name: string }[];
		zone: string;
	} = $props();

	const own = $props.id();

	let planId = $state('');
	let until = $state('');
	let labelId = $state('');
	let newLabel = $state('');

	const called = (all: { id: string; name: string }[], id: string) =>
		all.find((one) => one.id === id)?.name ?? '';
	const TITLES: Record<string, (many: string) => string> = {
		give: (many) => `Give ${called(plans, planId)} to ${many}?`,
		end: (many) => `End ${called(plans, planId)} for ${many}?`,
		label: (many) => `Label ${many} “${called(labels, labelId)}”?`,
		'new-label': (many) => `Label ${many} “${newLabel.trim()}”?`,
		unlabel: (many) => `Take the label “${called(labels, labelId)}” off ${many}?`
	};
</script>

{#snippet values()}
	<input type="hidden" name="plan" value={planId} />
	<input type="hidden" name="until" value={until} />
	<input type="hidden" name="label" value={labelId} />
	<input type="hidden" name="newLabel" value={newLabel} />
{/snippet}

<form id="{own}-table" method="post" action="/desk/members/rows.csv">
	<input type="hidden" name="ids" value={chosen.isAll ? '' : [...chosen.ids].join(',')} />
	{#if chosen.isAll}<input type="hidden" name="ask" value={ask} />{/if}
</form>

{#snippet give(press: Press)}
	<SelectField label="Plan" options={optionsOf(plans)} bind:value={planId} />
	<MomentField label="Until (for good, if empty)" id="{own}-until" bind:value={until} />
	{@render press({ label: 'Give it, from now on', did: 'give', isHeld: planId === '' })}
{/snippet}

{#snippet end(press: Press)}
	<SelectField label="Plan" id="{own}-ended" options={optionsOf(plans)} bind:value={planId} />
	{@render press({ label: 'End it now', did: 'end', isHeld: planId === '' })}
{/snippet}

{#snippet label(press: Press)}
	{#if labels.length > 0}
		<SelectField label="Label" options={optionsOf(labels)} bind:value={labelId} />
		<span class="flex flex-wrap gap-2">
			{@render press({ label: 'Label them', did: 'label', isHeld: labelId === '' })}
			{@render press({ label: 'Take it off', did: 'unlabel', isHeld: labelId === '', isQuiet: true })}
		</span>
	{/if}
	<TextField
		label={labels.length > 0 ? 'Or a new label' : 'A new label'}
		maxlength={60}
		bind:value={newLabel}
	/>
	{@render press({
		label: 'Make it, and label them',
		did: 'new-label',
		isHeld: newLabel.trim() === '',
		isQuiet: labels.length > 0
	})}
{/snippet}

{#snippet others()}
	<button form="{own}-table" class="bar-tool">As a table (CSV)</button>
{/snippet}

<ManyBar
	{chosen}
	{total}
	{ask}
	what={['member', 'members']}
	action="/desk/members?/run"
	{zone}
	tools={[
		{ label: 'Give a plan', body: give },
		{ label: 'End a plan', body: end },
		{ label: 'Label', body: label }
	]}
	sent={values}
	{others}
	titleOf={(did, many) => TITLES[did]?.(many) ?? ''}
	onOpen={() => (planId = until = labelId = newLabel = '')}
/>
