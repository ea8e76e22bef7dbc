<script lang="ts">
	import type { Snippet } from 'svelte';
	import type { FrontKey } from '$words/en/front';
	import type { Values } from '$words/say';
	import { useWords } from '$ui/words';

	/** A message in which something other than text stands: a link, a moment. */
	let {
		of,
		values = {},
		things
	}: { of: FrontKey; values?: Values; things: Record<string, Snippet> } = $props();

	const words = useWords();
	const parts = $derived(words().parts(of, values, Object.keys(things)));
</script>

{#each parts as { text, thing }, n (n)}{#if thing === null}{text}{:else}{@render things[
			thing
		]?.()}{/if}{/each}
