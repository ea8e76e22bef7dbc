<script lang="ts">
	import CheckField from './CheckField.svelte';
	import { held } from './held.svelte';
	import type { Option } from './labelled';

	/** Any of a few. */
	let {
		label,
		name,
		id = name,
		options,
		from,
		values = $bindable([]),
		fixed = [],
		errors = {},
		hidesLabel = false,
		isList = false
	}: {
		label: string;
		/** Under which each that is ticked is sent. */
		name?: string | undefined;
		id?: string | undefined;
		options: Option[];
		/** What is ticked to begin with, and followed where that becomes another; left out: it is bound. */
		from?: string[] | undefined;
		values?: string[];
		/** Those that are not to be changed. */
		fixed?: string[];
		errors?: Record<string, string[]>;
		hidesLabel?: boolean;
		/** One a line. */
		isList?: boolean;
	} = $props();

	const message = $derived(name === undefined ? null : (errors[name]?.[0] ?? null));

	const it = held(() => from, { get: () => values, set: (to) => (values = to) });

	function set(one: string, isIn: boolean) {
		it.current = isIn ? [...it.current, one] : it.current.filter((other) => other !== one);
	}
</script>

<fieldset {id} data-field={name} data-label={label}>
	<legend class={hidesLabel ? 'sr-only' : 'mb-1 font-medium'}>{label}</legend>
	<div class={isList ? 'grid gap-1.5' : 'flex flex-wrap gap-x-5 gap-y-1.5'}>
		{#each options as option (option.value)}
			<CheckField
				label={option.label}
				{...name === undefined ? {} : { name }}
				value={option.value}
				isHeld={fixed.includes(option.value)}
				bind:checked={() => it.current.includes(option.value), (to) => set(option.value, to)}
			/>
		{/each}
	</div>
	{#if message}<p class="mt-1 text-sm font-medium text-brick">{message}</p>{/if}
</fieldset>
