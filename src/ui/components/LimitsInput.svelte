<script lang="ts">
	import NumberField from '$ui/fields/NumberField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import type { LimitsDraft } from '$ui/fence-draft';

	/** Uses, minutes and hours: each as the site, none, or one of its own. */
	let {
		limits = $bindable(),
		name,
		message = null,
		hasSite = true
	}: { limits: LimitsDraft; name: string; message?: string | null; hasSite?: boolean } = $props();

	type Kind = LimitsDraft['uses']['kind'];
	type Per = LimitsDraft['uses']['per'];
	const kinds = $derived([
		...(hasSite ? [{ value: 'site', label: 'as the site' }] : []),
		{ value: 'none', label: 'no limit' },
		{ value: 'own', label: 'at most' }
	]);
	const PERS = [
		{ value: 'period', label: 'a paid period' },
		{ value: 'grant', label: 'a grant' },
		{ value: 'purchase', label: 'a purchase' }
	];
	const PARTS = [
		['uses', 'Uses', 'How many uses'],
		['minutes', 'Minutes since first opening', 'How many minutes'],
		['hours', 'Hours since the purchase', 'How many hours']
	] as const;
</script>

<div class="grid gap-2" id={name}>
	{#each PARTS as [key, label, countLabel] (key)}
		<div class="flex flex-wrap items-center gap-2">
			<span class="w-40 text-sm" aria-hidden="true">{label}</span>
			<SelectField
				{label}
				hidesLabel
				class="w-36"
				options={kinds}
				bind:value={() => limits[key].kind, (to) => (limits[key].kind = to as Kind)}
			/>
			{#if limits[key].kind === 'own'}
				<NumberField label={countLabel} hidesLabel min={1} class="w-20" bind:value={limits[key].count} />
				{#if key === 'uses'}
					<SelectField
						label="Uses per"
						hidesLabel
						class="w-40"
						options={PERS}
						bind:value={() => limits.uses.per, (to) => (limits.uses.per = to as Per)}
					/>
					{#if limits.uses.count === '1'}<span class="text-sm text-gorse"
							>A single use annoys buyers: expect questions.</span
						>{/if}
				{/if}
			{/if}
		</div>
	{/each}
	{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
</div>
