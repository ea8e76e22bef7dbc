<script lang="ts">
	import MomentField from '$ui/fields/MomentField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import StepField from '$ui/fields/StepField.svelte';
	import type { WindowDraft } from '$ui/fence-draft';

	/** When something opens, and when it closes again. */
	let {
		window = $bindable(),
		name,
		message = null,
		datesOnly = false
	}: { window: WindowDraft; name: string; message?: string | null; datesOnly?: boolean } = $props();

	const OPENS = [
		{ value: 'at-once', label: 'at once' },
		{ value: 'after', label: 'after a time' },
		{ value: 'on', label: 'on a date' }
	];
	const CLOSES = [
		{ value: 'never', label: 'never' },
		{ value: 'after', label: 'some time after opening' },
		{ value: 'on', label: 'on a date' }
	];
	const within = (options: typeof OPENS) => options.filter(({ value }) => !datesOnly || value !== 'after');
</script>

<div class="grid gap-2" id={name}>
	<div class="flex items-start gap-2">
		<span class="w-16 shrink-0 pt-2 text-sm" aria-hidden="true">Opens</span>
		<div class="flex min-w-0 flex-wrap items-center gap-2">
			<SelectField
				label="Opens"
				hidesLabel
				class="w-56"
				options={within(OPENS)}
				bind:value={() => window.opens.kind, (to) => (window.opens.kind = to as typeof window.opens.kind)}
			/>
			{#if window.opens.kind === 'after'}
				<StepField label="Opens after" bind:count={window.opens.count} bind:unit={window.opens.unit} />
			{:else if window.opens.kind === 'on'}
				<MomentField label="Opens on" hidesLabel bind:value={window.opens.local} />
			{/if}
		</div>
	</div>
	<div class="flex items-start gap-2">
		<span class="w-16 shrink-0 pt-2 text-sm" aria-hidden="true">Closes</span>
		<div class="flex min-w-0 flex-wrap items-center gap-2">
			<SelectField
				label="Closes"
				hidesLabel
				class="w-56"
				options={within(CLOSES)}
				bind:value={() => window.closes.kind, (to) => (window.closes.kind = to as typeof window.closes.kind)}
			/>
			{#if window.closes.kind === 'after'}
				<StepField label="Closes after" bind:count={window.closes.count} bind:unit={window.closes.unit} />
			{:else if window.closes.kind === 'on'}
				<MomentField label="Closes on" hidesLabel bind:value={window.closes.local} />
			{/if}
		</div>
	</div>
	{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
</div>
