<script lang="ts">
	import type { HTMLInputAttributes } from 'svelte/elements';
	import Field from './Field.svelte';
	import { held } from './held.svelte';
	import type { Labelled } from './labelled';

	/** A line of text, or several. */
	let {
		label,
		name,
		id,
		hint,
		errors,
		hidesLabel,
		from,
		value = $bindable(''),
		rows = 1,
		class: classes = '',
		...rest
	}: Labelled & {
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: string | undefined;
		value?: string;
		/** More than one: a field of several lines. */
		rows?: number;
		class?: string;
	} & Pick<
			HTMLInputAttributes,
			'type' | 'placeholder' | 'autocomplete' | 'maxlength' | 'inputmode' | 'spellcheck' | 'oninput'
		> = $props();

	const it = held(() => from, { get: () => value, set: (to) => (value = to) });
</script>

<Field {label} {name} {id} {hint} {errors} {hidesLabel}>
	{#snippet children(props)}
		{#if rows > 1}<textarea
				class="input {classes}"
				{rows}
				placeholder={rest.placeholder}
				maxlength={rest.maxlength}
				bind:value={it.current}
				{...props}></textarea>
		{:else}<input class="input {classes}" bind:value={it.current} {...rest} {...props} />{/if}
	{/snippet}
</Field>
