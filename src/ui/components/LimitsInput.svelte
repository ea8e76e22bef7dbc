<script lang="ts">
	import type { LimitsDraft } from '$ui/fence-draft';

	/** Uses, minutes and hours: each as the site, none, or one of its own. */
	let {
		limits = $bindable(),
		name,
		message = null,
		hasSite = true
	}: { limits: LimitsDraft; name: string; message?: string | null; hasSite?: boolean } = $props();
</script>

<div class="grid gap-2" id={name}>
	<div class="flex flex-wrap items-center gap-2">
		<label for="{name}-uses" class="w-40 text-sm">Uses</label>
		<select id="{name}-uses" class="input w-auto" bind:value={limits.uses.kind}>
			{#if hasSite}<option value="site">as the site</option>{/if}
			<option value="none">no limit</option>
			<option value="own">at most</option>
		</select>
		{#if limits.uses.kind === 'own'}
			<input
				class="input w-20 text-right"
				inputmode="numeric"
				aria-label="How many uses"
				bind:value={limits.uses.count}
			/>
			<select class="input w-auto" aria-label="Uses per" bind:value={limits.uses.per}>
				<option value="period">a paid period</option>
				<option value="grant">a grant</option>
				<option value="purchase">a purchase</option>
			</select>
			{#if limits.uses.count === '1'}<span class="text-sm text-gorse"
					>A single use annoys buyers: expect questions.</span
				>{/if}
		{/if}
	</div>
	{#each [['minutes', 'Minutes since first opening'], ['hours', 'Hours since the purchase']] as const as [key, label] (key)}
		<div class="flex flex-wrap items-center gap-2">
			<label for="{name}-{key}" class="w-40 text-sm">{label}</label>
			<select id="{name}-{key}" class="input w-auto" bind:value={limits[key].kind}>
				{#if hasSite}<option value="site">as the site</option>{/if}
				<option value="none">no limit</option>
				<option value="own">at most</option>
			</select>
			{#if limits[key].kind === 'own'}
				<input
					class="input w-24 text-right"
					inputmode="numeric"
					aria-label="How many {key}"
					bind:value={limits[key].count}
				/>
			{/if}
		</div>
	{/each}
	{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
</div>
