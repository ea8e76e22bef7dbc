<script lang="ts">
	import type { Terms } from '$core/billing/terms';
	import { pricePieces } from '$words/price';
	import { useWords } from '$ui/words';

	/** What a price asks for, its amounts told apart. */
	let { terms, class: classes = 'font-semibold' }: { terms: Terms; class?: string } = $props();

	const words = useWords();
</script>

{#each pricePieces(words(), terms) as { text, isAmount }, n (n)}{#if isAmount}<span class="price {classes}"
			>{text}</span
		>{:else}{text}{/if}{/each}
