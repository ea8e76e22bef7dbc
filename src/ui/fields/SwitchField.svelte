<script lang="ts">
	import { Switch } from 'bits-ui';
	import { held } from './held.svelte';
	import Sent from './Sent.svelte';

	/** Turns something on or off: a gate whose bar stands left or right. */
	let {
		label,
		name,
		value = 'yes',
		hint = null,
		from,
		checked = $bindable(false),
		isHeld = false,
		onChange
	}: {
		label: string;
		/** Under which `value` is sent where it is on. */
		name?: string;
		value?: string;
		hint?: string | null;
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: boolean | undefined;
		checked?: boolean;
		isHeld?: boolean;
		onChange?: ((checked: boolean) => void) | undefined;
	} = $props();

	const it = held(() => from, { get: () => checked, set: (to) => (checked = to) });

	const own = $props.id();
</script>

<div class="flex items-start gap-2.5" data-field={name} data-label={label}>
	<Switch.Root
		id={own}
		class="gate"
		bind:checked={it.current}
		disabled={isHeld}
		aria-describedby={hint ? `${own}-hint` : undefined}
		onCheckedChange={(to) => onChange?.(to)}
	>
		<Switch.Thumb class="gate-bar" />
	</Switch.Root>
	<div class="min-w-0">
		<label for={own} class="cursor-pointer font-medium">{label}</label>
		{#if hint}<p id="{own}-hint" class="text-sm text-quiet">{hint}</p>{/if}
	</div>
	<Sent
		{name}
		{value}
		isLeftOut={!it.current}
		onReset={() => (it.current = it.first)}
		onPutIn={(values) => (it.current = values.includes(value))}
	/>
</div>
