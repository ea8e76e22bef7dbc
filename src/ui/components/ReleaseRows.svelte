<script lang="ts">
	/** The release board's rows: what opens when for whoever joins a plan, as bars that are dragged or moved by keys. */
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import { tick } from 'svelte';
	import type { BoardRow } from '$core/access/board-view';
	import type { Window } from '$core/access/model';
	import {
		barOf,
		COLUMNS,
		moved,
		resized,
		spanOf,
		type Board,
		type BoardUnit,
		type Span
	} from '$core/access/release-bars';
	import { HOLDERS } from '$core/library/homes';
	import { addCalendar } from '$core/time/calendar';
	import Menu from '$ui/parts/Menu.svelte';
	import type { ReleaseList } from '$ui/release-list.svelte';
	import { idleWords, windowWords } from '$ui/wording/fence';
	import { formatDay } from '$ui/wording/time';
	import KindIcon from './KindIcon.svelte';
	import Moment from './Moment.svelte';

	let {
		list,
		board,
		hasDates,
		planName,
		compareName,
		mends,
		onFold,
		onType,
		onLayOut
	}: {
		list: ReleaseList;
		board: Board;
		/** Columns are called by their dates, and not by how long after joining they come. */
		hasDates: boolean;
		planName: string;
		compareName: string;
		/** What would mend releases that count nowhere, by why. */
		mends: Partial<Record<string, { href: string; words: string }>>;
		onFold: (id: string) => void;
		/** Its window is typed. */
		onType: (row: BoardRow, window: Window) => void;
		onLayOut: (row: BoardRow) => void;
	} = $props();

	const ROW_PX = 44;
	const BEYOND = 6;
	/** Narrower than this there is no room for bars. */
	const BARS_PX = 680;
	/** A bar that begins later than this has its words before it. */
	const LATE = 0.55;
	const ALWAYS: Window = { opens: { kind: 'at-once' }, closes: { kind: 'never' } };
	/** Every so many columns one is named. */
	const NAMED: Record<BoardUnit, number> = { day: 7, week: 2, month: 3 };
	const NAMED_DATES: Record<BoardUnit, number> = { day: 7, week: 4, month: 3 };

	let box = $state<HTMLElement | null>(null);
	let width = $state(1280);
	let height = $state(600);
	let top = $state(0);
	const hasBars = $derived(width >= BARS_PX);
	const columns = $derived(COLUMNS[board.unit]);
	const grid = $derived(
		hasBars ? 'minmax(13rem, 19rem) minmax(0, 1fr) 8.5rem 2.5rem' : 'minmax(0, 1fr) auto 2.5rem'
	);
	const from = $derived(Math.max(0, Math.floor(top / ROW_PX) - BEYOND));
	const to = $derived(Math.min(list.total, Math.ceil((top + height) / ROW_PX) + BEYOND));
	const inView = $derived(Array.from({ length: Math.max(0, to - from) }, (_, n) => from + n));
	$effect(() => void list.need(from, to));

	let at = $state(0);
	const current = $derived(Math.min(at, Math.max(0, list.total - 1)));

	const named = $derived(
		Array.from({ length: columns }, (_, n) => n).filter(
			(n) => n % (hasDates ? NAMED_DATES : NAMED)[board.unit] === 0
		)
	);
	function columnWords(n: number): string {
		if (hasDates) return formatDay(addCalendar(board.joinedAt, n, board.unit, board.zone), board.zone);
		return n === 0 ? 'joined' : `${n} ${board.unit}s`;
	}

	const place = (of: number) => `${(Math.min(Math.max(0, of), columns) / columns) * 100}%`;
	const isLate = (bar: { from: number }) => bar.from > columns * LATE;
	const bars = (spans: readonly Span[]) =>
		spans.map((span) => {
			const { from, to } = barOf(span, board);
			return { from, to, end: Math.max(Math.min(from, columns), Math.min(to ?? columns, columns)) };
		});

	/** What is drawn: what the server says of it, or the window itself until it has said so, or where it counts nowhere. */
	function spans(n: number, row: BoardRow): Span[] {
		const own = list.of(row);
		if (own && (isIdle(n, row) || (list.isChanged(row.id) && !list.isAnswered(n, row.id))))
			return [spanOf(own, board)];
		return row.open;
	}

	const isIdle = (n: number, row: BoardRow) =>
		list.of(row) !== null && row.idle !== null && (list.isAnswered(n, row.id) || !list.isChanged(row.id));

	function says(row: BoardRow): string {
		const own = list.of(row);
		if (own) return windowWords(own, board.zone);
		if (list.isChanged(row.id)) return 'as what it is in';
		return row.open.length > 0 ? 'no release of its own' : 'shut for this plan';
	}

	/** What a row without a release of its own starts from: where it opens now. */
	function started(row: BoardRow): Window {
		const own = list.of(row);
		if (own) return own;
		const [first] = row.open;
		const opens = first ? Math.round(barOf(first, board).from) : 0;
		return opens === 0
			? ALWAYS
			: { opens: { kind: 'after', count: opens, unit: board.unit }, closes: { kind: 'never' } };
	}

	async function moveTo(n: number) {
		at = Math.min(list.total - 1, Math.max(0, n));
		if (!box) return;
		if (at * ROW_PX < box.scrollTop) box.scrollTop = at * ROW_PX;
		else if ((at + 2) * ROW_PX > box.scrollTop + box.clientHeight)
			box.scrollTop = (at + 2) * ROW_PX - box.clientHeight;
		await tick();
		box.querySelector<HTMLElement>(`[data-row="${at}"]`)?.focus({ preventScroll: true });
	}

	function onkeydown(event: KeyboardEvent, n: number, row: BoardRow) {
		if (event.ctrlKey || event.metaKey || event.altKey) return;
		const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
		if (step !== 0) list.put(row, (event.shiftKey ? resized : moved)(started(row), step, board));
		else if (event.key === 'ArrowDown') void moveTo(n + 1);
		else if (event.key === 'ArrowUp') void moveTo(n - 1);
		else if (event.key === 'PageDown') void moveTo(n + Math.floor(height / ROW_PX));
		else if (event.key === 'PageUp') void moveTo(n - Math.floor(height / ROW_PX));
		else if (event.key === 'Home') list.put(row, { ...started(row), opens: { kind: 'at-once' } });
		else if (event.key === 'Delete' || event.key === 'Backspace') list.put(row, null);
		else if (event.key === 'Enter') onType(row, started(row));
		else if (event.key === ' ' && row.inside > 0) onFold(row.id);
		else return;
		event.preventDefault();
	}

	let drag = $state<{
		row: BoardRow;
		x: number;
		done: number;
		isResize: boolean;
		cell: number;
		/** What stood there: Esc puts it back. */
		before: Window | null;
		window: Window;
	} | null>(null);

	function begin(event: PointerEvent & { currentTarget: HTMLElement }, row: BoardRow, isResize: boolean) {
		if (event.button !== 0) return;
		event.stopPropagation();
		const track = event.currentTarget.closest<HTMLElement>('[data-track]');
		if (!track) return;
		event.currentTarget.setPointerCapture(event.pointerId);
		const cell = track.clientWidth / columns;
		drag = { row, x: event.clientX, done: 0, isResize, cell, before: list.of(row), window: started(row) };
	}

	function dragging(event: PointerEvent) {
		if (!drag) return;
		const by = Math.round((event.clientX - drag.x) / drag.cell);
		if (by === drag.done) return;
		drag.done = by;
		list.put(drag.row, by === 0 ? drag.before : (drag.isResize ? resized : moved)(drag.window, by, board));
	}

	function letGo(event: KeyboardEvent) {
		if (event.key !== 'Escape' || !drag) return;
		list.put(drag.row, drag.before);
		drag = null;
		event.preventDefault();
	}

	function entries(row: BoardRow) {
		const own = list.of(row);
		return [
			{ label: 'Type when it opens', onChoose: () => onType(row, started(row)) },
			...(HOLDERS.has(row.kind) && row.inside > 0
				? [{ label: 'Lay out what is in it', onChoose: () => onLayOut(row) }]
				: []),
			...(own ? [{ label: 'Take the release away', onChoose: () => list.put(row, null) }] : []),
			...(list.isChanged(row.id)
				? [{ label: 'Leave it as it was', onChoose: () => list.putBack(row.id) }]
				: [])
		];
	}
