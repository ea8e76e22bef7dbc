<script lang="ts">
	import { enhance } from '$app/forms';
	import { formatMoney } from '$core/billing/money';
	import { TEST_CARDS, type TestCardKind } from '$core/billing/test-cards';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import { wholePage } from '$ui/whole-page';

	let { data, form } = $props();

	const payment = $derived(data.payment);
	const deed = $derived(
		payment.isCardOnly
			? 'Keep this card'
			: `Pay ${formatMoney({ minor: payment.amountMinor, currency: payment.currency })}`
	);
	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const values = $derived((form && 'values' in form ? form.values : {}) as Record<string, string>);
	let card = $state<string>('works');
	const ENDED = { captured: 'is paid', declined: 'was declined', expired: 'has ended' };
	const choices = (Object.keys(TEST_CARDS) as TestCardKind[]).map((kind) => ({
		value: kind,
		label: `…${TEST_CARDS[kind].ending}: ${TEST_CARDS[kind].text.replace(/; renewals that work:$/, '')}`
	}));
</script>

<svelte:head><title>{deed} · Practice</title></svelte:head>

<p class="bg-ink px-4 py-1.5 text-center font-medium text-sheet" role="note">
	Practice: this stands for the page of your payment processor. No money moves.
</p>
<main class="mx-auto max-w-xl px-4 py-10">
	<section class="sheet grid gap-4 p-6 pt-7">
		{#if payment.state !== 'pending'}
			<h1>This payment {ENDED[payment.state]}</h1>
			<p><a href={payment.returnUrl} data-sveltekit-reload>Back to the site</a></p>
		{:else}
			<div>
				<h1>{payment.isAsked ? 'The bank asks: is it you?' : deed}</h1>
				<p class="mt-1 text-quiet">{payment.text} · on the card statement: {payment.statementName}</p>
			</div>
			{#if payment.isAsked}
				<form method="post" action="?/step" class="flex flex-wrap gap-3" use:enhance={wholePage}>
					<button class="button-main" name="step" value="yes">Yes, {deed.toLowerCase()}</button>
					<button class="button-quiet" name="step" value="no">No</button>
				</form>
			{:else}
				<form method="post" action="?/pay" class="grid gap-4" novalidate use:enhance={wholePage}>
					<ErrorSummary {errors} />
					<RadioField name="card" label="With a test card" {errors} options={choices} bind:value={card} />
					{#if card === 'fails-later'}<NumberField
							name="later"
							label="Renewals that work"
							{errors}
							class="max-w-32"
							from={values.later ?? '1'}
						/>{/if}
					<TextField
						name="country"
						label="Its bank is in"
						hint="Two letters, such as DE. Empty: that is not said."
						{errors}
						class="max-w-32"
						from={values.country ?? ''}
					/>
					<div><button class="button-main">{deed}</button></div>
				</form>
			{/if}
			<p>
				<a href={payment.returnUrl} data-sveltekit-reload
					>Back without {payment.isCardOnly ? 'a card' : 'paying'}</a
				>
			</p>
		{/if}
	</section>
</main>
