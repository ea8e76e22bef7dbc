<script lang="ts">
	import Field from './Field.svelte';
	import { stepped } from './stepped';
	import type { Labelled } from './labelled';

	/** A number as it is typed; the arrow keys count up and down. */
	let {
		label,
		name,
		id,
		hint,
		errors,
		hidesLabel,
		value = $bindable(''),
		min = null,
		max = null,
		step = 1,
		unit = null,
		class: classes = 'w-24'
	}: Labelled & {
		value?: string;
		min?: number | null;
		max?: number | null;
		step?: number;
		/** What is counted, behind the number. */
		unit?: string | null;
		class?: string;
	} = $props();

	function onkeydown(event: KeyboardEvent & { currentTarget: HTMLInputElement }) {
		const direction = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
		if (direction === 0) return;
		event.preventDefault();
		value = stepped(value, direction * step, { min, max });
		event.currentTarget.value = value;
		event.currentTarget.dispatchEvent(new Event('input', { bubbles: true }));
	}
</script>

<Field {label} {name} {id} {hint} {errors} {hidesLabel}>
	{#snippet children(props)}
		<span class="flex items-center gap-2">
			<input
				class="input text-right {classes}"
				inputmode={Number.isInteger(step) ? 'numeric' : 'decimal'}
				autocomplete="off"
				bind:value
				{onkeydown}
				{...props}
			/>
			{#if unit}<span class="text-quiet">{unit}</span>{/if}
		</span>
	{/snippet}
</Field>
