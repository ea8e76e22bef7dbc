<script lang="ts">
	import type { Foreseen } from '$core/billing/agreement-foreseen';
	import RadioField from '$ui/fields/RadioField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import { foreseenWords, STEP_WORDS } from '$ui/wording/agreement';

	/** What may be done about an agreement, each with what that makes of it before it is done. */
	let {
		agreement,
		currency,
		plan,
		member,
		opens,
		zone
	}: {
		agreement: { id: string; revision: string; steps: Foreseen[] };
		currency: string;
		plan: string;
		member: string;
		/** How many items the plan opens. */
		opens: number;
		zone: string;
	} = $props();

	const pauses = $derived(agreement.steps.filter(({ step }) => step.startsWith('rest')));
	/** What is cancelled and would end at once is ended now. */
	const others = $derived(
		agreement.steps.filter(
			({ step, state }) => !step.startsWith('rest') && !(step === 'cancel' && state.kind === 'ended')
		)
	);
	let chosen = $state<string>('rest-1');
	const pause = $derived(pauses.find(({ step }) => step === chosen));

	function whatOf(step: Foreseen): string {
		return foreseenWords(step, { plan, member, opens, currency, zone });
	}
</script>

{#snippet one(step: Foreseen, label: string)}
	<Confirm
		{label}
		title="{STEP_WORDS[step.step]}?"
		what={whatOf(step)}
		action="?/steer"
		confirmLabel={STEP_WORDS[step.step]}
		isQuiet={step.step !== 'stop'}
	>
		<input type="hidden" name="agreement" value={agreement.id} />
		<input type="hidden" name="seen" value={agreement.revision} />
		{#if step === pause}
			<RadioField
				label="For how long"
				name="step"
				options={pauses.map((one) => ({ value: one.step, label: STEP_WORDS[one.step] }))}
				bind:value={chosen}
			/>
		{:else}<input type="hidden" name="step" value={step.step} />{/if}
	</Confirm>
{/snippet}

<div class="flex flex-wrap gap-2">
	{#each others as step (step.step)}
		{@render one(step, STEP_WORDS[step.step])}
	{/each}
	{#if pause}{@render one(pause, 'Pause')}{/if}
</div>
