<script lang="ts">
	/** One line of a fence: who may cross, when, and how often. */
	import type { CrossingDraft } from '$ui/fence-draft';
	import type { namesOf } from '$ui/names';
	import { audienceWords } from '$ui/wording/fence';
	import LimitsInput from './LimitsInput.svelte';
	import Picker from './Picker.svelte';
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
		choices: { plans: { id: string; name: string }[]; batches: { id: string; name: string }[] };
		/** Names of what was picked since the page was loaded. */
		fresh: Record<string, string>;
		errors: Record<string, string[]>;
		onTakenAway: () => void;
	} = $props();

	function toggled(list: string[], one: string, isIn: boolean): string[] {
		return isIn ? [...list, one] : list.filter((other) => other !== one);
	}
</script>

<section
	class="grid gap-3 rounded-sheet border border-line p-4"
	id="crossing-{n}"
	aria-label="Crossing {n + 1}"
>
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h3 class="font-medium">
			{audienceWords(crossing.audience, names, crossing.named.length).replace(/^./, (c) => c.toUpperCase())}
		</h3>
		<button type="button" class="cursor-pointer underline" onclick={onTakenAway}>Take away</button>
	</div>
	{#if crossing.audience.kind === 'holders'}
		{@const audience = crossing.audience}
		<div class="flex flex-wrap gap-x-5 gap-y-1">
			{#each choices.plans as plan (plan.id)}
				<label class="flex items-center gap-2">
					<input
						type="checkbox"
						checked={audience.planIds.includes(plan.id)}
						onchange={(event) =>
							(audience.planIds = toggled(audience.planIds, plan.id, event.currentTarget.checked))}
					/>
					{plan.name}
				</label>
			{/each}
		</div>
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
		<select class="input max-w-96" aria-label="Codes" bind:value={crossing.audience.batchId}>
			<option value="">Choose</option>
			{#each choices.batches as batch (batch.id)}<option value={batch.id}>{batch.name}</option>{/each}
		</select>
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
			<details open={crossing.limits.uses.kind !== 'none' || errors[`crossing-${n}-limits`] !== undefined}>
				<summary class="cursor-pointer text-sm">Limits</summary>
				<div class="mt-2">
					<LimitsInput
						bind:limits={crossing.limits}
						name="crossing-{n}-limits"
						message={errors[`crossing-${n}-limits`]?.[0]}
					/>
				</div>
			</details>
		{/if}
	{/if}
	<label class="flex items-center gap-2 text-sm">
		<input type="checkbox" bind:checked={crossing.isThroughout} /> Throughout: inside every fence within it, too
	</label>
</section>
