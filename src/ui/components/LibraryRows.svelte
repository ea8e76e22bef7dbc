<script lang="ts">
	import ArrowDown from '@lucide/svelte/icons/arrow-down';
	import ArrowUp from '@lucide/svelte/icons/arrow-up';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import { tick } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import type { LibraryRow } from '$core/library/row-view';
	import { asking } from '$ui/address';
	import { refresh } from '$ui/refresh';
	import CheckField from '$ui/fields/CheckField.svelte';
	import { nextOrder, tableOf } from '$ui/parts/table';
	import type { LibraryList } from '$ui/library-list.svelte';
	import { COLUMNS, COLUMN_WORDS, type Column } from '$ui/library-columns';
	import { ITEM_WORDS, KIND_WORDS, preparationWords } from '$ui/wording/library';
	import { formatLength, formatMoment } from '$ui/wording/time';
	import KindIcon from './KindIcon.svelte';
	import Moment from './Moment.svelte';
	import WhoGetsIn from './WhoGetsIn.svelte';

	/** The Library's list: a table over the whole width, or narrow beside what is open. */
	let {
		list,
		isWide,
		columns,
		plans,
		labels,
		now,
		zone
	}: {
		list: LibraryList;
		isWide: boolean;
		/** Those that are shown beside the title. */
		columns: readonly Column[];
		plans: { id: string; name: string }[];
		labels: { id: string; name: string }[];
		now: number;
		zone: string;
	} = $props();

	const ROW_PX = 52;
	const BEYOND = 8;
	const LOOK_AGAIN_MS = 2000;
	/** Narrower than this, a row says in two lines what a table says in columns. */
	const TABLE_PX = 720;
	const SHARES: Record<Column, string> = {
		kind: '8rem',
		home: 'minmax(7rem, 1fr)',
		state: '9.5rem',
		who: 'minmax(13rem, 1.6fr)',
		length: '5rem',
		changed: '7.5rem'
	};
	/** Columns that the rows can be in the order of. */
	const SORTED: ReadonlySet<string> = new Set(['title', 'kind', 'state', 'length', 'changed']);

	let width = $state(1280);
	const isTable = $derived(isWide && width >= TABLE_PX);
	const defined = (['title', ...COLUMNS] as const).map((id) => ({ id, header: COLUMN_WORDS[id] }));
	const order = $derived(page.url.searchParams.get('order') ?? '');
	const hidden = $derived(COLUMNS.filter((id) => !isTable || !columns.includes(id)));
	const table = $derived(tableOf<LibraryRow>(defined, order, hidden));
	const shown = $derived(table.getVisibleLeafColumns());
	const grid = $derived(
		['2.25rem', 'minmax(16rem, 3fr)', ...shown.slice(1).map(({ id }) => SHARES[id as Column])].join(' ')
	);

	let box = $state<HTMLElement | null>(null);
	let top = $state(0);
	let height = $state(800);
	const from = $derived(Math.max(0, Math.floor(top / ROW_PX) - BEYOND));
	const to = $derived(Math.min(list.total, Math.ceil((top + height) / ROW_PX) + BEYOND));
	const inView = $derived(Array.from({ length: Math.max(0, to - from) }, (_, n) => from + n));
	/** Of what is in view. */
	const isAllChosen = $derived.by(() => {
		const found = inView.map((n) => list.row(n)).filter((row) => row?.isFound);
		return found.length > 0 && found.every((row) => list.chosen.has(row?.id ?? ''));
	});
	$effect(() => void list.need(from, to));
	/** How far something is prepared is no news to anybody else. */
	const isBusy = $derived(inView.some((n) => list.row(n)?.progress != null));
	$effect(() => {
		if (!isBusy) return;
		const timer = setInterval(() => void refresh('desk:library'), LOOK_AGAIN_MS);
		return () => clearInterval(timer);
	});

	/** The row that the keyboard is on. */
	let at = $state(0);
	const current = $derived(Math.min(at, Math.max(0, list.total - 1)));

	const address = (changes: Record<string, string | null>) => asking(page.url.searchParams, changes);

	function fold(row: LibraryRow) {
		const open = (page.url.searchParams.get('open') ?? '').split('.').filter(Boolean);
		const others = open.filter((id) => id !== row.id);
		const now = others.length === open.length ? [...open, row.id] : others;
		void goto(address({ open: now.join('.') || null }), {
			replaceState: true,
			keepFocus: true,
			noScroll: true
		});
	}

	async function moveTo(n: number) {
		at = Math.min(list.total - 1, Math.max(0, n));
		if (!box) return;
		if (at * ROW_PX < box.scrollTop) box.scrollTop = at * ROW_PX;
		else if ((at + 1) * ROW_PX > box.scrollTop + box.clientHeight)
			box.scrollTop = (at + 1) * ROW_PX - box.clientHeight;
		await tick();
		box.querySelector<HTMLElement>(`[data-row="${at}"]`)?.focus({ preventScroll: true });
	}

	/** Of several rows to the home above them. */
	function homeOf(n: number): number {
		const depth = list.row(n)?.depth ?? 0;
		let above = n - 1;
		while (above >= 0 && (list.row(above)?.depth ?? depth) >= depth) above--;
		return depth === 0 ? n : above;
	}

	function onkeydown(event: KeyboardEvent, n: number, row: LibraryRow) {
		// What is in a row has keys of its own.
		if (event.target !== event.currentTarget) return;
		const isChoosing = event.shiftKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp');
		if (event.key === 'ArrowDown') void moveTo(n + 1);
		else if (event.key === 'ArrowUp') void moveTo(n - 1);
		else if (event.key === 'Home') void moveTo(0);
		else if (event.key === 'End') void moveTo(list.total - 1);
		else if (event.key === 'PageDown') void moveTo(n + Math.floor(height / ROW_PX));
		else if (event.key === 'PageUp') void moveTo(n - Math.floor(height / ROW_PX));
		else if (event.key === 'ArrowRight' && row.inside > 0 && !row.isUnfolded) fold(row);
		else if (event.key === 'ArrowLeft' && row.isUnfolded) fold(row);
		else if (event.key === 'ArrowLeft') void moveTo(homeOf(n));
		else if (event.key === ' ') list.toggle(n);
		else if (event.key === 'Enter') void goto(`/desk/library/${row.id}${page.url.search}`);
		else if (event.key === 'a' && (event.ctrlKey || event.metaKey)) void list.chooseAll();
		else if (event.key === 'Escape' && list.chosen.size > 0) list.chosen.clear();
		else return;
		event.preventDefault();
		if (isChoosing) void list.chooseTo(at);
	}

	function choose(event: MouseEvent, n: number) {
		if (!event.shiftKey) return;
		event.preventDefault();
		event.stopPropagation();
		void list.chooseTo(n);
	}

	function stateWords(row: LibraryRow): string {
		if (row.progress !== null && row.assetState === 'preparing') return `Being prepared, ${row.progress} %`;
		if (row.assetState !== null && row.assetState !== 'ready') return preparationWords(row.assetState);
		return row.state === 'scheduled' && row.publishAt !== null
			? `On ${formatMoment(row.publishAt, zone)}`
			: ITEM_WORDS[row.state];
	}
