<script lang="ts">
	import { untrack } from 'svelte';
	import LimitsInput from '$ui/components/LimitsInput.svelte';
	import SettingsForm from '$ui/components/SettingsForm.svelte';
	import TurnAwayInput from '$ui/components/TurnAwayInput.svelte';
	import { limitsDraft, sentLimits, turnAwayDraft } from '$ui/fence-draft';
	import NumberField from '$ui/fields/NumberField.svelte';
	import Sent from '$ui/fields/Sent.svelte';

	let { data, form } = $props();

	let limits = $state(untrack(() => limitsDraft(data.kept.limits)));
	let turnAway = $state(untrack(() => turnAwayDraft(data.kept.turnAway)));

	function draw(kept: typeof data.kept) {
		limits = limitsDraft(kept.limits);
		turnAway = turnAwayDraft(kept.turnAway);
	}
</script>

<svelte:head><title>Access · Settings · Desk</title></svelte:head>

<SettingsForm
	title="Access"
	part="access"
	kept={data.kept}
	revision={data.revision}
	zone={data.site.zone}
	answered={form}
	onDraw={draw}
>
	{#snippet fields({ shown, errors })}
		<fieldset>
			<legend class="mb-1 font-medium"
				>What those get who are turned away, where a fence has nothing of its own</legend
			>
			<div class="hidden" data-field="turnAway" data-label="What others get">
				<Sent name="turnAway" value={JSON.stringify(turnAway)} />
			</div>
			<TurnAwayInput bind:turnAway {errors} />
		</fieldset>
		<fieldset>
			<legend class="mb-1 font-medium">Limits, where a fence says “as the site”</legend>
			<div class="hidden" data-field="limits" data-label="Limits">
				<Sent name="limits" value={JSON.stringify(sentLimits(limits))} />
			</div>
			<LimitsInput bind:limits name="limits" hasSite={false} message={errors.limits?.[0]} />
		</fieldset>
		<div class="grid gap-4 sm:grid-cols-2">
			<NumberField
				name="releaseHour"
				label="Hour of release"
				hint="0 to 23. Empty: the time of day at which somebody joined."
				{errors}
				min={0}
				max={23}
				from={String(shown.releaseHour ?? '')}
			/>
			<NumberField
				name="lapseAfterDays"
				label="A gap is a lapse from"
				hint="Without a plan; shorter gaps do not count."
				{errors}
				min={0}
				unit="days"
				from={String(shown.lapseAfterDays)}
			/>
		</div>
	{/snippet}
</SettingsForm>
