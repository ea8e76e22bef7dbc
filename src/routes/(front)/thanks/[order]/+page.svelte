<script lang="ts">
	import { formatMoney } from '$core/billing/money';

	let { data } = $props();

	const amount = $derived(formatMoney({ minor: data.totalMinor, currency: data.currency }));
</script>

<svelte:head><title>Thank you · {data.site.name}</title></svelte:head>

<div class="sheet max-w-xl p-6 pt-7">
	{#if data.state === 'given-back'}
		<h1>You had {data.planName} already</h1>
		<p class="mt-2">This second payment of {amount} goes back to your card by itself.</p>
	{:else}
		<h1>{data.planName} is open for you</h1>
		<p class="mt-2">You paid {amount}. Order {data.number}.</p>
	{/if}
	{#if data.isIn}
		<p class="mt-5"><a class="button-main" href={data.landing}>Open what you bought</a></p>
		<p class="mt-4 text-quiet">
			This device is signed in. The receipt and a link for your other devices are on their way to {data.email}.
		</p>
	{:else}
		<p class="mt-4">
			{data.email} has an account here, so this device is not signed in by paying. We have mailed you a link that
			signs it in.
		</p>
		<p class="mt-3"><a href="/sign-in?next={encodeURIComponent(data.landing)}">Sign in with a password</a></p>
	{/if}
	<p class="mt-4 text-sm text-quiet">On your card statement: {data.site.statementName}.</p>
</div>
