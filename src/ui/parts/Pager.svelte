<script lang="ts">
	import { asking } from '$ui/address';
	import { Pagination } from 'bits-ui';
	import { page } from '$app/state';

	/** Leads through the pages of a list whose page is kept in the address. */
	let { of, total, pageSize }: { of: string; total: number; pageSize: number } = $props();

	const pages = $derived(Math.max(1, Math.ceil(total / pageSize)));
	const number = $derived(Math.min(pages, Math.max(1, Number(page.url.searchParams.get('page') ?? 1) || 1)));

	const address = (to: number) => asking(page.url.searchParams, { page: String(to) });
</script>

{#if pages > 1}
	<Pagination.Root count={total} perPage={pageSize} page={number}>
		{#snippet child({ props, pages: shown })}
			<nav {...props} class="mt-3 flex flex-wrap items-center gap-1 text-sm" aria-label="Pages of {of}">
				{#if number > 1}<a class="page" rel="prev" href={address(number - 1)}>Before</a>{/if}
				{#each shown as one (one.key)}
					{#if one.type === 'ellipsis'}<span class="px-1 text-quiet">…</span>
					{:else}<a
							class="page"
							href={address(one.value)}
							aria-label="Page {one.value} of {pages}"
							aria-current={one.value === number ? 'page' : undefined}>{one.value}</a
						>{/if}
				{/each}
				{#if number < pages}<a class="page" rel="next" href={address(number + 1)}>Next</a>{/if}
			</nav>
		{/snippet}
	</Pagination.Root>
{/if}