</script>

<div
	bind:this={box}
	bind:clientHeight={height}
	bind:clientWidth={width}
	onscroll={(event) => (top = event.currentTarget.scrollTop)}
	role="treegrid"
	data-sveltekit-preload-data="hover"
	aria-label="Library"
	aria-rowcount={list.total + 1}
	aria-multiselectable="true"
	class="relative min-h-40 grow overflow-auto"
>
	<div
		role="row"
		aria-rowindex={1}
		class="sticky top-0 z-10 grid items-center gap-x-3 border-b border-ink bg-sheet px-3 py-2 text-sm text-quiet"
		style:grid-template-columns={grid}
	>
		<span role="columnheader"
			><CheckField
				label="All of them"
				hidesLabel
				isPartly={list.chosen.size > 0 && !isAllChosen}
				bind:checked={() => isAllChosen, (isAll) => (isAll ? void list.chooseAll() : list.chosen.clear())}
			/></span
		>
		{#each shown as column (column.id)}
			{@const way = column.getIsSorted()}
			<span
				role="columnheader"
				class={column.id === 'length' ? 'text-right' : ''}
				aria-sort={way === 'asc' ? 'ascending' : way === 'desc' ? 'descending' : undefined}
			>
				{#if SORTED.has(column.id)}
					<a
						class="inline-flex items-center gap-1 text-quiet no-underline hover:text-ink hover:underline"
						href={address({ order: nextOrder(order, column.id) })}
						data-sveltekit-replacestate
						data-sveltekit-keepfocus
						data-sveltekit-noscroll
						>{column.columnDef.header}{#if way === 'asc'}<ArrowUp
								size={13}
							/>{:else if way === 'desc'}<ArrowDown size={13} />{/if}</a
					>
				{:else}{column.columnDef.header}{/if}
			</span>
		{/each}
	</div>
	<div class="relative" style:height="{list.total * ROW_PX}px">
		{#each inView as n (n)}
			{@const row = list.row(n)}
			{#if row}
				{@const isOpen = page.params.id === row.id}
				<div
					role="row"
					data-row={n}
					tabindex={n === current ? 0 : -1}
					aria-rowindex={n + 2}
					aria-level={row.depth + 1}
					aria-expanded={row.inside > 0 ? row.isUnfolded : undefined}
					aria-selected={list.chosen.has(row.id)}
					aria-current={isOpen ? 'true' : undefined}
					onkeydown={(event) => onkeydown(event, n, row)}
					onfocus={() => (at = n)}
					class="absolute inset-x-0 grid items-center gap-x-3 border-b border-line px-3 outline-offset-[-2px] hover:bg-sunk {isOpen
						? 'bg-moss-wash shadow-[inset_3px_0_var(--moss)]'
						: list.chosen.has(row.id)
							? 'bg-moss-wash'
							: ''} {row.isFound ? '' : 'text-quiet'}"
					style:top="{n * ROW_PX}px"
					style:height="{ROW_PX}px"
					style:grid-template-columns={grid}
				>
					<span role="gridcell" tabindex="-1" onclickcapture={(event) => choose(event, n)}>
						<CheckField
							label="Choose {row.title}"
							hidesLabel
							tabindex={-1}
							bind:checked={() => list.chosen.has(row.id), () => list.toggle(n)}
						/>
					</span>
					<span
						role="gridcell"
						class="flex min-w-0 items-center gap-2.5"
						style:padding-left="{row.depth * 20}px"
					>
						{#if row.inside > 0}
							<button
								type="button"
								tabindex="-1"
								class="-ml-1 cursor-pointer rounded-sheet p-1 text-quiet hover:bg-moss-wash hover:text-ink"
								aria-label="{row.isUnfolded ? 'Fold' : 'Unfold'} {row.title}"
								onclick={() => fold(row)}
								><ChevronRight size={16} class={row.isUnfolded ? 'rotate-90' : ''} /></button
							>
						{:else}<span class="w-5 shrink-0"></span>{/if}
						{#if row.hasPicture}<img
								src="/media/poster/{row.id}"
								alt=""
								loading="lazy"
								class="h-9 w-14 shrink-0 rounded-sheet border border-line bg-sunk object-cover"
							/>
						{:else}<span class="flex h-9 w-14 shrink-0 items-center justify-center rounded-sheet bg-sunk"
								><KindIcon kind={row.kind} /></span
							>{/if}
						<span class="min-w-0">
							<a
								href="/desk/library/{row.id}{page.url.search}"
								tabindex="-1"
								class="block truncate text-ink no-underline hover:underline {row.isFound
									? 'font-medium'
									: 'text-quiet'}"
								title={row.title}>{row.title}</a
							>
							{#if !isTable}<span class="flex gap-x-3 truncate text-sm text-quiet">
									<span>{KIND_WORDS[row.kind].one}</span><span>{stateWords(row)}</span>
								</span>{/if}
						</span>
						{#if row.inside > 0}<span class="shrink-0 text-sm text-quiet"
								>{row.inside}<span class="sr-only"> in it</span></span
							>{/if}
					</span>
					{#each shown.slice(1) as { id } (id)}
						<span role="gridcell" class="min-w-0 truncate text-sm {id === 'length' ? 'text-right' : ''}">
							{#if id === 'kind'}<span class="flex items-center gap-2"
									><KindIcon kind={row.kind} />{KIND_WORDS[row.kind].one}</span
								>
							{:else if id === 'home'}{row.home ?? ''}
							{:else if id === 'state'}<span class={row.assetState === 'failed' ? 'text-brick' : ''}
									>{stateWords(row)}</span
								>
							{:else if id === 'who'}{#if row.who}<WhoGetsIn
										who={row.who}
										{plans}
										{labels}
										{now}
										{zone}
									/>{/if}
							{:else if id === 'length'}{row.seconds ? formatLength(row.seconds) : ''}
							{:else if id === 'changed'}<Moment at={row.changedAt} {zone} />{/if}
						</span>
					{/each}
				</div>
			{/if}
		{/each}
	</div>
</div>
