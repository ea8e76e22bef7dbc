<script lang="ts">
	import SettingsForm from '$ui/components/SettingsForm.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>Money · Settings · Desk</title></svelte:head>

<SettingsForm
	title="Money"
	part="money"
	kept={data.kept}
	revision={data.revision}
	zone={data.site.zone}
	answered={form}
>
	{#snippet fields({ shown, errors })}
		<SelectField
			name="currency"
			label="Currency for new prices"
			hint="Prices that are there keep their own."
			options={data.currencies.map((code) => ({ value: code, label: code }))}
			from={shown.currency}
			{errors}
		/>
		<TextField
			name="statementName"
			label="Name on card statements"
			hint="Buyers see it before they pay and on receipts."
			{errors}
			from={shown.statementName}
		/>
	{/snippet}
</SettingsForm>
