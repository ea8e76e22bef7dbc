<script lang="ts">
	/** One line of a fence: who may cross, when, and how often. */
	import { optionsOf } from '$ui/fields/labelled';
	import type { CrossingDraft } from '$ui/fence-draft';
	import type { namesOf } from '$ui/names';
	import { audienceWords } from '$ui/wording/fence';
	import LimitsInput from './LimitsInput.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import Picker from '$ui/fields/Picker.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import WindowInput from './WindowInput.svelte';

	let {
		crossing = $bindable(),
		n,
		names,
		choices,
		fresh = $bindable(),
		errors,
		onTakenAway
	}: {
		crossing: CrossingDraft;
		/** Its place in the fence. */
		n: number;
		names: ReturnType<typeof namesOf>;
		choices: Record<'plans' | 'labels' | 'batches', { id: string; name: string }[]>;
		/** Names of what was picked since the page was loaded. */
		fresh: Record<string, string>;
		errors: Record<string, string[]>;
		onTakenAway: () => void;
	} = $props();

	/** Nobody has been chosen. */
	const isOpen = $derived.by(() => {
		const { audience, named } = crossing;
		if (audience.kind === 'holders') return audience.planIds.length === 0;
		if (audience.kind === 'named') return named.length === 0;
		if (audience.kind === 'code') return audience.batchId === '';
		return audience.kind === 'may-open' && audience.resourceId === '';
	});
</script>

<section
	class="grid gap-3 rounded-sheet border border-line p-4"
	id="crossing-{n}"
	aria-label="Crossing {n + 1}"
>
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h3 class="font-medium">
			{isOpen
				? 'Nobody yet: choose below'
				: audienceWords(crossing.audience, names, crossing.named.length).replace(/^./, (c) =>
						c.toUpperCase()
					)}
		</h3>
		<button type="button" class="cursor-pointer underline" onclick={onTakenAway}>Take away</button>
	</div>
	{#if crossing.audience.kind === 'holders'}
		{@const audience = crossing.audience}
		<ChecksField
			label="Plans"
			hidesLabel={choices.labels.length === 0}
			options={optionsOf(choices.plans)}
			bind:values={audience.planIds}
		/>
		{#if choices.labels.length > 0}
			<ChecksField label="Labels" options={optionsOf(choices.labels)} bind:values={audience.planIds} />
		{/if}
	{:else if crossing.audience.kind === 'named'}
		<Picker
			label="Name a member"
			kinds="member"
			placeholder="Name a member: type a name or address"
			onChoose={(found) => {
				fresh[found.id] = found.label;
				if (!crossing.named.some(({ memberId }) => memberId === found.id))
					crossing.named = [...crossing.named, { memberId: found.id }];
			}}
		/>
		<ul class="flex flex-wrap gap-2">
			{#each crossing.named as one (one.memberId)}
				<li class="flex gap-2 rounded-sheet border border-line bg-sunk px-2 py-1">
					<a href="/desk/members/{one.memberId}">{fresh[one.memberId] ?? 'Member'}</a>
					<button
						type="button"
						class="cursor-pointer underline"
						onclick={() => (crossing.named = crossing.named.filter((other) => other !== one))}>Remove</button
					>
				</li>
			{/each}
		</ul>
	{:else if crossing.audience.kind === 'code'}
		<SelectField
			label="Codes"
			hidesLabel
			class="max-w-96"
			options={optionsOf(choices.batches)}
			bind:value={crossing.audience.batchId}
		/>
		<p class="text-sm"><a href="/desk/codes">Make codes</a></p>
	{:else if crossing.audience.kind === 'may-open'}
		{@const audience = crossing.audience}
		<Picker
			label="What they may open"
			kinds="item,collection"
			placeholder={audience.resourceId ? names.resource(audience.resourceId) : 'Type its name'}
			onChoose={(found) => {
				fresh[found.id] = found.label;
				audience.resourceId = found.id;
			}}
		/>
	{/if}
	{#if errors[`crossing-${n}`]}<p class="text-sm font-medium text-brick">
			{errors[`crossing-${n}`]?.[0]}
		</p>{/if}
	{#if crossing.audience.kind !== 'may-open'}
		<WindowInput
			bind:window={crossing.window}
			name="crossing-{n}-window"
			datesOnly={crossing.audience.kind === 'anyone'}
			message={errors[`crossing-${n}-window`]?.[0]}
		/>
		{#if crossing.audience.kind !== 'anyone'}
			<Fold
				label="Limits"
				isOpen={crossing.limits.uses.kind !== 'none' || errors[`crossing-${n}-limits`] !== undefined}
			>
				<LimitsInput
					bind:limits={crossing.limits}
					name="crossing-{n}-limits"
					message={errors[`crossing-${n}-limits`]?.[0]}
				/>
			</Fold>
		{/if}
	{/if}
	<CheckField label="Also inside every narrower fence" bind:checked={crossing.isThroughout} />
</section>
