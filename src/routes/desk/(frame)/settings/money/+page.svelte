<script lang="ts">
	import SettingsForm from '$ui/components/SettingsForm.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import SwitchField from '$ui/fields/SwitchField.svelte';
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
		<TextField
			name="sellerName"
			label="Who sells, as it stands on receipts"
			hint="Empty: {data.site.name}."
			from={'sellerName' in shown ? String(shown.sellerName) : shown.seller.name}
			{errors}
		/>
		<TextField
			name="sellerAddress"
			label="Your address"
			hint="As on a letter. It stands on receipts, with the tax number: many countries want both there."
			rows={3}
			from={'sellerAddress' in shown ? String(shown.sellerAddress) : shown.seller.address}
			{errors}
		/>
		<TextField
			name="taxNumber"
			label="Tax number"
			class="w-60"
			from={'taxNumber' in shown ? String(shown.taxNumber) : shown.seller.taxNumber}
			{errors}
		/>
		<TextField
			name="retryDays"
			label="A card that was declined is tried again after so many days"
			hint="Days from when it fell due. Empty: never. What has fallen due already keeps what was set then."
			class="w-40"
			inputmode="numeric"
			{errors}
			from={'retryDays' in shown ? String(shown.retryDays) : shown.collecting.retryDays.join(', ')}
		/>
		<RadioField
			name="meanwhile"
			label="Meanwhile"
			options={[
				{ value: 'open', label: 'what they have stays open' },
				{ value: 'shut', label: 'it is shut until the payment comes in' }
			]}
			{errors}
			from={'meanwhile' in shown
				? String(shown.meanwhile)
				: shown.collecting.isOpenMeanwhile
					? 'open'
					: 'shut'}
		/>
		<SelectField
			name="payBy"
			label="How buyers pay"
			hint="A plan may offer fewer of these ways, or another one first."
			options={[
				{ value: 'card', label: 'By card' },
				{ value: 'card offline', label: 'By card, or without one' },
				{ value: 'offline card', label: 'Without a card, or by card' },
				{ value: 'offline', label: 'Without a card' }
			]}
			from={Array.isArray(shown.payBy) ? shown.payBy.join(' ') : String(shown.payBy)}
			{errors}
		/>
		<TextField
			name="offlineName"
			label="What paying without a card is called"
			hint="Buyers choose it by this. Empty: “By transfer”."
			from={'offlineName' in shown ? String(shown.offlineName) : shown.offline.name}
			{errors}
		/>
		<TextField
			name="offlineHow"
			label="How one pays without a card"
			hint="Such as the account to transfer to. It stands on the page after the order and in the mail, with the amount and the order’s number. You say under Today when the money has come in: nothing opens before."
			rows={4}
			from={'offlineHow' in shown ? String(shown.offlineHow) : shown.offline.how}
			{errors}
		/>
		<SwitchField
			name="mayPause"
			label="Members may pause"
			hint="What they pay by the period, from the end of what is paid on. You may pause it for anybody."
			from={String(shown.mayPause) === 'yes' || shown.mayPause === true}
		/>
		<TextField
			name="remindsAfterHours"
			label="Hours after which members are reminded of what they began to buy"
			hint="From 1 to 72. Empty: nobody is. One mail for an order, one a week at most, and only to members who began signed in and have proved their mailbox; one press in it ends them."
			from={String(shown.remindsAfterHours ?? '')}
			{errors}
		/>
	{/snippet}
</SettingsForm>
