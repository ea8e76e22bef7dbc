<script lang="ts">
	import { LEGAL_PAGES } from '$core/looks/legal';
	import { LEGAL_WORDS } from '$ui/wording/legal';
	import SettingsForm from '$ui/components/SettingsForm.svelte';
	import ComboField from '$ui/fields/ComboField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>Settings · Desk</title></svelte:head>

<SettingsForm
	title="The site"
	part="site"
	kept={data.kept}
	revision={data.revision}
	zone={data.site.zone}
	answered={form}
>
	{#snippet fields({ shown, errors })}
		<TextField
			name="siteName"
			label="Name of the site"
			hint="It stands on every page, and mails are signed with it."
			{errors}
			from={shown.siteName}
		/>
		<div class="grid gap-4 sm:grid-cols-2">
			<ComboField
				name="zone"
				label="Time zone"
				hint="Days and hours of releases are counted in it."
				{errors}
				options={data.zones.map((zone) => ({ value: zone, label: zone }))}
				from={shown.zone}
			/>
			<SelectField
				name="language"
				label="Language of the front and of mails"
				hint="The Desk stays as it is."
				options={data.languages}
				from={shown.language}
				{errors}
			/>
		</div>
		<fieldset class="grid gap-4">
			<legend class="question">At the foot of every page and mail</legend>
			{#each LEGAL_PAGES as name (name)}
				<TextField
					{name}
					label={LEGAL_WORDS[name]}
					hint={name === 'imprint'
						? 'Each a path of this site such as /imprint, an address elsewhere, or mailto: and a mail address. Empty: it is not linked.'
						: undefined}
					{errors}
					from={name in shown ? String(shown[name as keyof typeof shown]) : shown.legal[name]}
				/>
			{/each}
		</fieldset>
	{/snippet}
</SettingsForm>
