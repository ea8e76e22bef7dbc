<script lang="ts">
	import { page } from '$app/state';
	import { askedTerms, asksForMoney, type Terms } from '$core/billing/terms';
	import { pricePieces } from '$words/price';
	import { useWords } from '$ui/words';

	/** What a price asks for, its amounts told apart, and whether tax is in it. */
	let { terms, class: classes = 'font-semibold' }: { terms: Terms; class?: string } = $props();

	const words = useWords();

	/** How the site's prices are written; the Desk shows them as they are. */
	const site = $derived(
		(page.data.site as { tax?: { way: 'included' | 'added'; name: string } | null } | undefined)?.tax ?? null
	);
	const note = $derived.by(() => {
		if (!site || !asksForMoney(terms) || terms.tax?.way === 'taken-out') return '';
		const name = site.name || words().say('price.tax');
		const isIn = terms.tax?.way === 'added' || site.way === 'included';
		return words().say(isIn ? 'price.with-tax' : 'price.plus-tax', { name });
	});
</script>

{#each pricePieces(words(), askedTerms(terms)) as { text, isAmount }, n (n)}{#if isAmount}<span
			class="price {classes}">{text}</span
		>{:else}{text}{/if}{/each}{#if note}<span class="ml-1 text-sm whitespace-nowrap text-quiet">{note}</span
	>{/if}
