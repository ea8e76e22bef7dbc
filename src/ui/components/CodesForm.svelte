<script lang="ts">
	import { enhance } from '$app/forms';
	import ErrorSummary from './ErrorSummary.svelte';
	import OffInput from './OffInput.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import { optionsOf } from '$ui/fields/labelled';
	import MomentField from '$ui/fields/MomentField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	/** Makes codes: what they do, how many there are, and how long they count. */
	let {
		plans,
		currency,
		currencies,
		errors,
		typed
	}: {
		plans: { id: string; name: string }[];
		currency: string;
		currencies: string[];
		errors: Record<string, string[]>;
		/** What was typed and came back. */
		typed: Record<string, string | string[]>;
	} = $props();

	const text = (name: string) => String(typed[name] ?? '');
	let does = $state(text('does') || 'gives');
	let how = $state(text('how') || 'many');
</script>

<form method="post" action="?/make" class="grid max-w-2xl gap-4" novalidate use:enhance>
	<ErrorSummary {errors} />
	<TextField name="name" label="Name" hint="Only you see it." {errors} from={text('name')} />
	<RadioField
		label="What does a code do?"
		name="does"
		options={[
			{ value: 'gives', label: 'It gives a plan' },
			{ value: 'opens', label: 'It lets its holder cross the fences that name it' },
			{ value: 'takes-off', label: 'It takes something off a price' }
		]}
		bind:value={does}
		{errors}
	/>
	{#if does === 'gives'}
		<div class="grid gap-4 border-l-2 border-line pl-4 sm:grid-cols-[1fr_8rem]">
			<SelectField
				name="plan"
				label="Plan"
				options={[{ value: '', label: 'Choose one' }, ...optionsOf(plans)]}
				from={text('plan')}
				{errors}
			/>
			<TextField
				name="days"
				label="For days"
				{errors}
				inputmode="numeric"
				placeholder="for good"
				from={text('days')}
			/>
		</div>
	{:else if does === 'takes-off'}
		<div class="grid gap-4 border-l-2 border-line pl-4">
			<OffInput discount={null} sent={typed} {currency} {currencies} {errors} />
			<ChecksField
				name="offPlans"
				label="Of which plans (none ticked: of every one)"
				options={optionsOf(plans)}
				from={[typed.offPlans ?? []].flat()}
				{errors}
			/>
			<CheckField
				name="isOncePerBuyer"
				label="Each buyer may use one of them once"
				from={typed.isOncePerBuyer === 'yes'}
			/>
		</div>
	{/if}
	<RadioField
		label="One or many"
		hidesLabel
		isInLine
		name="how"
		options={[
			{ value: 'many', label: 'Many, made here' },
			{ value: 'one', label: 'One of your own' }
		]}
		bind:value={how}
	/>
	{#if how === 'many'}
		<NumberField name="count" label="How many" {errors} class="max-w-28" from={text('count') || '10'} />
	{:else}
		<TextField name="code" label="The code" {errors} from={text('code')} />
	{/if}
	<NumberField
		name="uses"
		label="Uses of each (any number, if empty)"
		{errors}
		class="max-w-28"
		from={typed.uses === undefined ? '1' : text('uses')}
	/>
	<div class="grid gap-4">
		<MomentField name="startsAt" label="From" {errors} from={text('startsAt')} />
		<MomentField name="endsAt" label="Until" {errors} from={text('endsAt')} />
	</div>
	<button class="button-main justify-self-start">Make them</button>
</form>
