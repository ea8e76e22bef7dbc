<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import { Checkbox } from 'bits-ui';
	import type { Snippet } from 'svelte';
	import { held } from './held.svelte';
	import Sent from './Sent.svelte';

	/** Yes or no; what it says stands behind it. */
	let {
		label,
		name,
		value = 'yes',
		hint = null,
		from,
		checked = $bindable(false),
		isPartly = false,
		isHeld = false,
		hidesLabel = false,
		tabindex = 0,
		onChange,
		more
	}: {
		label: string;
		/** Under which `value` is sent where it is ticked. */
		name?: string;
		value?: string;
		hint?: string | null;
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: boolean | undefined;
		checked?: boolean;
		/** Some of what it stands for. */
		isPartly?: boolean;
		/** Seen and not to be changed. */
		isHeld?: boolean;
		hidesLabel?: boolean;
		/** -1 where its row is the stop of the keyboard. */
		tabindex?: number;
		onChange?: ((checked: boolean) => void) | undefined;
		/** What stands behind its words. */
		more?: Snippet;
	} = $props();

	const it = held(() => from, { get: () => checked, set: (to) => (checked = to) });

	const own = $props.id();
</script>

<div class="flex items-start gap-2" data-field={name} data-label={label}>
	<Checkbox.Root
		id={own}
		{tabindex}
		class="check mt-0.5"
		bind:checked={it.current}
		indeterminate={isPartly}
		disabled={isHeld}
		aria-describedby={hint ? `${own}-hint` : undefined}
		aria-label={hidesLabel ? label : undefined}
		onCheckedChange={(to) => onChange?.(to)}
	>
		{#snippet children({ checked: isOn, indeterminate })}
			{#if indeterminate}<span class="h-0.5 w-2.5 bg-current"></span>
			{:else if isOn}<Check size={14} strokeWidth={3} aria-hidden="true" />{/if}
		{/snippet}
	</Checkbox.Root>
	{#if !hidesLabel}<div class="min-w-0">
			<label for={own} class="cursor-pointer">{label}</label>
			{@render more?.()}
			{#if hint}<p id="{own}-hint" class="text-sm text-quiet">{hint}</p>{/if}
		</div>{/if}
	<Sent
		{name}
		{value}
		isLeftOut={!it.current}
		onReset={() => (it.current = it.first)}
		onPutIn={(values) => (it.current = values.includes(value))}
	/>
</div>
