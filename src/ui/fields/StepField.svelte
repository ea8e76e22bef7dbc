<script lang="ts">
	import { CALENDAR_UNITS, type CalendarUnit } from '$core/time/calendar';
	import { unitOptions } from '$ui/wording/time';
	import NumberField from './NumberField.svelte';
	import SelectField from './SelectField.svelte';

	/** A step of the calendar: "3 weeks after they joined the plan". */
	let {
		label,
		count = $bindable(),
		unit = $bindable(),
		after = null,
		units = CALENDAR_UNITS,
		name
	}: {
		/** What it says when it is read out. */
		label: string;
		count: string;
		unit: CalendarUnit;
		/** From when it counts. */
		after?: string | null;
		units?: readonly CalendarUnit[];
		/** Its number is sent as `name-count` and its unit as `name-unit`. */
		name?: string;
	} = $props();

	const sent = (part: string) => (name === undefined ? undefined : `${name}-${part}`);
</script>

<div class="flex flex-wrap items-center gap-2" role="group" aria-label={label}>
	<NumberField
		label="{label}, how many"
		hidesLabel
		name={sent('count')}
		min={1}
		class="w-16"
		bind:value={count}
	/>
	<SelectField
		label="{label}, unit"
		hidesLabel
		name={sent('unit')}
		class="w-28"
		options={unitOptions(count, units)}
		bind:value={() => unit, (to) => (unit = to as CalendarUnit)}
	/>
	{#if after}<span>after {after}</span>{/if}
</div>
