<script lang="ts">
	import { STANDINGS, type Standing } from '$core/access/model';
	import { answerDraft, type TurnAwayDraft } from '$ui/fence-draft';
	import NumberField from '$ui/fields/NumberField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import AnswerInput from './AnswerInput.svelte';

	/** What those get who are turned away: all alike, or some otherwise, and how much they are shown. */
	let { turnAway = $bindable(), errors }: { turnAway: TurnAwayDraft; errors: Record<string, string[]> } =
		$props();

	const CASE_WORDS: Record<Standing, string> = {
		stranger: 'Strangers',
		'without-plan': 'Members without the plan',
		lapsed: 'Those whose plan has lapsed',
		'too-early': 'Those who are too early',
		over: 'Those whose time is over',
		'used-up': 'Those who have used it up'
	};
</script>

<div class="grid gap-3">
	<AnswerInput bind:answer={turnAway.answer} name="turnAway" message={errors.turnAway?.[0]} />
	{#each STANDINGS as standing (standing)}
		{@const own = turnAway.cases[standing]}
		{#if own}
			<section class="rounded-sheet border border-line p-3" aria-label={CASE_WORDS[standing]}>
				<div class="mb-2 flex items-baseline justify-between gap-3">
					<h3 class="font-medium">{CASE_WORDS[standing]}</h3>
					<button
						type="button"
						class="cursor-pointer underline"
						onclick={() => delete turnAway.cases[standing]}>Like everybody</button
					>
				</div>
				<AnswerInput
					bind:answer={
						() => turnAway.cases[standing] ?? answerDraft({ kind: 'absent' }),
						(value) => (turnAway.cases[standing] = value)
					}
					name="turnAway-{standing}"
					message={errors[`turnAway-${standing}`]?.[0]}
				/>
			</section>
		{/if}
	{/each}
	<div class="flex flex-wrap items-center gap-2 text-sm">
		<span>Something else for:</span>
		{#each STANDINGS.filter((one) => !turnAway.cases[one]) as standing (standing)}
			<button
				type="button"
				class="button-quiet"
				onclick={() => (turnAway.cases[standing] = answerDraft({ kind: 'notice', text: [] }))}
				>{CASE_WORDS[standing]}</button
			>
		{/each}
	</div>
	<div class="flex flex-wrap items-end gap-2">
		<SelectField
			label="Teaser"
			id="teaser"
			class="w-56"
			options={[
				{ value: 'nothing', label: 'nothing' },
				{ value: 'paragraphs', label: 'the first paragraphs' },
				{ value: 'seconds', label: 'the first seconds' }
			]}
			bind:value={
				() => turnAway.teaser.kind, (to) => (turnAway.teaser.kind = to as typeof turnAway.teaser.kind)
			}
		/>
		{#if turnAway.teaser.kind !== 'nothing'}
			<NumberField
				label="How many {turnAway.teaser.kind}"
				hidesLabel
				min={1}
				class="w-20"
				bind:value={turnAway.teaser.count}
			/>
		{/if}
	</div>
</div>
