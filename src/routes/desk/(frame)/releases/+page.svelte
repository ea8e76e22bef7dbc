<script lang="ts">
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { writeLocal } from '$core/time/calendar';
	import type { Verdict } from '$core/access/decision';
	import type { Window } from '$core/access/model';
	import { sequence, shifted } from '$core/access/sequence';
	import { optionsOf } from '$ui/fields/labelled';
	import { asking } from '$ui/address';
	import StepField from '$ui/fields/StepField.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import NumberField from '$ui/fields/NumberField.svelte';
	import MomentField from '$ui/fields/MomentField.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import ComingReleases from '$ui/components/ComingReleases.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Pager from '$ui/parts/Pager.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import TimeRail from '$ui/components/TimeRail.svelte';
	import WindowInput from '$ui/components/WindowInput.svelte';
	import { windowDraft, type WindowDraft } from '$ui/fence-draft';
	import { COLUMNS, moved, readTyped, resized, span, type BoardUnit } from '$ui/release-board';
	import { windowWords } from '$ui/wording/fence';
	import { KIND_WORDS } from '$ui/wording/library';
	import { formatDay, formatMoment } from '$ui/wording/time';

	let { data, form } = $props();

	const zone = $derived(data.site.zone);
	const ALWAYS: Window = { opens: { kind: 'at-once' }, closes: { kind: 'never' } };

	/** So long after the last key a moment is typed to its end. */
	const TYPED_MS = 900;

	let unit = $state<BoardUnit>('week');
	let hasDates = $state(false);
	/** Windows that are changed and not saved, by plan: they stay with their plan. `null` takes a release away. */
	let drafts = $state<Record<string, Record<string, Window | null>>>({});
	const changed: Record<string, Window | null> = $derived(drafts[data.planId ?? ''] ?? {});
	let typedProblem = $state('');
	let editing = $state<string | null>(null);
	let edited = $state<WindowDraft>(windowDraft(null, 'UTC'));
	let firstCount = $state('0');
	let firstUnit = $state<BoardUnit>('week');
	let stepCount = $state('1');
	let stepUnit = $state<BoardUnit>('week');
	let target = $state('');
	let shiftBy = $state('1');
	const UNITS: readonly BoardUnit[] = ['day', 'week', 'month'];

	const columns = $derived(COLUMNS[unit]);
	const count = $derived(Object.keys(changed).length);
	const own = (row: { id: string; own: Window | null }) =>
		row.id in changed ? (changed[row.id] ?? null) : row.own;
	const collections = $derived(data.rows.filter((row) => data.rows.some((other) => other.homeId === row.id)));
	const planName = $derived(data.plans.find(({ id }) => id === data.planId)?.name ?? '');
	const compareName = $derived(data.plans.find(({ id }) => id === data.compareId)?.name ?? '');

	/** When something opens by itself. */
	let opening = $state.raw<number[]>([]);

	/** While it is typed: part by part it is a moment already, but not the one that is meant. */
	let joining = $state<string | null>(null);
	let settling: ReturnType<typeof setTimeout> | undefined;
	function join(typed: string) {
		joining = typed;
		clearTimeout(settling);
		if (typed === '') return;
		settling = setTimeout(() => {
			void go({ joined: typed }).then(() => (joining = null));
		}, TYPED_MS);
	}

	function go(changes: Record<string, string | null>): Promise<void> {
		editing = null;
		return goto(asking(page.url.searchParams, { ...changes, page: null }), {
			keepFocus: true,
			noScroll: true
		});
	}

	/** A bar for each open stretch; of a row that is changed, the bar of its draft. */
	function bars(row: (typeof data.rows)[number]): { from: number; to: number | null; isDraft: boolean }[] {
		const draft = row.id in changed ? changed[row.id] : undefined;
		if (draft) {
			const opens =
				draft.opens.kind === 'after'
					? inUnits(draft.opens)
					: draft.opens.kind === 'on'
						? span(draft.opens.at, null, data.joinedAt, unit).from
						: 0;
			const { closes } = draft;
			const to =
				closes.kind === 'never'
					? null
					: closes.kind === 'after'
						? opens + inUnits(closes)
						: span(0, closes.at, data.joinedAt, unit).to;
			return [{ from: opens, to, isDraft: true }];
		}
		return open(row.found).map((one) => ({ ...one, isDraft: false }));
	}

	const open = (stretches: { start: number; end: number | null; verdict: Verdict }[]) =>
		stretches
			.filter(({ verdict }) => verdict === 'open')
			.map(({ start, end }) => span(start, end, data.joinedAt, unit));
	const DAYS = { day: 1, week: 7, month: 30.44, year: 365.25 } as const;
	const inUnits = (steps: { count: number; unit: keyof typeof DAYS }) =>
		(steps.count * DAYS[steps.unit]) / DAYS[unit];
	const left = (from: number) => `${(Math.min(from, columns) / columns) * 100}%`;
	const width = (from: number, to: number | null) =>
		`${(Math.max(0, Math.min(to ?? columns, columns) - Math.min(from, columns)) / columns) * 100}%`;

	function put(id: string, window: Window | null) {
		(drafts[data.planId ?? ''] ??= {})[id] = window;
		if (editing === id) editing = null;
	}

	function change(row: (typeof data.rows)[number], make: (window: Window) => Window) {
		put(row.id, make(own(row) ?? inherited(row)));
	}

	/** What an item without a release of its own starts from: where it opens now. */
	function inherited(row: (typeof data.rows)[number]): Window {
		const [first] = open(row.found);
		const opens = first ? Math.round(first.from) : 0;
		return opens === 0 ? ALWAYS : { opens: { kind: 'after', count: opens, unit }, closes: { kind: 'never' } };
	}

	function onkeydown(event: KeyboardEvent, row: (typeof data.rows)[number]) {
		const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
		if (step !== 0)
			change(row, (window) => (event.shiftKey ? resized(window, step, unit) : moved(window, step, unit)));
		else if (event.key === 'Home') change(row, (window) => ({ ...window, opens: { kind: 'at-once' } }));
		else if (event.key === 'Delete' || event.key === 'Backspace') put(row.id, null);
		else if (event.key === 'Enter') edit(row);
		else return;
		event.preventDefault();
	}

	let drag = $state<{ id: string; x: number; done: number; isResize: boolean; cell: number } | null>(null);

	function begin(event: PointerEvent, row: (typeof data.rows)[number], isResize: boolean) {
		const track = (event.currentTarget as HTMLElement).closest('[data-track]') as HTMLElement;
		(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
		drag = { id: row.id, x: event.clientX, done: 0, isResize, cell: track.clientWidth / columns };
		event.stopPropagation();
	}

	function dragging(event: PointerEvent, row: (typeof data.rows)[number]) {
		if (!drag || drag.id !== row.id) return;
		const wanted = Math.round((event.clientX - drag.x) / drag.cell);
		const by = wanted - drag.done;
		if (by === 0) return;
		drag.done = wanted;
		const { isResize } = drag;
		change(row, (window) => (isResize ? resized(window, by, unit) : moved(window, by, unit)));
	}

	function edit(row: (typeof data.rows)[number]) {
		editing = row.id;
		typedProblem = '';
		edited = windowDraft(own(row) ?? inherited(row), zone);
	}

	/** Takes the typed window into the draft: what is shown from now on is what is sent. */
	function takeEdited() {
		if (editing === null) return;
		const read = readTyped(edited, zone);
		typedProblem = read.ok ? '' : read.message;
		if (read.ok) put(editing, read.window);
	}

	const sent = $derived(
		JSON.stringify(
			Object.fromEntries(
				Object.entries(changed).map(([id, window]) => [
					id,
					window === null ? { isRemoved: true } : windowDraft(window, zone)
				])
			)
		)
	);

	function inside(): (typeof data.rows)[number][] {
		const homes = new Map(data.rows.map((row) => [row.id, row.homeId]));
		const isIn = (id: string | null): boolean =>
			id !== null && (id === target || isIn(homes.get(id) ?? null));
		return data.rows.filter(
			(row) =>
				row.kind !== 'section' &&
				row.kind !== 'course' &&
				row.kind !== 'show' &&
				row.kind !== 'shelf' &&
				isIn(row.homeId)
		);
	}

	/** Sections of a course can be laid out instead of what is in them. */
	function layOut(what: 'items' | 'sections') {
		const rows =
			what === 'items'
				? inside()
				: data.rows.filter((row) => row.homeId === target && row.kind === 'section');
		const laid = sequence({
			ids: rows.map(({ id }) => id),
			first: { count: Math.max(0, Number(firstCount) || 0), unit: firstUnit },
			step: { count: Math.max(0, Number(stepCount) || 0), unit: stepUnit },
			closes: { kind: 'never' }
		});
		for (const [id, window] of laid) put(id, window);
	}

	function shift(direction: 1 | -1) {
		for (const row of inside())
			change(row, (window) => shifted(window, { count: direction * (Number(shiftBy) || 0), unit: stepUnit }));
	}
</script>

<svelte:head><title>Releases · Desk</title></svelte:head>

<div class="grid items-start gap-5 @6xl:grid-cols-[minmax(0,1fr)_20rem]">
	<section class="sheet min-w-0 p-5 pt-6" aria-labelledby="releases">
		<div class="flex flex-wrap items-end gap-4">
			<h1 id="releases" class="mr-auto text-xl">Releases</h1>
			<SelectField
				label="Plan"
				class="w-40"
				options={optionsOf(data.plans)}
				from={data.planId ?? ''}
				onChoose={(to) => void go({ plan: to })}
			/>
			<SelectField
				label="Compared with"
				class="w-40"
				options={[
					{ value: '', label: 'nothing' },
					...optionsOf(data.plans.filter(({ id }) => id !== data.planId))
				]}
				from={data.compareId ?? ''}
				onChoose={(to) => void go({ compare: to })}
			/>
			<SelectField
				label="Columns"
				class="w-52"
				options={[
					{ value: 'day', label: 'days since joining' },
					{ value: 'week', label: 'weeks since joining' },
					{ value: 'month', label: 'months since joining' }
				]}
				bind:value={() => unit, (to) => (unit = to as BoardUnit)}
			/>
			<div class="pb-2"><CheckField label="as dates" bind:checked={hasDates} /></div>
			<MomentField
				label="A member who joined on"
				bind:value={() => joining ?? writeLocal(data.joinedAt, zone), join}
			/>
		</div>
		<p class="mt-2 text-sm text-quiet">
			Drag a bar to move it, its right end to resize it. With the keyboard: arrows move, Shift and arrows
			resize, Home opens at once, Delete takes the release away, Enter types it.
		</p>
		<Saved text={form && 'saved' in form ? form.saved : null} />
		{#if form && 'problem' in form}<p role="alert" class="mt-2 font-medium text-brick">
				{data.rows.find(({ id }) => id === form?.problemAt)?.title ?? ''}
				{form.problem}
			</p>{/if}
		<form
			method="post"
			action="?/save"
			class="mt-3"
			use:enhance={() =>
				async ({ update, result }) => {
					await update({ reset: false });
					if (result.type === 'success') {
						delete drafts[data.planId ?? ''];
					}
				}}
		>
			<input type="hidden" name="plan" value={data.planId} />
			<input type="hidden" name="changes" value={sent} />
			{#if form && 'rehearsal' in form && form.rehearsal && count > 0}<Rehearsal
					rehearsal={form.rehearsal}
					{zone}
					action="?/save"
				/>{/if}
			<div class="mt-2 overflow-x-auto">
				<div class="min-w-[640px]">
					<div class="flex border-b border-line text-sm text-quiet" aria-hidden="true">
						<span class="w-60 shrink-0">Item</span>
						<span class="relative h-6 grow">
							{#each Array.from({ length: columns }, (_, n) => n) as n (n)}
								{#if n % (hasDates ? 4 : unit === 'day' ? 7 : 2) === 0}<span
										class="absolute whitespace-nowrap"
										style:left={left(n)}
										>{hasDates ? formatDay(data.joinedAt + n * DAYS[unit] * 86_400_000, zone) : n}</span
									>{/if}
							{/each}
						</span>
					</div>
					{#each data.rows as row (row.id)}
						{@const window = own(row)}
						<div class="flex items-stretch border-b border-line {row.id in changed ? 'bg-gorse-wash' : ''}">
							<div class="w-60 shrink-0 py-1.5 pr-2" style:padding-left="{row.depth * 14}px">
								<a
									class="block truncate {row.depth === 0 ? 'font-semibold' : ''}"
									href="/desk/library/{row.id}"
									title={row.title}>{row.title}</a
								>
								<span class="block text-sm text-quiet"
									>{window
										? windowWords(window, zone)
										: row.id in changed
											? 'as what it is in'
											: open(row.found).length > 0
												? 'no release of its own'
												: 'shut for this plan'}</span
								>
							</div>
							<div
								data-track
								class="relative min-h-11 grow bg-[length:var(--cell)_100%] bg-[linear-gradient(to_right,var(--line)_1px,transparent_1px)]"
								style:--cell="{100 / columns}%"
							>
								{#each bars(row) as bar, n (n)}
									<div
										role="slider"
										tabindex="0"
										aria-label="{row.title}, {planName}"
										aria-valuenow={Math.round(bar.from)}
										aria-valuemin={0}
										aria-valuemax={columns}
										aria-valuetext={window ? windowWords(window, zone) : 'no release of its own'}
										class="absolute top-1 flex h-5 cursor-grab touch-none items-center rounded-sheet border px-1 text-sm {window
											? 'border-moss bg-moss text-on-moss'
											: 'border-moss bg-moss-wash text-moss'}"
										style:left={left(bar.from)}
										style:width={width(bar.from, bar.to)}
										onkeydown={(event) => onkeydown(event, row)}
										onpointerdown={(event) => begin(event, row, false)}
										onpointermove={(event) => dragging(event, row)}
										onpointerup={() => (drag = null)}
										ondblclick={() => edit(row)}
									>
										<span
											class="absolute inset-y-0 right-0 w-2.5 cursor-ew-resize border-l border-current opacity-60"
											role="presentation"
											onpointerdown={(event) => begin(event, row, true)}
											onpointermove={(event) => dragging(event, row)}
											onpointerup={() => (drag = null)}
										></span>
									</div>
								{/each}
								{#if row.compared}
									{#each open(row.compared) as bar, n (n)}
										<div
											class="absolute bottom-1 h-2.5 rounded-sheet border border-heather bg-heather/40"
											title={compareName}
											style:left={left(bar.from)}
											style:width={width(bar.from, bar.to)}
										></div>
									{/each}
								{/if}
							</div>
						</div>
						{#if editing === row.id}
							<div class="grid gap-2 border-b border-line bg-sunk p-3">
								<WindowInput bind:window={edited} name="edit-{row.id}" />
								{#if typedProblem}<p role="alert" class="font-medium text-brick">{typedProblem}</p>{/if}
								<div class="flex gap-2">
									<button type="button" class="button-main" onclick={takeEdited}>Take it</button>
									<button type="button" class="button-quiet" onclick={() => (editing = null)}>Leave it</button
									>
								</div>
							</div>
						{/if}
					{:else}
						<p class="py-4 text-quiet">The Library is empty. Make a course with lessons first.</p>
					{/each}
				</div>
			</div>
			<div class="mt-4 flex flex-wrap items-center gap-3">
				<button class="button-main" disabled={count === 0}
					>{count === 0 ? 'Nothing to save' : count === 1 ? 'Save 1 change' : `Save ${count} changes`}</button
				>
				{#if count > 0}<button
						type="button"
						class="button-quiet"
						onclick={() => delete drafts[data.planId ?? '']}>Undo them</button
					>{/if}
				{#if data.compareId}<span class="text-sm"
						><span class="mr-1 inline-block h-2.5 w-5 rounded-sheet border border-heather bg-heather/40"
						></span>{compareName}</span
					>{/if}
			</div>
		</form>
		<Pager of="the board" total={data.total} pageSize={data.pageSize} />
		{#if collections.length > 0}
			<fieldset class="mt-6 grid gap-3 rounded-sheet border border-line p-4">
				<legend class="px-1 font-semibold">Lay out a sequence</legend>
				<div class="flex flex-wrap items-end gap-3">
					<SelectField
						label="What is in"
						class="w-72"
						options={collections.map((row) => ({
							value: row.id,
							label: row.title,
							detail: KIND_WORDS[row.kind].one
						}))}
						bind:value={target}
					/>
					<div class="grid gap-1">
						<span class="font-medium" aria-hidden="true">First after</span>
						<StepField label="First after" units={UNITS} bind:count={firstCount} bind:unit={firstUnit} />
					</div>
					<div class="grid gap-1">
						<span class="font-medium" aria-hidden="true">Then one every</span>
						<StepField label="Then one every" units={UNITS} bind:count={stepCount} bind:unit={stepUnit} />
					</div>
					<button type="button" class="button-quiet" disabled={!target} onclick={() => layOut('items')}
						>Lay out the items</button
					>
					<button type="button" class="button-quiet" disabled={!target} onclick={() => layOut('sections')}
						>Lay out the sections</button
					>
					<button
						type="button"
						class="button-quiet"
						disabled={!target}
						onclick={() => ((stepCount = '0'), (firstCount = '0'), layOut('items'))}>All at once</button
					>
				</div>
				<div class="flex flex-wrap items-end gap-3">
					<NumberField label="Shift all of it by" min={0} class="w-16" bind:value={shiftBy} />
					<button type="button" class="button-quiet" disabled={!target} onclick={() => shift(-1)}
						>Earlier</button
					>
					<button type="button" class="button-quiet" disabled={!target} onclick={() => shift(1)}>Later</button
					>
					<span class="text-sm text-quiet">0 steps means all at once. Nothing is saved before you save.</span>
				</div>
			</fieldset>
		{/if}
	</section>

	<div class="grid min-w-0 grid-cols-1 gap-5">
		<section class="sheet p-5 pt-6" aria-labelledby="joined">
			<h2 id="joined">Joined {planName} on {formatMoment(data.joinedAt, zone)}</h2>
			<ul class="mt-2 divide-y divide-line text-sm">
				{#each data.rows.filter((row) => row.kind !== 'section') as row (row.id)}
					{@const first = row.found.find(({ verdict }) => verdict === 'open')}
					<li class="flex justify-between gap-3 py-1">
						<span class="min-w-0 truncate">{row.title}</span>
						<span class="shrink-0"
							>{#if !first}shut{:else}<Moment at={first.start} {zone} />{#if first.end}&#32;to&#32;<Moment
										at={first.end}
										{zone}
									/>{/if}{/if}</span
						>
					</li>
				{/each}
			</ul>
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="coming">
			<h2 id="coming">Coming releases</h2>
			<p class="text-sm text-quiet">In the 60 days after the moment of the rail, for members as they are.</p>
			<ComingReleases
				within={data.within}
				at={data.moment.at}
				rules={data.moment.rules}
				{zone}
				onFound={(found) => (opening = found)}
			/>
		</section>
	</div>
</div>
<TimeRail moment={data.moment} marks={opening} {zone} />
