<script lang="ts">
	import { untrack } from 'svelte';
	import Check from '@lucide/svelte/icons/check';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import { Select } from 'bits-ui';
	import ComboField from './ComboField.svelte';
	import Field from './Field.svelte';
	import Sent from './Sent.svelte';
	import type { Labelled, Option } from './labelled';

	/** One of a few; where there are more than a glance takes in, it is found by typing. */
	let {
		label,
		name,
		id,
		hint,
		errors,
		hidesLabel,
		options,
		value = $bindable(''),
		placeholder = 'Choose',
		class: classes = '',
		onChoose
	}: Labelled & {
		options: Option[];
		value?: string;
		/** Said where nothing is chosen. */
		placeholder?: string;
		class?: string;
		onChoose?: ((value: string) => void) | undefined;
	} = $props();

	/** What a form that is put back begins with again. */
	const first = untrack(() => value);

	/** More of them are found by typing. */
	const GLANCE = 15;
	const chosen = $derived(options.find((one) => one.value === value));
</script>

{#if options.length > GLANCE}
	<ComboField
		{label}
		{name}
		{id}
		{hint}
		{errors}
		{hidesLabel}
		{options}
		{placeholder}
		class={classes}
		{onChoose}
		bind:value
	/>
{:else}
	<Field {label} {name} {id} {hint} {errors} {hidesLabel}>
		{#snippet children(_, { id: own, labelId, isWrong, describedBy })}
			<Sent {name} {value} onReset={() => (value = first)} onPutIn={([put = '']) => (value = put)} />
			<Select.Root type="single" items={options} bind:value onValueChange={(to) => onChoose?.(to)}>
				<Select.Trigger
					id={own}
					class="input select {classes}"
					aria-labelledby="{labelId} {own}"
					aria-invalid={isWrong || undefined}
					aria-describedby={describedBy}
				>
					<span class="truncate {chosen ? '' : 'text-quiet'}">{chosen?.label ?? placeholder}</span>
					<ChevronDown size={16} class="shrink-0 text-quiet" aria-hidden="true" />
				</Select.Trigger>
				<Select.Portal>
					<Select.Content class="floating choices" sideOffset={4} collisionPadding={8} aria-label={label}>
						{#each options as option (option.value)}
							<Select.Item value={option.value} label={option.label} class="choice">
								{#snippet children({ selected })}
									<span class={selected ? 'font-medium' : ''}>{option.label}</span>
									{#if option.detail}<span class="text-sm text-quiet">{option.detail}</span>{/if}
									{#if selected}<Check
											size={16}
											class="ml-auto shrink-0 self-center text-moss"
											aria-hidden="true"
										/>{/if}
								{/snippet}
							</Select.Item>
						{/each}
					</Select.Content>
				</Select.Portal>
			</Select.Root>
		{/snippet}
	</Field>
{/if}
