<script lang="ts">
	import { formatMoney } from '$core/billing/money';

	let { data } = $props();

	const amount = $derived(formatMoney({ minor: data.totalMinor, currency: data.currency }));
</script>

<svelte:head><title>Thank you · {data.site.name}</title></svelte:head>

<div class="sheet max-w-xl p-6 pt-7">
	{#if data.isGivenBack}
		<h1>You had {data.planName} already</h1>
		<p class="mt-2">This second payment of {amount} goes back to your card by itself.</p>
	{:else if data.isIn}
		<h1>{data.planName} is open for you</h1>
		<p class="mt-2">You paid {amount}. Order {data.number}.</p>
	{:else}
		<h1>Thank you for your order</h1>
		<p class="mt-2">You paid {amount} for {data.planName}. Order {data.number}.</p>
	{/if}
	{#if data.isIn}
		<p class="mt-5"><a class="button-main" href={data.landing}>Open what you bought</a></p>
		<p class="mt-4 text-quiet">
			This device is signed in. The receipt and a link for your other devices are on their way to {data.email}.
		</p>
	{:else}
		<p class="mt-4">
			The way in is in the mail to {data.email}: press the button behind its link, and this device is signed
			in and what you bought is open.
		</p>
		<p class="mt-3"><a href="/sign-in">No mail? Ask for another, or sign in with a password</a></p>
	{/if}
	<p class="mt-4 text-sm text-quiet">On your card statement: {data.site.statementName}.</p>
</div>
