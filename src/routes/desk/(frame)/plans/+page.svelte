<script lang="ts">
	import PricesElsewhere from '$ui/components/PricesElsewhere.svelte';

	let { data } = $props();

	/** What a stranger could buy. */
	const offered = $derived(
		data.plans.filter((plan) => plan.isOnSale && plan.isPublic && !plan.isAlone && !plan.isForSome)
	);
</script>

<svelte:head><title>Plans · Desk</title></svelte:head>

<section class="sheet p-6 pt-7">
	<h2>Choose a plan on the left, or write a new one</h2>
	<p class="mt-2 max-w-prose text-quiet">
		A changed price counts for new buyers. Whoever has bought already goes on paying what they agreed to.
	</p>
	<h3 class="mt-6 font-medium">Did everybody have it for nothing until now?</h3>
	<p class="mt-1 max-w-prose text-quiet">
		Begin to charge for it without throwing out those who use it already.
	</p>
	<p class="mt-3"><a class="button-quiet" href="/desk/plans/charge">From free to paid</a></p>
	{#if offered.length > 0}
		<h3 class="mt-6 font-medium">Your prices on another site</h3>
		<p class="mt-1 max-w-prose text-quiet">
			A piece of HTML shows what is on sale there, as it is at every moment.
		</p>
		<PricesElsewhere plans={offered} origin={data.origin} />
	{/if}
</section>
