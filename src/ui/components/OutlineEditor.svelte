<script lang="ts">
	/** The outline of a collection: sections and lessons as rows that are written, ordered and filled in place. */
	import { tick, untrack } from 'svelte';
	import { prefersReducedMotion } from 'svelte/motion';
	import { SvelteSet } from 'svelte/reactivity';
	import { beforeNavigate } from '$app/navigation';
	import type { ResourceKind } from '$core/access/model';
	import { HOLDERS, SHOWS_ASSETS } from '$core/library/homes';
	import type { OutlineOf } from '$core/library/outline-view';
	import type { Spot } from '$core/library/outline-moves';
	import { titleOf } from '$core/media/file-name';
	import { refresh } from '$ui/refresh';
	import { OutlineEditing, type Entry, type Node } from '$ui/outline.svelte';
	import { dropped, useUploads, type Chosen } from '$ui/uploads.svelte';
	import { KIND_WORDS } from '$ui/wording/library';
	import { formatLength } from '$ui/wording/time';
	import Dialog from '$ui/parts/Dialog.svelte';
	import OutlineLevel from './OutlineLevel.svelte';
	import type { OutlineDoing } from './outline-doing';
	import Rehearsal from './Rehearsal.svelte';

	let {
		outline,
		isWide,
		openId = null,
		limit,
		plans,
		labels,
		now,
		zone
	}: {
		/** The first rows of it; the others are asked for. */
		outline: OutlineOf;
		/** With columns beside the titles. */
		isWide: boolean;
		/** The item that is open beside it. */
		openId?: string | null;
		/** Of an upload, in bytes. */
		limit: number;
		plans: { id: string; name: string }[];
		labels: { id: string; name: string }[];
		now: number;
		zone: string;
	} = $props();

	const editing = new OutlineEditing();
	const uploads = useUploads();
	const box = $derived(`outline ${outline.id}`);
	$effect(() => uploads.lookAt(box));
	const own = $props.id();

	untrack(() => editing.take(outline));
	$effect.pre(() => {
		const given = outline;
		untrack(() => {
			const isPart = given.rows.length < given.total;
			if (!isPart || editing.root.id !== given.id) editing.take(given);
		});
	});
	$effect(() => {
		const { id, rows, total } = outline;
		if (rows.length === total) return;
		const ended = new AbortController();
		void fetch(`/desk/library/${id}/outline`, { signal: ended.signal })
			.then(async (answer) => answer.ok && editing.take(await answer.json()))
			.catch(() => {});
		return () => ended.abort();
	});

	const folded = new SvelteSet<string>();
	/** The row that the keyboard stops at. */
	let currentKey = $state<string | null>(null);
	const all = $derived(editing.all);
	const first = $derived(all[0]?.key ?? null);
	const isThere = $derived(all.some(({ key }) => key === currentKey));
	const newKind = (home: ResourceKind): ResourceKind =>
		home === 'course' || home === 'section' ? 'lesson' : home === 'show' ? 'episode' : home;
	const ofFiles = $derived(outline.kind === 'shelf' || outline.kind === 'page');
	const counts = $derived.by(() => {
		const many = (count: number, kind: ResourceKind) =>
			count === 1 ? `1 ${KIND_WORDS[kind].one}` : `${count} ${KIND_WORDS[kind].many.toLowerCase()}`;
		const { kind, total, holders, seconds } = outline;
		const things = ofFiles ? `${total} in it` : many(total - holders, newKind(kind));
		return [
			holders > 0 && !ofFiles ? `${things} in ${many(holders, 'section')}` : things,
			...(seconds > 0 ? [formatLength(seconds)] : [])
		].join(', ');
	});

	const isHolder = (kind: ResourceKind) => HOLDERS.has(kind);
	const kindOf = (homeId: string): ResourceKind => all.find(({ id }) => id === homeId)?.kind ?? outline.kind;
	const thing = $derived(KIND_WORDS[newKind(outline.kind)].one);

	async function focusOn(key: string) {
		await tick();
		const field = document.querySelector<HTMLInputElement>(`#${CSS.escape(own)} [data-row="${key}"]`);
		field?.focus();
	}

	async function begin(kind: ResourceKind, spot: Spot) {
		folded.delete(spot.homeId);
		await focusOn(editing.begin(kind, spot));
	}

	function addLast(kind: ResourceKind) {
		const last = editing.tree.at(-1)?.entry;
		const home = last && kind !== 'section' && last.kind === 'section' ? last.id : outline.id;
		const inside = home === outline.id ? editing.tree : (editing.tree.at(-1)?.inside ?? []);
		void begin(kind, { homeId: home, after: inside.at(-1)?.entry.id ?? null });
	}

	function next(entry: Entry, title: string) {
		const spot = editing.spotOf(entry.id);
		if (title === '') {
			// An empty row after the lessons of a section begins the next section.
			const isNextSection = entry.isNew && entry.kind === 'lesson' && spot.homeId !== outline.id;
			if (isNextSection)
				void focusOn(editing.turn(entry.id, 'section', { homeId: outline.id, after: spot.homeId }));
			return;
		}
		void editing.keep(entry.id, title);
		if (isHolder(entry.kind)) void begin(newKind(entry.kind), { homeId: entry.id, after: null });
		else void begin(newKind(kindOf(spot.homeId)), { homeId: spot.homeId, after: entry.id });
	}

	function move(entry: Entry, title: string, direction: 'up' | 'down' | 'inward' | 'outward'): boolean {
		const spot = editing.spotOf(entry.id);
		// What nobody has given a title yet is turned: a lesson into a section, a section into a lesson of the one above.
		if (entry.isNew && title === '' && outline.kind === 'course') {
			if (direction === 'outward' && entry.kind === 'lesson' && spot.homeId !== outline.id)
				return turned(entry, 'section', { homeId: outline.id, after: spot.homeId });
			if (direction === 'outward' && entry.kind === 'lesson') return turned(entry, 'section', spot);
			const above = editing.tree.find(({ entry: one }) => one.id === spot.after);
			if (direction === 'inward' && entry.kind === 'section' && above?.entry.kind === 'section')
				return turned(entry, 'lesson', {
					homeId: above.entry.id,
					after: above.inside.at(-1)?.entry.id ?? null
				});
		}
		if (title !== '' && title !== entry.title) void editing.keep(entry.id, title);
		if (!editing.move(entry.id, direction)) return false;
		folded.delete(editing.spotOf(entry.id).homeId);
		void focusOn(entry.key);
		return true;
	}

	function turned(entry: Entry, kind: ResourceKind, spot: Spot): true {
		void focusOn(editing.turn(entry.id, kind, spot));
		return true;
	}

	function step({ key }: Entry, by: -1 | 1) {
		const seen = all.filter(({ homeId }) => !folded.has(homeId));
		const to = seen[seen.findIndex((one) => one.key === key) + by];
		if (to) void focusOn(to.key);
	}

	function drop(entry: Entry) {
		step(entry, -1);
		editing.drop(entry.id);
	}

	/** One file becomes the content of the row that it is dropped on; several become things of their own. */
	async function receive(entry: Entry | null, data: DataTransfer) {
		const files = await dropped(data);
		const [only] = files;
		if (
			entry &&
			only &&
			files.length === 1 &&
			SHOWS_ASSETS.has(entry.kind) &&
			!entry.isNew &&
			!isHolder(entry.kind)
		)
			return send(only, entry.id);
		const homeId = !entry ? outline.id : isHolder(entry.kind) ? entry.id : editing.spotOf(entry.id).homeId;
		const kind = newKind(kindOf(homeId));
		if (!SHOWS_ASSETS.has(kind) || ofFiles) {
			const home = editing.keptId(homeId);
			if (home === null)
				return void (editing.problem = 'Give it a title first: what is dropped on it lives in it.');
			const metadata = { home };
			return uploads.add(files, { box, limit, metadata, onDone: () => void refresh('desk:library') });
		}
		let after = !entry ? (editing.tree.at(-1)?.entry.id ?? null) : homeId === entry.id ? null : entry.id;
		const sorted = files.toSorted((a, b) =>
			a.file.name.localeCompare(b.file.name, undefined, { numeric: true })
		);
		for (const one of sorted) {
			const id = editing.begin(kind, { homeId, after });
			after = id;
			void editing.keep(id, titleOf(one.file.name)).then((kept) => kept && send(one, kept));
		}
	}

	function send(one: Chosen, itemId: string) {
		const metadata = { replaces: itemId };
		uploads.add([{ file: one.file, folder: '' }], {
			box,
			limit,
			metadata,
			onDone: () => void refresh('desk:library')
		});
	}

	const doing: OutlineDoing = {
		get group() {
			return `${own} ${outline.id}`;
		},
		get isWide() {
			return isWide;
		},
		get isStill() {
			return prefersReducedMotion.current;
		},
		get plans() {
			return plans;
		},
		get labels() {
			return labels;
		},
		get now() {
			return now;
		},
		get zone() {
			return zone;
		},
		get openId() {
			return openId;
		},
		get currentKey() {
			return isThere ? currentKey : first;
		},
		holds: isHolder,
		isFolded: (id) => folded.has(id),
		fold: (id) => (folded.delete(id) ? undefined : folded.add(id)),
		hrefOf: (id) => `/desk/library/${id}?in=${outline.id}`,
		onFocus: ({ key }) => (currentKey = key),
		sentOf: (id) => {
			const going = uploads.of(box).find((one) => one.replaces === id && one.state !== 'done');
			return going ? { percent: going.percent, problem: going.problem } : null;
		},
		onDrag: (isDragging) => isDragging && (editing.problem = ''),
		put: ({ id, key }, spot) => {
			editing.put(id, spot);
			void focusOn(key);
		},
		refuse: (entry, home) => {
			editing.problem = `“${entry.title}” is a ${KIND_WORDS[entry.kind].one}: it cannot live in “${home.title}”.`;
			editing.tree = [...editing.tree];
		},
		keep: (entry, title) => void editing.keep(entry.id, title),
		next,
		move,
		step,
		drop,
		receive: (entry, data) => void receive(entry, data)
	};

	// An outline in which nothing lives yet is written at once.
	$effect(() => {
		if (untrack(() => outline.total > 0 || openId !== null || ofFiles)) return;
		untrack(() => void begin(newKind(outline.kind), { homeId: outline.id, after: null }));
	});

	const unkept = $derived(
		editing.going > 0 || all.some(({ isNew, isSent, title }) => isNew && !isSent && title !== '')
	);
	beforeNavigate(({ cancel, willUnload }) => {
		if (willUnload && unkept) cancel();
	});

	const hasFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;
