<script lang="ts">
	import type { Foreseen } from '$core/billing/agreement-foreseen';
	import { formatMoney } from '$core/billing/money';
	import RadioField from '$ui/fields/RadioField.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import { STEP_WORDS } from '$ui/wording/agreement';
	import { formatDay } from '$ui/wording/time';

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
	const others = $derived(agreement.steps.filter(({ step }) => !step.startsWith('rest')));
	let chosen = $state<string>('rest-1');
	const pause = $derived(pauses.find(({ step }) => step === chosen));

	const items = $derived(opens === 1 ? '1 item' : `${opens} items`);

	function whatOf({ open, next }: Foreseen): string {
		const access =
			open === null
				? `${plan} closes for ${member} at once, and with it ${items}.`
				: open.until === null
					? `${plan} stays open for ${member}, for good.`
					: `${plan} stays open for ${member} until ${formatDay(open.until, zone)}, and with it ${items}.`;
		const money =
			next === null
				? 'Nothing more is charged, and nothing is paid back.'
				: `The next payment is ${formatMoney({ minor: next.amountMinor, currency })} on ${formatDay(next.at, zone)}.`;
		return `${access} ${money}`;
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
