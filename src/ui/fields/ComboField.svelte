<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import { Combobox } from 'bits-ui';
	import Field from './Field.svelte';
	import Sent from './Sent.svelte';
	import { matching } from './matching';
	import { held } from './held.svelte';
	import type { Labelled, Option } from './labelled';

	/** One of many, found by typing. */
	let {
		options,
		from,
		value = $bindable(''),
		placeholder = 'Type a name',
		class: classes = '',
		onChoose,
		...labelled
	}: Labelled & {
		options: Option[];
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: string | undefined;
		value?: string;
		placeholder?: string;
		class?: string;
		onChoose?: ((value: string) => void) | undefined;
	} = $props();

	const it = held(() => from, { get: () => value, set: (to) => (value = to) });

	const SHOWN = 100;

	let isOpen = $state(false);
	/** What is typed to find something; `null`: the field says what is chosen. */
	let typed = $state<string | null>(null);
	const chosen = $derived(options.find((one) => one.value === it.current));
	const found = $derived(matching(options, typed ?? ''));

	function choose(to: string) {
		typed = null;
		onChoose?.(to);
	}
</script>

<Field {...labelled}>
	{#snippet children(_, { id: own, isWrong, describedBy })}
		<Sent
			name={labelled.name}
			value={it.current}
			onReset={() => (it.current = it.first)}
			onPutIn={([put = '']) => (it.current = put)}
		/>
		<Combobox.Root
			type="single"
			bind:value={it.current}
			inputValue={typed ?? chosen?.label ?? ''}
			bind:open={isOpen}
			onValueChange={choose}
			onOpenChange={(opens) => {
				if (!opens) typed = null;
			}}
		>
			<span class="relative {classes}">
				<Combobox.Input
					id={own}
					class="input pr-8"
					{placeholder}
					aria-invalid={isWrong || undefined}
					aria-describedby={describedBy}
					oninput={(event) => {
						typed = event.currentTarget.value;
						isOpen = true;
					}}
					onfocus={(event) => event.currentTarget.select()}
					onkeydown={(event) => event.key === 'Enter' && !isOpen && event.preventDefault()}
				/>
				<Combobox.Trigger
					class="absolute inset-y-0 right-0 cursor-pointer px-2.5 text-quiet"
					tabindex={-1}
					aria-label="Show all of {labelled.label}"><ChevronDown size={16} /></Combobox.Trigger
				>
			</span>
			<Combobox.Portal>
				<Combobox.Content
					class="floating choices"
					sideOffset={4}
					collisionPadding={8}
					aria-label={labelled.label}
				>
					{#each found.slice(0, SHOWN) as option (option.value)}
						<Combobox.Item value={option.value} label={option.label} class="choice">
							<span class={option.value === it.current ? 'font-medium' : ''}>{option.label}</span>
							{#if option.detail}<span class="ml-auto truncate text-sm text-quiet">{option.detail}</span>{/if}
							{#if option.value === it.current}<Check
									size={16}
									class="ml-auto shrink-0 self-center text-moss"
									aria-hidden="true"
								/>{/if}
						</Combobox.Item>
					{:else}
						<p class="px-2.5 py-1.5 text-quiet">Nothing by that name.</p>
					{/each}
					{#if found.length > SHOWN}<p class="px-2.5 py-1.5 text-sm text-quiet">
							{found.length - SHOWN} more: type on.
						</p>{/if}
				</Combobox.Content>
			</Combobox.Portal>
		</Combobox.Root>
	{/snippet}
</Field>
