<script lang="ts">
	import Field from './Field.svelte';
	import type { Labelled } from './labelled';

	/** A code from an app on the phone; where `isOfApp`, nothing but its digits. */
	let {
		label,
		name = 'code',
		id,
		hint,
		errors,
		isOfApp = false
	}: Labelled & { isOfApp?: boolean } = $props();
</script>

<Field {label} {name} {id} {hint} {errors}>
	{#snippet children(props)}
		<input
			class="input max-w-64 tracking-wide tabular-nums"
			autocomplete="one-time-code"
			inputmode={isOfApp ? 'numeric' : 'text'}
			autocapitalize="characters"
			spellcheck="false"
			maxlength="40"
			required
			{...props}
		/>
	{/snippet}
</Field>
