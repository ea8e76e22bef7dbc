<script lang="ts">
	import SelectField from './SelectField.svelte';
	import TextField from './TextField.svelte';

	/** An amount and its currency. */
	let {
		label,
		name,
		currencyName,
		errors = {},
		amount = $bindable(),
		currency = $bindable(),
		currencies
	}: {
		label: string;
		name: string;
		/** Under which the currency is sent. */
		currencyName: string;
		errors?: Record<string, string[]>;
		/** As it is typed. */
		amount: string;
		currency: string;
		/** More than one: there is a choice. */
		currencies: string[];
	} = $props();
</script>

<div class="grid grid-cols-[1fr_7rem] gap-2">
	<TextField
		{label}
		{name}
		{errors}
		class="price text-right"
		inputmode="decimal"
		autocomplete="off"
		bind:value={amount}
	/>
	<SelectField
		label="Currency"
		name={currencyName}
		{errors}
		options={currencies.map((code) => ({ value: code, label: code }))}
		bind:value={currency}
	/>
</div>
