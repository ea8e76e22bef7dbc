<script lang="ts">
	import { SvelteURLSearchParams } from 'svelte/reactivity';
	import { page } from '$app/state';

	/** Leads through the pages of a list whose page is kept in the address. */
	let { of, total, pageSize }: { of: string; total: number; pageSize: number } = $props();

	const pages = $derived(Math.max(1, Math.ceil(total / pageSize)));
	const number = $derived(Math.min(pages, Math.max(1, Number(page.url.searchParams.get('page') ?? 1) || 1)));

	function address(to: number): string {
		const parameters = new SvelteURLSearchParams(page.url.searchParams);
		parameters.set('page', String(to));
		return `?${parameters}`;
	}
</script>

{#if pages > 1}
	<nav class="mt-3 flex items-center gap-3 text-sm" aria-label="Pages of {of}">
		{#if number > 1}<a href={address(number - 1)}>Before</a>{/if}
		<span>Page {number} of {pages}</span>
		{#if number < pages}<a href={address(number + 1)}>Next</a>{/if}
	</nav>
{/if}
