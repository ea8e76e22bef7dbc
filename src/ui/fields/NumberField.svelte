<script lang="ts">
	import Field from './Field.svelte';
	import { stepped } from './stepped';
	import { held } from './held.svelte';
	import type { Labelled } from './labelled';

	/** A number as it is typed; the arrow keys count up and down. */
	let {
		from,
		value = $bindable(''),
		min = null,
		max = null,
		step = 1,
		unit = null,
		class: classes = 'w-24',
		...labelled
	}: Labelled & {
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: string | undefined;
		value?: string;
		min?: number | null;
		max?: number | null;
		step?: number;
		/** What is counted, behind the number. */
		unit?: string | null;
		class?: string;
	} = $props();

	const it = held(() => from, { get: () => value, set: (to) => (value = to) });

	function onkeydown(event: KeyboardEvent & { currentTarget: HTMLInputElement }) {
		const direction = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
		if (direction === 0) return;
		event.preventDefault();
		it.current = stepped(it.current, direction * step, { min, max });
		event.currentTarget.value = it.current;
		event.currentTarget.dispatchEvent(new Event('input', { bubbles: true }));
	}
</script>

<Field {...labelled}>
	{#snippet children(props)}
		<span class="flex items-center gap-2">
			<input
				class="input text-right {classes}"
				inputmode={Number.isInteger(step) ? 'numeric' : 'decimal'}
				autocomplete="off"
				bind:value={it.current}
				{onkeydown}
				{...props}
			/>
			{#if unit}<span class="text-quiet">{unit}</span>{/if}
		</span>
	{/snippet}
</Field>