</script>

<svelte:window onkeydowncapture={letGo} />

{#snippet warning(row: BoardRow, idle: NonNullable<BoardRow['idle']>)}
	{@const mend = list.isChanged(row.id) ? undefined : mends[idle]}
	<span class="flex min-w-0 items-center gap-1.5 text-sm text-gorse">
		<TriangleAlert size={15} class="shrink-0" aria-hidden="true" />
		<span class="truncate">{idleWords(idle, planName)}</span>
		{#if mend}<a class="shrink-0 font-medium text-gorse" href={mend.href} tabindex="-1">{mend.words}</a>{/if}
	</span>
{/snippet}

{#snippet track(n: number, row: BoardRow)}
	{@const own = list.of(row)}
	{@const idle = isIdle(n, row) ? row.idle : null}
	{@const drawn = bars(spans(n, row))}
	<div
		data-track={row.id}
		data-row={n}
		role="slider"
		tabindex={n === current ? 0 : -1}
		aria-label="{row.title}, {planName}"
		aria-valuenow={Math.round(drawn[0]?.from ?? columns)}
		aria-valuemin={0}
		aria-valuemax={Math.max(columns, Math.round(drawn[0]?.from ?? 0))}
		aria-valuetext="{says(row)}{idle ? `. ${idleWords(idle, planName)}` : ''}"
		class="relative h-full bg-[length:var(--cell)_100%] bg-[linear-gradient(to_right,var(--line)_1px,transparent_1px)] outline-offset-[-2px]"
		style:--cell="{100 / columns}%"
		onkeydown={(event) => onkeydown(event, n, row)}
		onfocus={() => (at = n)}
	>
		{#each drawn as bar, nth (nth)}
			<div
				class="absolute top-2 flex h-6 touch-none items-center overflow-hidden rounded-sheet border {idle
					? 'border-dashed border-gorse'
					: own
						? 'border-moss bg-moss text-on-moss'
						: 'border-moss bg-moss-wash'} {drag ? '' : 'cursor-grab'}"
				role="presentation"
				style:left={place(bar.from)}
				style:width="max(0.6rem, {((bar.end - Math.min(bar.from, columns)) / columns) * 100}%)"
				onpointerdown={(event) => begin(event, row, false)}
				onpointermove={dragging}
				onpointerup={() => (drag = null)}
				onpointercancel={() => (drag = null)}
				ondblclick={() => onType(row, started(row))}
			>
				{#if own && !idle && nth === 0 && !isLate(bar)}<span class="truncate px-2 text-sm">{says(row)}</span
					>{/if}
				<span
					class="absolute inset-y-0 right-0 w-2.5 cursor-ew-resize border-l border-current opacity-60"
					role="presentation"
					onpointerdown={(event) => begin(event, row, true)}
					onpointermove={dragging}
					onpointerup={() => (drag = null)}
				></span>
			</div>
		{/each}
		{#if idle}<span class="absolute inset-y-0 left-2 flex max-w-full items-center">
				<span class="rounded-sheet bg-sheet px-1.5">{@render warning(row, idle)}</span>
			</span>
		{:else if own && drawn[0] && isLate(drawn[0])}<span
				class="pointer-events-none absolute inset-y-0 flex items-center px-2 text-sm"
				style:right="calc(100% - {place(drawn[0].from)})"
				>{says(row)}{drawn[0].from >= columns ? ' ›' : ''}</span
			>
		{:else if drawn.length === 0 && !own}<span
				class="absolute inset-y-0 left-2 flex items-center text-sm text-quiet">{says(row)}</span
			>{/if}
		{#each bars(row.compared ?? []) as bar, nth (nth)}
			<div
				class="absolute bottom-1 h-1.5 rounded-sheet bg-heather"
				title={compareName}
				style:left={place(bar.from)}
				style:width="{((bar.end - Math.min(bar.from, columns)) / columns) * 100}%"
			></div>
		{/each}
	</div>
{/snippet}

<div
	bind:this={box}
	bind:clientWidth={width}
	bind:clientHeight={height}
	onscroll={(event) => (top = event.currentTarget.scrollTop)}
	class="relative min-h-48 overflow-auto border-b border-line"
	style:max-height="max(18rem, calc(100dvh - 24rem))"
>
	<div
		class="sticky top-0 z-10 grid items-end gap-x-3 border-b border-ink bg-sheet text-sm text-quiet"
		style:grid-template-columns={grid}
	>
		<span class="py-1.5">Item</span>
		{#if hasBars}<span class="relative h-6" aria-hidden="true">
				{#each named as n (n)}<span
						class="absolute bottom-1.5 border-l border-quiet pl-1 whitespace-nowrap"
						style:left={place(n)}>{columnWords(n)}</span
					>{/each}
			</span>{/if}
		<span class="py-1.5">Opens</span>
	</div>
	<div role="list" aria-label="Release board" class="relative" style:height="{list.total * ROW_PX}px">
		{#each inView as n (n)}
			{@const row = list.row(n)}
			{#if row}
				{@const isCurrent = list.isCurrent(n)}
				{@const [first] = row.open}
				<div
					role="listitem"
					aria-setsize={list.total}
					aria-posinset={n + 1}
					class="absolute inset-x-0 grid items-center gap-x-3 border-b border-line {list.isChanged(row.id)
						? 'bg-gorse-wash'
						: ''}"
					style:top="{n * ROW_PX}px"
					style:height="{ROW_PX}px"
					style:grid-template-columns={grid}
				>
					<span
						class="flex min-w-0 items-center gap-1.5"
						style:padding-left="{row.depth * (hasBars ? 16 : 6)}px"
					>
						{#if row.inside > 0}<button
								type="button"
								tabindex="-1"
								class="-ml-1 cursor-pointer rounded-sheet p-1 text-quiet hover:bg-moss-wash hover:text-ink"
								aria-label="{row.isUnfolded ? 'Fold' : 'Unfold'} {row.title}"
								aria-expanded={row.isUnfolded}
								onclick={() => onFold(row.id)}
								><ChevronRight size={16} class={row.isUnfolded ? 'rotate-90' : ''} /></button
							>{:else if hasBars}<span class="w-5 shrink-0"></span>{/if}
						{#if hasBars}<KindIcon kind={row.kind} />{/if}
						<span class="min-w-0">
							<a
								class="block truncate no-underline hover:underline {row.isFound
									? 'text-ink'
									: 'text-quiet'} {row.depth === 0 ? 'font-medium' : ''}"
								href="/desk/library/{row.id}"
								tabindex="-1"
								title={row.title}>{row.title}</a
							>
							{#if !hasBars}<button
									type="button"
									class="block max-w-full cursor-pointer truncate text-sm text-quiet underline"
									onclick={() => onType(row, started(row))}
									aria-label="Type when {row.title} opens: {says(row)}">{says(row)}</button
								>{/if}
						</span>
					</span>
					{#if hasBars}{@render track(n, row)}{/if}
					<span class="text-sm {isCurrent ? '' : 'text-quiet'}" aria-busy={!isCurrent}>
						{#if !first}shut{:else}<Moment at={first.start} zone={board.zone} />{#if first.end !== null}
								<span class="block text-quiet">to <Moment at={first.end} zone={board.zone} /></span>{/if}{/if}
					</span>
					<Menu label="What can be done with {row.title}" isDots tabindex={-1} entries={entries(row)} />
				</div>
			{/if}
		{/each}
	</div>
</div>
