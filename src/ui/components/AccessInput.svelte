<script lang="ts">
	import type { PlanAccess } from '$core/billing/plan-access';
	import MomentField from '$ui/fields/MomentField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import { unitOptions } from '$ui/wording/time';
	import { writeLocal } from '$core/time/calendar';

	/** How long a plan opens, once it is bought. */
	let {
		access,
		sent,
		zone,
		errors
	}: {
		/** What is kept; `null` of a new plan. */
		access: PlanAccess | null;
		/** What was typed and came back. */
		sent: Record<string, string | string[]>;
		zone: string;
		errors: Record<string, string[]>;
	} = $props();

	const OPTIONS = [
		{ value: 'while-paid', label: 'While it is paid', detail: 'What is paid once is paid for good.' },
		{
			value: 'for-good',
			label: 'For good',
			detail:
				'Instalments: once the last is paid; until then, while they are paid. It has no effect on what is paid again and again.'
		},
		{ value: 'length', label: 'For a length of time from the day they joined' },
		{ value: 'until', label: 'Until a date, for everybody' }
	];

	/** As fields hold it. */
	function typedOf(of: PlanAccess | null) {
		return {
			access: String(of?.kind ?? 'while-paid'),
			accessCount: of?.kind === 'length' ? String(of.length.count) : '12',
			accessUnit: of?.kind === 'length' ? String(of.length.unit) : 'month',
			accessUntil: of?.kind === 'until' ? writeLocal(of.at, zone) : ''
		};
	}

	// The form makes it anew where something else is kept.
	// svelte-ignore state_referenced_locally
	let typed = $state({ ...typedOf(access), ...(sent as Partial<ReturnType<typeof typedOf>>) });
</script>

<fieldset class="grid gap-3">
	<legend class="question">How long does it open?</legend>
	<RadioField
		label="How long it opens"
		hidesLabel
		name="access"
		options={OPTIONS}
		bind:value={typed.access}
		{errors}
	/>
	<div class="flex flex-wrap items-end gap-3 {typed.access === 'length' ? '' : 'hidden'}">
		<NumberField
			label="How long"
			name="accessCount"
			min={1}
			class="w-16"
			bind:value={typed.accessCount}
			{errors}
		/>
		<SelectField
			label="Its unit"
			name="accessUnit"
			class="w-28"
			options={unitOptions(typed.accessCount)}
			bind:value={typed.accessUnit}
		/>
	</div>
	<div class={typed.access === 'until' ? '' : 'hidden'}>
		<MomentField label="Until" name="accessUntil" bind:value={typed.accessUntil} {errors} />
	</div>
</fieldset>
