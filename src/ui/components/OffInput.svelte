<script lang="ts">
	import type { Discount } from '$core/billing/discount';
	import { readOff, type TypedOff } from '$core/billing/discount-typed';
	import { plainAmount } from '$core/billing/money';
	import MoneyField from '$ui/fields/MoneyField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import { discountText } from '$words/price';
	import { useWords } from '$ui/words';

	/** What is taken off a price; with the words in which buyers read it. */
	let {
		discount,
		sent,
		currency,
		currencies,
		errors
	}: {
		/** What is kept; `null`: nothing yet. */
		discount: Discount | null;
		/** What was typed and came back. */
		sent: Record<string, string | string[]>;
		/** The site's. */
		currency: string;
		currencies: string[];
		errors: Record<string, string[]>;
	} = $props();

	const words = useWords();

	/** As fields hold it. */
	function typedOf(of: Discount | null): TypedOff {
		const amount = of?.off.kind === 'amount' ? of.off : null;
		const payments = of?.payments ?? null;
		return {
			offKind: of?.off.kind ?? 'percent',
			percent: of?.off.kind === 'percent' ? String(of.off.percent) : '',
			offAmount: amount ? plainAmount(amount) : '',
			offCurrency: amount?.currency ?? currency,
			offOf: of && payments === null ? 'all' : payments === null || payments === 1 ? 'first' : 'some',
			offPayments: String(payments ?? 3)
		};
	}

	// The form makes it anew where something else is kept.
	// svelte-ignore state_referenced_locally
	let typed = $state<TypedOff>({ ...typedOf(discount), ...(sent as Partial<TypedOff>) });

	const read = $derived(readOff(typed));
</script>

<div class="grid gap-3">
	<RadioField
		label="What is taken off?"
		isInLine
		name="offKind"
		options={[
			{ value: 'percent', label: 'Percent' },
			{ value: 'amount', label: 'An amount' }
		]}
		bind:value={() => typed.offKind, (to) => (typed.offKind = to as TypedOff['offKind'])}
		{errors}
	/>
	<div class={typed.offKind === 'percent' ? '' : 'hidden'}>
		<TextField
			label="Percent"
			name="percent"
			inputmode="numeric"
			autocomplete="off"
			class="price w-24 text-right"
			bind:value={typed.percent}
			{errors}
		/>
	</div>
	<div class="max-w-sm {typed.offKind === 'amount' ? '' : 'hidden'}">
		<MoneyField
			label="Amount"
			name="offAmount"
			currencyName="offCurrency"
			{currencies}
			bind:amount={typed.offAmount}
			bind:currency={typed.offCurrency}
			{errors}
		/>
	</div>
</div>
<div class="grid gap-3">
	<RadioField
		label="Of which payments?"
		name="offOf"
		options={[
			{ value: 'first', label: 'The first that asks for something' },
			{ value: 'some', label: 'So many' },
			{ value: 'all', label: 'Every one, as long as it lasts' }
		]}
		bind:value={() => typed.offOf, (to) => (typed.offOf = to as TypedOff['offOf'])}
		{errors}
	/>
	<div class={typed.offOf === 'some' ? '' : 'hidden'}>
		<NumberField label="How many" name="offPayments" min={1} bind:value={typed.offPayments} {errors} />
	</div>
</div>
<p class="text-quiet" aria-live="polite">
	{#if read.ok}Buyers read: <strong class="text-ink">{discountText(words(), read.discount)}</strong>. Of a
		joining fee nothing is taken off.{:else}Buyers read here what you type above.{/if}
</p>
