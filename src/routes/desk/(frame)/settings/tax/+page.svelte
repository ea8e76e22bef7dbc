<script lang="ts">
	import { untrack } from 'svelte';
	import SettingsForm from '$ui/components/SettingsForm.svelte';
	import TaxRatesInput from '$ui/components/TaxRatesInput.svelte';
	import { countries } from '$ui/countries';
	import CheckField from '$ui/fields/CheckField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import Sent from '$ui/fields/Sent.svelte';

	let { data, form } = $props();

	let way = $state(untrack(() => data.kept.tax.way));
	let rates = $state(untrack(() => [...data.kept.tax.rates]));

	function draw({ tax }: typeof data.kept) {
		way = tax.way;
		rates = [...tax.rates];
	}
</script>

<svelte:head><title>Tax · Settings · Desk</title></svelte:head>

<SettingsForm
	title="Tax"
	part="tax"
	kept={data.kept}
	revision={data.revision}
	zone={data.site.zone}
	answered={form}
	onDraw={draw}
>
	{#snippet fields({ shown, errors })}
		<RadioField
			name="way"
			label="Tax in what buyers pay"
			options={[
				{
					value: 'none',
					label: 'No tax is asked for',
					detail: 'Nobody is asked where they are, and there are receipts in place of invoices.'
				},
				{
					value: 'included',
					label: 'Prices have the tax in them',
					detail: 'A price of 11.90 stays 11.90 wherever somebody is; the tax in it is that of their country.'
				},
				{
					value: 'added',
					label: 'Tax comes on top of prices',
					detail: 'A price of 10.00 is 11.90 where the rate is 19 %: buyers see it before they pay.'
				}
			]}
			{errors}
			bind:value={() => way, (to) => (way = to as typeof way)}
		/>
		<p class="text-sm text-quiet">
			Whoever has bought already pays as they agreed to: prices stay what they are, and only the rate follows
			the law.
		</p>
		<SelectField
			name="home"
			label="Where you pay taxes"
			class="max-w-96"
			options={countries().map(({ code, name }) => ({ value: code, label: name }))}
			from={'home' in shown ? String(shown.home) : (shown.tax.home ?? '')}
			{errors}
		/>
		{#if way !== 'none'}
			<CheckField
				name="isHomeRateInUnion"
				label="Buyers elsewhere in the European Union pay your own rate"
				hint="As those may ask who sell them less than 10,000 EUR a year. Businesses there that give their tax number owe the tax themselves, in any case: none is asked of them."
				from={'isHomeRateInUnion' in shown ? shown.isHomeRateInUnion === 'yes' : shown.tax.isHomeRateInUnion}
			/>
		{:else}
			<Sent name="isHomeRateInUnion" value="yes" isLeftOut={!shown.tax.isHomeRateInUnion} />
		{/if}
		<div class="hidden" data-field="rates" data-label="Rates">
			<Sent
				name="rates"
				value={JSON.stringify(rates)}
				onPutIn={([put = '[]']) => (rates = JSON.parse(put))}
			/>
		</div>
		<TaxRatesInput bind:rates unionRates={data.unionRates} message={errors.rates?.[0]} />
	{/snippet}
</SettingsForm>
