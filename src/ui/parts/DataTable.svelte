<script lang="ts" generics="Row extends { id: string }">
	import ArrowDown from '@lucide/svelte/icons/arrow-down';
	import ArrowUp from '@lucide/svelte/icons/arrow-up';
	import type { Snippet } from 'svelte';
	import type { SvelteSet } from 'svelte/reactivity';
	import { page } from '$app/state';
	import { asking } from '$ui/address';
	import CheckField from '$ui/fields/CheckField.svelte';
	import SearchField from '$ui/fields/SearchField.svelte';
	import { oneStop, rowsAreStops } from '$ui/one-stop';
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
		empty,
		tools,
		chosen,
		nameOf = () => ''
	}: {
		caption: string;
		columns: { key: string; label: string; sortable?: boolean; end?: boolean }[];
		rows: Row[];
		total: number;
		pageSize: number;
		/** The cells of one row. */
		row: Snippet<[Row]>;
		empty: Snippet;
		/** What narrows the list further, beside the search. */
		tools?: Snippet;
		/** Ids of those that are chosen, where rows can be. */
		chosen?: SvelteSet<string>;
		/** What a row is called, where it can be chosen. */
		nameOf?: (row: Row) => string;
	} = $props();

	let body = $state<HTMLElement | null>(null);
	/** The row that the keyboard is on, and the one from which several are chosen. */
	let at = $state(0);
	let anchor = $state<number | null>(null);
	const current = $derived(Math.min(at, Math.max(0, rows.length - 1)));
	const here = $derived(rows.filter(({ id }) => chosen?.has(id)).length);

	function toggle(n: number) {
		const id = rows[n]?.id;
		if (!chosen || id === undefined) return;
		if (!chosen.delete(id)) chosen.add(id);
		anchor = n;
	}

	/** All from the one that was chosen last. */
	function chooseTo(n: number) {
		const from = anchor ?? n;
		for (const { id } of rows.slice(Math.min(from, n), Math.max(from, n) + 1)) chosen?.add(id);
		anchor ??= n;
	}

	function moveTo(n: number) {
		at = Math.min(rows.length - 1, Math.max(0, n));
		body?.querySelectorAll<HTMLElement>('tr')[at]?.focus();
	}

	function onkeydown(event: KeyboardEvent, n: number) {
		// What is in a row has keys of its own.
		if (!chosen || event.target !== event.currentTarget) return;
		const isChoosing = event.shiftKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp');
		if (isChoosing) anchor ??= n;
		if (event.key === 'ArrowDown') moveTo(n + 1);
		else if (event.key === 'ArrowUp') moveTo(n - 1);
		else if (event.key === 'Home') moveTo(0);
		else if (event.key === 'End') moveTo(rows.length - 1);
		else if (event.key === ' ') toggle(n);
		else if (event.key === 'Enter') body?.querySelectorAll('tr')[n]?.querySelector('a')?.click();
		else if (event.key === 'a' && (event.ctrlKey || event.metaKey)) for (const { id } of rows) chosen.add(id);
		else if (event.key === 'Escape' && chosen.size > 0) chosen.clear();
		else return;
		event.preventDefault();
		if (isChoosing) chooseTo(at);
	}

	function choose(event: MouseEvent, n: number) {
		if (!event.shiftKey) return;
		event.preventDefault();
		event.stopPropagation();
		chooseTo(n);
	}

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
	{#each page.url.searchParams as [name, value] (name)}
		{#if name !== 'q' && name !== 'page'}<input type="hidden" {name} {value} />{/if}
	{/each}
	{@render tools?.()}
	<span class="ml-auto text-sm text-quiet">{total} {total === 1 ? 'row' : 'rows'}</span>
</form>
{#if rows.length === 0}
	{@render empty()}
{:else}
	<div class="overflow-x-auto">
		<table
			class="w-full border-collapse"
			role={chosen ? 'grid' : undefined}
			aria-multiselectable={chosen ? 'true' : undefined}
		>
			<caption class="sr-only">{caption}</caption>
			<thead>
				<tr class="border-b border-line text-left text-sm text-quiet">
					{#if chosen}<th scope="col" class="w-9 min-w-9 py-2 pr-4"
							><CheckField
								label="All on this page"
								hidesLabel
								isPartly={here > 0 && here < rows.length}
								bind:checked={
									() => here > 0 && here === rows.length,
									(isIn) => rows.forEach(({ id }) => (isIn ? chosen.add(id) : chosen.delete(id)))
								}
							/></th
						>{/if}
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
			<tbody data-sveltekit-preload-data="hover" bind:this={body} {@attach chosen ? rowsAreStops : oneStop}>
				{#each rows as item, n (item.id)}
					<tr
						class="border-b border-line {chosen
							? 'align-middle'
							: 'align-baseline'} outline-offset-[-2px] last:border-0 hover:bg-sunk {chosen?.has(item.id)
							? 'bg-moss-wash'
							: ''}"
						tabindex={chosen ? (n === current ? 0 : -1) : undefined}
						aria-selected={chosen ? chosen.has(item.id) : undefined}
						onkeydown={(event) => onkeydown(event, n)}
						onfocus={() => (at = n)}
					>
						{#if chosen}<td class="py-2 pr-4" onclickcapture={(event) => choose(event, n)}
								><CheckField
									label="Choose {nameOf(item)}"
									hidesLabel
									tabindex={-1}
									bind:checked={() => chosen.has(item.id), () => toggle(n)}
								/></td
							>{/if}
						{@render row(item)}
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
	<Pager of={caption} {total} {pageSize} />
{/if}
