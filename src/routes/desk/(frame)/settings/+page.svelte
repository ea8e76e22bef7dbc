<script lang="ts">
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
	{/snippet}
</SettingsForm>
