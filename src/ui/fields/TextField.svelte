<script lang="ts">
	import type { HTMLInputAttributes } from 'svelte/elements';
	import Field from './Field.svelte';
	import type { Labelled } from './labelled';

	/** A line of text, or several. */
	let {
		label,
		name,
		id,
		hint,
		errors,
		hidesLabel,
		value = $bindable(''),
		rows = 1,
		class: classes = '',
		...rest
	}: Labelled & {
		value?: string;
		/** More than one: a field of several lines. */
		rows?: number;
		class?: string;
	} & Pick<
			HTMLInputAttributes,
			'type' | 'placeholder' | 'autocomplete' | 'maxlength' | 'inputmode' | 'spellcheck' | 'oninput'
		> = $props();
</script>

<Field {label} {name} {id} {hint} {errors} {hidesLabel}>
	{#snippet children(props)}
		{#if rows > 1}<textarea
				class="input {classes}"
				{rows}
				placeholder={rest.placeholder}
				maxlength={rest.maxlength}
				bind:value
				{...props}></textarea>
		{:else}<input class="input {classes}" bind:value {...rest} {...props} />{/if}
	{/snippet}
</Field>
