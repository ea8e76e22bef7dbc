<script lang="ts" generics="Row extends { id: string }">
	import ArrowDown from '@lucide/svelte/icons/arrow-down';
	import ArrowUp from '@lucide/svelte/icons/arrow-up';
	import type { Snippet } from 'svelte';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import SearchField from '$ui/fields/SearchField.svelte';
	import Pager from './Pager.svelte';
	import { nextOrder, tableOf } from './table';

	/** A table whose search, order and page are kept in the address and worked out by the server. */
	let {
		caption,
		columns,
		rows,
		total,
		pageSize,
		row,
		empty
	}: {
		caption: string;
		columns: { key: string; label: string; sortable?: boolean; end?: boolean }[];
		rows: Row[];
		total: number;
		pageSize: number;
		/** The cells of one row. */
		row: Snippet<[Row]>;
		empty: Snippet;
	} = $props();

	const search = $derived(page.url.searchParams.get('q') ?? '');
	const order = $derived(page.url.searchParams.get('order') ?? '');

	const table = $derived(
		tableOf<Row>(
			columns.map(({ key, label }) => ({ id: key, header: label })),
			order
		)
	);

	const address = (changes: Record<string, string | null>) => asking(page.url.searchParams, changes);
</script>

<form
	class="mb-3 flex flex-wrap items-center gap-2"
	role="search"
	data-sveltekit-keepfocus
	data-sveltekit-replacestate
	data-sveltekit-noscroll
>
	<div class="w-72 max-w-full"><SearchField of={caption} value={search} /></div>
	{#if order}<input type="hidden" name="order" value={order} />{/if}
	<span class="ml-auto text-sm text-quiet">{total} {total === 1 ? 'row' : 'rows'}</span>
</form>
{#if rows.length === 0}
	{@render empty()}
{:else}
	<div class="overflow-x-auto">
		<table class="w-full border-collapse">
			<caption class="sr-only">{caption}</caption>
			<thead>
				<tr class="border-b border-line text-left text-sm text-quiet">
					{#each table.getVisibleLeafColumns() as column (column.id)}
						{@const { label, sortable, end } = columns.find(({ key }) => key === column.id)!}
						{@const way = column.getIsSorted()}
						<th
							scope="col"
							class="py-2 pr-4 font-medium {end ? 'text-right' : ''}"
							aria-sort={way === 'asc' ? 'ascending' : way === 'desc' ? 'descending' : undefined}
						>
							{#if sortable}
								<a
									class="inline-flex items-center gap-1 text-quiet"
									href={address({ order: nextOrder(order, column.id), page: null })}
									>{label}{#if way === 'asc'}<ArrowUp size={13} />{:else if way === 'desc'}<ArrowDown
											size={13}
										/>{/if}</a
								>
							{:else}{label}{/if}
						</th>
					{/each}
				</tr>
			</thead>
			<tbody>
				{#each rows as item (item.id)}
					<tr class="border-b border-line align-baseline last:border-0 hover:bg-sunk">{@render row(item)}</tr>
				{/each}
			</tbody>
		</table>
	</div>
	<Pager of={caption} {total} {pageSize} />
{/if}
