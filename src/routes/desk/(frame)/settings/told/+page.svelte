<script lang="ts">
	import { TELL_HOWS } from '$core/staff/telling';
	import SettingsForm from '$ui/components/SettingsForm.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import { HOW_WORDS, TELL_WORDS } from '$ui/wording/telling';

	let { data, form } = $props();

	const options = TELL_HOWS.map((how) => ({ value: how, label: HOW_WORDS[how] }));
</script>

<svelte:head><title>Mails to you · Settings · Desk</title></svelte:head>

<SettingsForm
	title="Mails to you"
	part="told"
	kept={data.kept}
	revision={data.revision}
	zone={data.site.zone}
	answered={form}
>
	{#snippet fields({ shown, errors })}
		<p class="text-quiet">
			They go to <bdi class="font-medium text-ink">{data.staff.email}</bdi>, and each of the staff chooses for
			themselves. At once means within two minutes, with all that came meanwhile in one mail; the mail of the
			day goes out at {data.hour}:00 in {data.site.zone}, on days on which there is something. Nobody is told
			what they did themselves.
		</p>
		{#each data.kinds as kind (kind)}
			<div class="grid gap-1 border-t border-line pt-3">
				<RadioField
					name={kind}
					label={TELL_WORDS[kind].label}
					{options}
					isInLine
					from={shown[kind]}
					{errors}
				/>
				<p class="text-sm text-quiet">{TELL_WORDS[kind].detail}</p>
			</div>
		{/each}
	{/snippet}
</SettingsForm>
