<script lang="ts">
	import { RadioGroup } from 'bits-ui';
	import type { Snippet } from 'svelte';
	import Sent from './Sent.svelte';
	import { held } from './held.svelte';
	import type { Option } from './labelled';

	/** One of a few, all of which are seen. */
	let {
		label,
		name,
		options,
		from,
		value = $bindable(''),
		errors = {},
		hidesLabel = false,
		isInLine = false,
		onChoose,
		under
	}: {
		label: string;
		name?: string | undefined;
		options: Option[];
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: string | undefined;
		value?: string;
		errors?: Record<string, string[]>;
		hidesLabel?: boolean;
		/** Beside each other, and not one a line. */
		isInLine?: boolean;
		onChoose?: ((value: string) => void) | undefined;
		/** What belongs to one choice, under it. */
		under?: Snippet<[string]>;
	} = $props();

	const it = held(() => from, { get: () => value, set: (to) => (value = to) });

	const own = $props.id();
	const message = $derived(name === undefined ? null : (errors[name]?.[0] ?? null));
</script>

<div class="grid gap-1" id={name} data-field={name} data-label={label}>
	<p id="{own}-label" class={hidesLabel ? 'sr-only' : 'font-medium'}>{label}</p>
	<Sent
		{name}
		value={it.current}
		onReset={() => (it.current = it.first)}
		onPutIn={([put = '']) => (it.current = put)}
	/>
	<RadioGroup.Root
		bind:value={it.current}
		aria-labelledby="{own}-label"
		aria-describedby={message ? `${own}-error` : undefined}
		class={isInLine ? 'flex flex-wrap gap-x-5 gap-y-1.5' : 'grid gap-1.5'}
		onValueChange={(to) => onChoose?.(to)}
	>
		{#each options as option, n (option.value)}
			<div class="grid gap-1.5">
				<div class="flex items-start gap-2">
					<RadioGroup.Item
						value={option.value}
						id="{own}-{n}"
						class="radio mt-0.5"
						aria-describedby={option.detail ? `${own}-${n}-hint` : undefined}
					>
						{#snippet children({ checked })}{#if checked}<span class="size-2 rounded-full bg-current"
								></span>{/if}{/snippet}
					</RadioGroup.Item>
					<div class="min-w-0">
						<label for="{own}-{n}" class="cursor-pointer">{option.label}</label>
						{#if option.detail}<p id="{own}-{n}-hint" class="text-sm text-quiet">{option.detail}</p>{/if}
					</div>
				</div>
				{#if it.current === option.value}{@render under?.(option.value)}{/if}
			</div>
		{/each}
	</RadioGroup.Root>
	{#if message}<p id="{own}-error" class="text-sm font-medium text-brick">{message}</p>{/if}
</div>
