<script lang="ts">
	import Columns3 from '@lucide/svelte/icons/columns-3';
	import { untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { ITEM_STATES, RESOURCE_KINDS } from '$core/access/model';
	import { asking } from '$ui/address';
	import { refresh } from '$ui/refresh';
	import ChosenBar from '$ui/components/ChosenBar.svelte';
	import LibraryRows from '$ui/components/LibraryRows.svelte';
	import OutlineEditor from '$ui/components/OutlineEditor.svelte';
	import UploadBox from '$ui/components/UploadBox.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import PlaceField from '$ui/fields/PlaceField.svelte';
	import SearchField from '$ui/fields/SearchField.svelte';
	import { optionsOf } from '$ui/fields/labelled';
	import SelectField from '$ui/fields/SelectField.svelte';
	import { COLUMNS, COLUMN_WORDS, readColumns, writeColumns, type Column } from '$ui/library-columns';
	import Popover from '$ui/parts/Popover.svelte';
	import { LibraryList } from '$ui/library-list.svelte';
	import { ITEM_WORDS, KIND_WORDS } from '$ui/wording/library';
	import { WINDOW } from './window';

	let { data, children } = $props();

	const list = new LibraryList(WINDOW);
	/** Of its address, what the list is asked for; which columns are shown is the page's. */
	const asked = $derived(asking(page.url.searchParams, { columns: null, in: null }));
	$effect.pre(() => {
		const { first } = data;
		const search = asked;
		untrack(() => list.begin(first, search));
	});
	// The server, too, shows what there is.
	untrack(() => list.begin(data.first, asked));

	/** Beside what is open there is room on wide screens only. */
	const isList = $derived(page.url.pathname === '/desk/library');
	const columns = $derived(readColumns(page.url.searchParams.get('columns')));
	const isNarrowed = $derived(
		Boolean(
			data.ask.search ||
			data.ask.kind ||
			data.ask.categoryId ||
			data.ask.tagId ||
			data.ask.state ||
			data.ask.homeId ||
			data.ask.isUnfenced
		)
	);
	const counts = $derived.by(() => {
		const { found, things, drafts } = data.first;
		if (isNarrowed) return `${found} of ${things} found`;
		const all = things === 1 ? '1 thing' : `${things} things`;
		return drafts === 0 ? all : `${all}, ${drafts === 1 ? '1 draft' : `${drafts} drafts`}`;
	});

	function ask(changes: Record<string, string | null>) {
		void goto(asking(page.url.searchParams, changes), {
			replaceState: true,
			keepFocus: true,
			noScroll: true
		});
	}
</script>

{#snippet narrowing()}
	<SelectField
		label="Kind"
		hidesLabel
		id="narrow-kind"
		class="w-32"
		options={[
			{ value: '', label: 'Every kind' },
			...RESOURCE_KINDS.map((kind) => ({ value: kind, label: KIND_WORDS[kind].many }))
		]}
		from={data.ask.kind ?? ''}
		onChoose={(kind) => ask({ kind })}
	/>
	<SelectField
		label="State"
		hidesLabel
		id="narrow-state"
		class="w-36"
		options={[
			{ value: '', label: 'Every state' },
			...ITEM_STATES.map((state) => ({ value: state, label: ITEM_WORDS[state] }))
		]}
		from={data.ask.state ?? ''}
		onChoose={(state) => ask({ state })}
	/>
	<Popover title="Narrow down">
		{#snippet trigger()}Narrow down{/snippet}
		<div class="grid gap-3">
			<SelectField
				label="Category"
				options={[{ value: '', label: 'Every category' }, ...optionsOf(data.categories)]}
				from={data.ask.categoryId ?? ''}
				onChoose={(category) => ask({ category })}
			/>
			<SelectField
				label="Tag"
				options={[{ value: '', label: 'Every tag' }, ...optionsOf(data.tags)]}
				from={data.ask.tagId ?? ''}
				onChoose={(tag) => ask({ tag })}
			/>
			<SelectField
				label="Fences"
				options={[
					{ value: '', label: 'Fenced or not' },
					{ value: 'no', label: 'Closed by nothing' }
				]}
				from={data.ask.isUnfenced ? 'no' : ''}
				onChoose={(fenced) => ask({ fenced })}
			/>
			{#key data.home?.id}
				<PlaceField
					id="narrow-home"
					kinds="collection,page"
					label="Where it lives"
					chosen={data.home}
					placeholder="wherever it lives: type a name"
					leave="Wherever it lives"
					onChange={(home) => ask({ home })}
				/>
			{/key}
		</div>
	</Popover>
	<Popover title="Columns" class="w-56">
		{#snippet trigger()}<Columns3 size={16} /> Columns{/snippet}
		<ChecksField
			label="Beside the title"
			isList
			options={COLUMNS.map((one) => ({ value: one, label: COLUMN_WORDS[one] }))}
			bind:values={() => [...columns], (shown) => ask({ columns: writeColumns(shown as Column[]) ?? null })}
		/>
	</Popover>
{/snippet}

{#snippet rows(isWide: boolean)}
	{#if list.total === 0}
		<p class="p-4 text-quiet">
			{isNarrowed
				? 'Nothing like that.'
				: 'Nothing yet. Bring in a film, a recording or a file, or begin with “New”.'}
		</p>
	{:else}
		<LibraryRows
			{list}
			{isWide}
			{columns}
			plans={data.planChoices}
			labels={data.labelChoices}
			now={data.now}
			zone={data.site.zone}
		/>
	{/if}
	<ChosenBar
		chosen={list.chosen}
		plans={data.may.includes('fences') ? data.planChoices : null}
		categories={data.categories}
		tags={data.tags}
		zone={data.site.zone}
	/>
{/snippet}

{#if isList}
	<div class="flex h-[calc(100dvh-var(--above,3.5rem)-2.75rem)] min-h-112 flex-col">
		<div class="mb-3 flex flex-wrap items-center gap-2">
			<h1 class="mr-auto">Library</h1>
			{@render narrowing()}
			<div class="w-44">
				<SearchField of="the Library" value={data.ask.search} onType={(q) => ask({ q })} />
			</div>
			<UploadBox
				limit={data.uploadLimit}
				isCompact
				metadata={{ home: data.ask.homeId ?? '' }}
				onDone={() => void refresh('desk:library')}
			/>
			<a class="button-quiet" href="/desk/library/new">New</a>
		</div>
		<p class="mb-2 flex flex-wrap gap-x-4 gap-y-2 text-sm">
			<span class="text-quiet" role="status">{counts}</span>
			{#if isNarrowed}<a href="/desk/library">Show all</a>{/if}
			<a href="/desk/library/bring-in">Bring in by a table, an address or the object store</a>
			<a href="/desk/library/labels">Categories and tags</a>
		</p>
		<section class="sheet flex min-h-0 grow flex-col pt-2" aria-label="Everything in the Library">
			{@render rows(true)}
		</section>
	</div>
	{@render children()}
{:else}
	<div class="grid grid-cols-1 items-start gap-5 @4xl:grid-cols-[24rem_1fr]">
		<section
			class="sheet hidden max-h-[88vh] flex-col pt-4 @4xl:sticky @4xl:top-4 @4xl:flex"
			aria-labelledby="library"
		>
			{#if data.beside}
				<p class="px-4 pt-1 text-sm"><a href="/desk/library">Library</a></p>
				<h1 id="library" class="mb-2 px-4 text-lg">
					<a class="text-ink" href="/desk/library/{data.beside.id}">{data.beside.title}</a>
				</h1>
				<OutlineEditor
					outline={data.beside}
					isWide={false}
					openId={page.params.id ?? null}
					limit={data.uploadLimit}
					plans={data.planChoices}
					labels={data.labelChoices}
					now={data.now}
					zone={data.site.zone}
				/>
			{:else}
				<div class="mb-2 flex items-center gap-3 px-4 pt-1">
					<h1 id="library" class="text-lg">
						<a class="text-ink" href="/desk/library{page.url.search}">Library</a>
					</h1>
					<div class="grow">
						<SearchField of="the Library" value={data.ask.search} onType={(q) => ask({ q })} />
					</div>
					<a class="button-quiet" href="/desk/library/new">New</a>
				</div>
				{@render rows(false)}
			{/if}
		</section>
		<div class="min-w-0" id="editor" tabindex="-1">
			<p class="mb-2 @4xl:hidden"><a href="/desk/library">All of the Library</a></p>
			{@render children()}
		</div>
	</div>
{/if}
