<script lang="ts">
	/** Why somebody may open something or not: what decided, what can be done about it, and every step. */
	import type { Mend, Sentence } from '$ui/wording/decision';
	import DeskLink from './DeskLink.svelte';

	let { because, mends, why }: { because: string; mends: Mend[]; why: Sentence[] } = $props();
</script>

<p class="text-base font-semibold">{because}</p>
{#if mends.length > 0}
	<p class="mt-2 flex flex-wrap gap-2">
		{#each mends as { label, href } (href)}<DeskLink {href} class="button-quiet">{label}</DeskLink>{/each}
	</p>
{/if}
<ol class="mt-3 grid list-decimal gap-1.5 border-t border-line pt-2 pl-5 text-quiet">
	{#each why as { text, href, hrefLabel }, n (n)}
		<li>
			{text}
			{#if href}<DeskLink {href}>{hrefLabel}</DeskLink>{/if}
		</li>
	{/each}
</ol>
