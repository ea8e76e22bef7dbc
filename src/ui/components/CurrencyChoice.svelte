<script lang="ts">
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import { useWords } from '$ui/words';

	/** In which currency prices are shown, where there are several; works without script, and asks for the whole page anew. */
	let {
		currencies,
		shown,
		wished = null
	}: {
		currencies: string[];
		shown: string;
		/** What they have said that they want; `null`: nothing. */
		wished?: string | null;
	} = $props();

	const words = useWords();
</script>

{#if currencies.length > 1}
	<p class="mb-4 flex flex-wrap items-baseline gap-x-3 gap-y-1 text-sm">
		<span class="text-quiet">{words().say('plan.currency')}</span>
		{#each currencies as currency (currency)}
			{#if currency === shown}<strong aria-current="true">{currency}</strong>
			{:else}<a
					href={asking(page.url.searchParams, { currency, price: null })}
					rel="nofollow"
					data-sveltekit-reload>{currency}</a
				>{/if}
		{/each}
	</p>
{/if}
{#if wished !== null && currencies.length > 0 && !currencies.includes(wished)}
	<p class="mb-4 text-sm text-quiet" role="status">{words().say('plan.currency-none', { wished, shown })}</p>
{/if}
