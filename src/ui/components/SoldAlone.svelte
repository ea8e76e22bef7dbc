<script lang="ts">
	/** One thing of the Library at a price of its own: what it is sold for, or the price that begins it. */
	import { enhance } from '$app/forms';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import type { PlanAccess } from '$core/billing/plan-access';
	import type { Terms } from '$core/billing/terms';
	import MoneyField from '$ui/fields/MoneyField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import { unitOptions } from '$ui/wording/time';
	import { useWords } from '$ui/words';
	import { lengthText, priceText } from '$words/price';
	import HandOn from './HandOn.svelte';
	import Rehearsal from './Rehearsal.svelte';

	let {
		sold,
		title,
		origin,
		currency,
		currencies,
		zone,
		errors,
		sent,
		rehearsal
	}: {
		/** `null`: it is not sold alone. */
		sold: { planId: string; slug: string; terms: Terms; access: PlanAccess; isOnSale: boolean } | null;
		title: string;
		origin: string;
		/** The site's. */
		currency: string;
		currencies: string[];
		zone: string;
		errors: Record<string, string[]>;
		/** What was typed and came back. */
		sent: Record<string, string | string[]>;
		rehearsal: RehearsalView | null;
	} = $props();

	const words = useWords();

	const NOTHING = { aloneAmount: '', aloneCurrency: '', aloneCount: '', aloneUnit: 'day', aloneUses: '' };
	// The page makes it anew for another item.
	// svelte-ignore state_referenced_locally
	let typed = $state({ ...NOTHING, aloneCurrency: currency, ...(sent as Partial<typeof NOTHING>) });
</script>

{#if sold}
	<p class="mt-1">
		<span class="font-semibold">{priceText(words(), sold.terms)}</span>, {sold.access.kind === 'length'
			? `open for ${lengthText(words(), sold.access.length)}`
			: 'open for good'}{sold.isOnSale ? '' : '. It is not sold any more: those who bought it keep it'}.
	</p>
	<p class="mt-2 flex flex-wrap items-center gap-3">
		<a class="button-quiet" href="/desk/plans/{sold.planId}">Change it</a>
		<HandOn
			what={title}
			lines={[
				{
					label: 'Straight to the checkout',
					text: `${origin}/checkout/${sold.slug}`,
					hint: 'Behind any button.'
				}
			]}
			finds={sold.isOnSale ? 'the price and the way to pay.' : 'that it is not on sale.'}
		/>
	</p>
{:else}
	<form
		method="post"
		action="?/sell"
		class="mt-2 grid gap-3"
		novalidate
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
	>
		<MoneyField
			label="Price, paid once"
			name="aloneAmount"
			currencyName="aloneCurrency"
			{currencies}
			{errors}
			bind:amount={typed.aloneAmount}
			bind:currency={typed.aloneCurrency}
		/>
		<div class="grid grid-cols-[1fr_7rem] items-end gap-2">
			<NumberField
				label="Opens for"
				hint="For good, if empty."
				name="aloneCount"
				min={1}
				class="w-full"
				{errors}
				bind:value={typed.aloneCount}
			/>
			<SelectField
				label="Its unit"
				name="aloneUnit"
				options={unitOptions(typed.aloneCount)}
				bind:value={typed.aloneUnit}
			/>
		</div>
		<NumberField
			label="How often each may open it"
			hint="As often as they like, if empty."
			name="aloneUses"
			min={1}
			class="w-full"
			{errors}
			bind:value={typed.aloneUses}
		/>
		{#if rehearsal}<Rehearsal
				{rehearsal}
				title="What selling “{title}” alone would do"
				{zone}
				action="?/sell"
			/>{:else}<button class="button-main justify-self-start">Sell it alone</button>{/if}
	</form>
{/if}
