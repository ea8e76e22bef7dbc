<script lang="ts">
	import type { Snippet } from 'svelte';
	import { page } from '$app/state';

	/** Leads to another area of the Desk, for those who may go there; for all others it is a name. */
	let { href, children, ...rest }: { href: string; class?: string; children: Snippet } = $props();

	const mayGo = $derived(
		((page.data.areas as string[] | undefined) ?? []).some(
			(area) => area !== '/desk' && href.startsWith(area)
		)
	);
</script>

{#if mayGo}<a {href} {...rest}>{@render children()}</a>{:else}{@render children()}{/if}