</script>

{#snippet level(
	nodes: readonly Node[],
	home: { id: string; kind: ResourceKind; title: string },
	depth: number
)}
	<OutlineLevel {nodes} {home} {depth} {doing} {level} />
{/snippet}

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
	id={own}
	class="@container min-h-0 overflow-y-auto {isWide ? '' : 'px-3'}"
	ondragover={(event) => hasFiles(event) && event.preventDefault()}
	ondrop={(event) => {
		if (!hasFiles(event) || !event.dataTransfer) return;
		event.preventDefault();
		void receive(null, event.dataTransfer);
	}}
>
	{#if isWide && all.length > 0}
		<div
			class="hidden items-end gap-[0.4rem] border-b border-ink pb-1 text-sm text-quiet @2xl:flex"
			aria-hidden="true"
		>
			<span class="grow pl-13">Title</span>
			<span class="w-24 shrink-0">State</span>
			<span class="w-14 shrink-0 text-right">Length</span>
			<span class="hidden w-44 shrink-0 @5xl:block">Release</span>
			<span class="w-50 shrink-0">Who gets in, and when</span>
			<span class="w-14 shrink-0"></span>
		</div>
	{/if}
	{@render level(editing.tree, outline, 0)}
	{#if outline.total > outline.rows.length && all.length < outline.total}
		<p class="py-2 text-sm text-quiet">
			{all.length} of {outline.total} are shown.
			<a href="/desk/library?home={outline.id}">Find the others in the Library</a>
		</p>
	{/if}
	{#if editing.problem}<p class="py-2 font-medium text-brick" role="alert">{editing.problem}</p>{/if}
</div>
<div class="flex flex-wrap items-center gap-x-2 gap-y-1 pt-3 {isWide ? '' : 'px-3 pb-3'}">
	<button type="button" class="button-quiet" onclick={() => addLast(newKind(outline.kind))}
		>Add a {thing}</button
	>
	{#if outline.kind === 'course'}<button type="button" class="button-quiet" onclick={() => addLast('section')}
			>Add a section</button
		>{/if}
	<span class="grow"></span>
	<span class="text-sm text-quiet" role="status"
		>{editing.going > 0 ? 'Being kept …' : isWide ? counts : ''}</span
	>
</div>
{#if isWide}
	<p class="mt-1 text-sm text-quiet">
		Enter adds the next. Alt and the arrows move a row{outline.kind === 'course'
			? ', Tab makes it one of the next section'
			: ''}; Esc, then Tab leaves. A file that is dropped on a row becomes its content{ofFiles
			? '.'
			: `; several become a ${thing} each.`}
	</p>
{/if}
{#if editing.asked}
	{@const { rehearsal, title } = editing.asked}
	<Dialog
		title="Move “{title}”"
		bind:isOpen={() => editing.asked !== null, (isOpen) => isOpen || editing.leave()}
	>
		<form
			onsubmit={(event) => {
				event.preventDefault();
				editing.agree();
			}}
		>
			<Rehearsal
				{rehearsal}
				title="What moving it would do"
				{zone}
				action=""
				onLeave={() => editing.leave()}
			/>
		</form>
	</Dialog>
{/if}
