<script lang="ts">
	import Field from './Field.svelte';
	import { held } from './held.svelte';
	import type { Labelled } from './labelled';

	/** A colour: seen, picked, or typed as figures. */
	let {
		from,
		value = $bindable('#2c6650'),
		...labelled
	}: Labelled & {
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: string | undefined;
		value?: string;
	} = $props();

	const it = held(() => from, { get: () => value, set: (to) => (value = to) });

	const isColour = $derived(/^#[0-9a-f]{6}$/i.test(it.current));
</script>

<Field {...labelled}>
	{#snippet children(props)}
		<span class="flex items-center gap-2">
			<span class="swatch" style:background={isColour ? it.current : 'transparent'}>
				<input
					type="color"
					class="absolute inset-0 size-full cursor-pointer opacity-0"
					aria-label="{labelled.label}, pick"
					tabindex={-1}
					bind:value={() => (isColour ? it.current : '#000000'), (to) => (it.current = to)}
				/>
			</span>
			<input
				class="input w-28 font-mono"
				autocomplete="off"
				spellcheck="false"
				maxlength="7"
				bind:value={it.current}
				{...props}
			/>
		</span>
	{/snippet}
</Field>
