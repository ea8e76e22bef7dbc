<script lang="ts">
	import { plainAmount } from '$core/billing/money';
	import type { Terms } from '$core/billing/terms';
	import { readPrice, type TypedPrice } from '$core/billing/terms-typed';
	import MoneyField from '$ui/fields/MoneyField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import { unitOptions } from '$ui/wording/time';
	import { priceText } from '$words/price';
	import { useWords } from '$ui/words';

	/** What is paid first, and what then; with the words in which buyers read it. */
	let {
		terms,
		sent,
		currency,
		currencies,
		errors
	}: {
		/** What is kept; `null` of a new plan. */
		terms: Terms | null;
		/** What was typed and came back. */
		sent: Record<string, string | string[]>;
		/** The site's. */
		currency: string;
		currencies: string[];
		errors: Record<string, string[]>;
	} = $props();

	const words = useWords();

	/** As fields hold it. */
	function typedOf(of: Terms | null): TypedPrice {
		const plain = (minor: number) => plainAmount({ minor, currency: of?.currency ?? currency });
		const more = of?.then.kind === 'more' ? of.then : null;
		return {
			amount: of ? plain(of.firstMinor) : '',
			currency: of?.currency ?? currency,
			fee: of && of.feeMinor > 0 ? plain(of.feeMinor) : '',
			then: of && !more ? 'nothing' : more && more.times !== null ? 'times' : 'until-ended',
			times: more?.times ? String(more.times) : '3',
			thenAmount: more && more.amountMinor !== of?.firstMinor ? plain(more.amountMinor) : '',
			everyCount: String(more?.every.count ?? 1),
			everyUnit: more?.every.unit ?? 'month',
			firstCount: more?.firstLasts ? String(more.firstLasts.count) : '',
			firstUnit: more?.firstLasts?.unit ?? 'week'
		};
	}

	// The form makes it anew where something else is kept.
	// svelte-ignore state_referenced_locally
	const kept = { ...typedOf(terms), ...(sent as Partial<TypedPrice>) };
	let typed = $state<TypedPrice>({ ...kept });

	const read = $derived(readPrice(typed));
	const sentence = $derived(read.ok ? priceText(words(), read.terms) : null);
	const isMore = $derived(typed.then !== 'nothing');
	const hasOwn = [kept.thenAmount, kept.firstCount, kept.fee].some((text) => text !== '');
</script>

<fieldset class="grid max-w-sm gap-3">
	<legend class="question">What is paid first?</legend>
	<MoneyField
		label="Amount"
		name="amount"
		currencyName="currency"
		{currencies}
		bind:amount={typed.amount}
		bind:currency={typed.currency}
		{errors}
	/>
</fieldset>
<fieldset class="grid gap-3">
	<legend class="question">And then?</legend>
	<RadioField
		label="What follows"
		hidesLabel
		name="then"
		options={[
			{ value: 'until-ended', label: 'Again and again, until it is ended' },
			{ value: 'times', label: 'So many payments more' },
			{ value: 'nothing', label: 'Nothing more' }
		]}
		bind:value={() => typed.then, (to) => (typed.then = to as TypedPrice['then'])}
		{errors}
	/>
	<div class="flex flex-wrap items-end gap-3 {isMore ? '' : 'hidden'}">
		<div class={typed.then === 'times' ? '' : 'hidden'}>
			<NumberField label="How many more" name="times" min={1} bind:value={typed.times} {errors} />
		</div>
		<div class="flex items-end gap-3">
			<NumberField
				label="One every"
				name="everyCount"
				min={1}
				class="w-16"
				bind:value={typed.everyCount}
				{errors}
			/>
			<SelectField
				label="Unit"
				name="everyUnit"
				class="w-28"
				options={unitOptions(typed.everyCount)}
				bind:value={() => typed.everyUnit, (to) => (typed.everyUnit = to as TypedPrice['everyUnit'])}
			/>
		</div>
	</div>
	<Fold label="Another price or length at first, a fee" isOpen={hasOwn}>
		<div class="grid gap-3">
			<div class="grid gap-3 {isMore ? '' : 'hidden'}">
				<TextField
					label="Each time after the first"
					hint="Empty: as much as the first."
					name="thenAmount"
					inputmode="decimal"
					autocomplete="off"
					class="price w-36 text-right"
					bind:value={typed.thenAmount}
					{errors}
				/>
				<div class="flex items-end gap-3">
					<NumberField
						label="The first stretch lasts"
						hint="Empty: as long as the others."
						name="firstCount"
						min={1}
						class="w-16"
						bind:value={typed.firstCount}
						{errors}
					/>
					<SelectField
						label="Its unit"
						name="firstUnit"
						class="w-28"
						options={unitOptions(typed.firstCount)}
						bind:value={() => typed.firstUnit, (to) => (typed.firstUnit = to as TypedPrice['firstUnit'])}
					/>
				</div>
			</div>
			<TextField
				label="Once at joining, on top of it"
				hint="Empty: no fee."
				name="fee"
				inputmode="decimal"
				autocomplete="off"
				class="price w-36 text-right"
				bind:value={typed.fee}
				{errors}
			/>
		</div>
	</Fold>
	<p class="border-l-2 border-moss pl-3" aria-live="polite">
		<span class="text-quiet">Buyers read:</span>
		{sentence ?? 'nothing yet: say what is paid first.'}
	</p>
</fieldset>
