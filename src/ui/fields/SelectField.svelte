<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import { Select } from 'bits-ui';
	import ComboField from './ComboField.svelte';
	import Field from './Field.svelte';
	import Sent from './Sent.svelte';
	import { held } from './held.svelte';
	import type { Labelled, Option } from './labelled';

	/** One of a few; where there are more than a glance takes in, it is found by typing. */
	let {
		options,
		from,
		value = $bindable(''),
		placeholder = 'Choose',
		class: classes = '',
		onChoose,
		...labelled
	}: Labelled & {
		options: Option[];
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: string | undefined;
		value?: string;
		/** Said where nothing is chosen. */
		placeholder?: string;
		class?: string;
		onChoose?: ((value: string) => void) | undefined;
	} = $props();

	const it = held(() => from, { get: () => value, set: (to) => (value = to) });

	/** More of them are found by typing. */
	const GLANCE = 15;
	const chosen = $derived(options.find((one) => one.value === it.current));
</script>

{#if options.length > GLANCE}
	<ComboField {...labelled} {options} {placeholder} class={classes} {onChoose} bind:value={it.current} />
{:else}
	<Field {...labelled}>
		{#snippet children(_, { id: own, labelId, isWrong, describedBy })}
			<Sent
				name={labelled.name}
				value={it.current}
				onReset={() => (it.current = it.first)}
				onPutIn={([put = '']) => (it.current = put)}
			/>
			<Select.Root
				type="single"
				items={options}
				bind:value={it.current}
				onValueChange={(to) => onChoose?.(to)}
			>
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
					<Select.Content
						class="floating choices"
						sideOffset={4}
						collisionPadding={8}
						aria-label={labelled.label}
					>
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
