<script lang="ts">
	import Field from './Field.svelte';
	import type { Labelled } from './labelled';

	/** A colour: seen, picked, or typed as figures. */
	let {
		label,
		name,
		id,
		hint,
		errors,
		hidesLabel,
		value = $bindable('#2c6650')
	}: Labelled & { value?: string } = $props();

	const isColour = $derived(/^#[0-9a-f]{6}$/i.test(value));
</script>

<Field {label} {name} {id} {hint} {errors} {hidesLabel}>
	{#snippet children(props)}
		<span class="flex items-center gap-2">
			<span class="swatch" style:background={isColour ? value : 'transparent'}>
				<input
					type="color"
					class="absolute inset-0 size-full cursor-pointer opacity-0"
					aria-label="{label}, pick"
					tabindex={-1}
					bind:value={() => (isColour ? value : '#000000'), (to) => (value = to)}
				/>
			</span>
			<input
				class="input w-28 font-mono"
				autocomplete="off"
				spellcheck="false"
				maxlength="7"
				bind:value
				{...props}
			/>
		</span>
	{/snippet}
</Field>
