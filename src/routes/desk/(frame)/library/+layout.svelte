<script lang="ts">
	import { enhance } from '$app/forms';
	import { invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import { ITEM_STATES, RESOURCE_KINDS } from '$core/access/model';
	import Pager from '$ui/components/Pager.svelte';
	import PlacePicker from '$ui/components/PlacePicker.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import UploadBox from '$ui/components/UploadBox.svelte';
	import { ITEM_WORDS, KIND_WORDS, preparationWords } from '$ui/wording/library';
	import { formatLength } from '$ui/wording/time';

	let { data, children } = $props();

	let chosen = $state<string[]>([]);
	const bulk = $derived(page.form && 'bulk' in page.form ? page.form.bulk : null);
	/** Chosen on other pages of the list: they stay chosen. */
	const elsewhere = $derived(chosen.filter((id) => !data.library.some((one) => one.id === id)));
	const allShown = $derived(data.library.length > 0 && data.library.every(({ id }) => chosen.includes(id)));

	/** Beside it there is room on wide screens only. */
	const isList = $derived(page.url.pathname === '/desk/library');
	const isNarrowed = $derived(
		Boolean(
			data.ask.kind ||
			data.ask.categoryId ||
			data.ask.tagId ||
			data.ask.state ||
			data.ask.homeId ||
			data.ask.isUnfenced
		)
	);

	function fenceWords(item: (typeof data.library)[number]): string {
		if (item.fences === 0) return item.base === 'open' ? 'open, no fence' : 'no fence';
		return item.fences === 1 ? '1 fence' : `${item.fences} fences`;
	}
</script>

<div class="grid items-start gap-5 @4xl:grid-cols-[26rem_1fr]">
	<section
		class="sheet p-4 pt-6 {isList
			? ''
			: 'hidden @4xl:block'} @4xl:sticky @4xl:top-4 @4xl:max-h-[88vh] @4xl:overflow-y-auto"
		aria-labelledby="library"
	>
		<div class="mb-3 flex flex-wrap items-baseline justify-between gap-3">
			<h1 id="library" class="text-xl">Library</h1>
			<a href="/desk/library/bring-in">Bring in</a>
			<a href="/desk/library/labels">Labels</a>
			<a class="button-main" href="/desk/library/new">New</a>
		</div>
		<UploadBox
			limit={data.uploadLimit}
			metadata={{ home: data.ask.homeId ?? '' }}
			onDone={() => void invalidateAll()}
		/>
		<form class="mt-4 grid gap-2" role="search" data-sveltekit-keepfocus>
			<div class="flex gap-2">
				<input
					class="input grow"
					type="search"
					name="q"
					value={data.ask.search}
					placeholder="Find"
					aria-label="Find in the Library"
				/>
				<button class="button-quiet">Find</button>
			</div>
			<details open={isNarrowed}>
				<summary class="cursor-pointer text-sm">Narrow down by kind, place, label, state or fences</summary>
				<div class="mt-2 grid grid-cols-2 gap-2">
					<select class="input" name="kind" aria-label="Kind">
						<option value="">Every kind</option>
						{#each RESOURCE_KINDS as kind (kind)}<option value={kind} selected={data.ask.kind === kind}
								>{KIND_WORDS[kind].many}</option
							>{/each}
					</select>
					<select class="input" name="category" aria-label="Category">
						<option value="">Every category</option>
						{#each data.categories as one (one.id)}<option
								value={one.id}
								selected={data.ask.categoryId === one.id}>{one.name}</option
							>{/each}
					</select>
					<select class="input" name="tag" aria-label="Tag">
						<option value="">Every tag</option>
						{#each data.tags as one (one.id)}<option value={one.id} selected={data.ask.tagId === one.id}
								>{one.name}</option
							>{/each}
					</select>
					<select class="input" name="state" aria-label="State">
						<option value="">Every state</option>
						{#each ITEM_STATES as state (state)}<option value={state} selected={data.ask.state === state}
								>{ITEM_WORDS[state]}</option
							>{/each}
					</select>
					<select class="input" name="fenced" aria-label="Fences">
						<option value="">Fenced or not</option>
						<option value="no" selected={data.ask.isUnfenced}>Closed by nothing</option>
					</select>
				</div>
				<div class="mt-2">
					{#key data.home?.id}
						<PlacePicker
							name="home"
							kinds="collection,page"
							label="Where it lives"
							chosen={data.home}
							placeholder="Wherever it lives: type a name"
							leave="Wherever it lives"
						/>
					{/key}
				</div>
			</details>
		</form>
		{#if page.url.search}<p class="mt-2 text-sm"><a href="/desk/library">Show all</a></p>{/if}
		<form
			method="post"
			action="/desk/library?/plan"
			class="mt-3"
			use:enhance={() =>
				({ update }) =>
					update({ reset: false })}
		>
			<div class="flex items-baseline justify-between border-b border-line pb-1 text-sm text-quiet">
				<label class="flex items-center gap-2">
					<input
						type="checkbox"
						checked={allShown}
						onchange={(event) =>
							(chosen = event.currentTarget.checked
								? [...elsewhere, ...data.library.map(({ id }) => id)]
								: elsewhere)}
					/> All shown
				</label>
				<span
					>{data.library.length < data.total ? `${data.library.length} of ${data.total}` : data.total}</span
				>
			</div>
			{#if chosen.length > 0}
				<fieldset class="my-3 grid gap-2 rounded-sheet border border-moss bg-moss-wash p-3">
					<legend class="px-1 font-medium"
						>{chosen.length} chosen{elsewhere.length > 0
							? `, ${elsewhere.length} of them on other pages`
							: ''}</legend
					>
					{#if data.may.includes('fences')}
						<select class="input" name="plan" aria-label="Plan">
							{#each data.plans as plan (plan.id)}<option value={plan.id}>{plan.name}</option>{/each}
						</select>
						<div class="flex flex-wrap gap-2">
							<button class="button-main" name="do" value="give">This plan opens them</button>
							<button class="button-quiet" name="do" value="take">It does not any more</button>
						</div>
					{/if}
					<div class="grid grid-cols-[1fr_auto] items-center gap-2 border-t border-line pt-2">
						<div>
							<PlacePicker name="home" kinds="shelf" label="Shelf" placeholder="no shelf: type a name" />
						</div>
						<button class="button-quiet" formaction="/desk/library?/change" name="do" value="move"
							>Move</button
						>
						<select class="input" name="category" aria-label="Category for them">
							<option value="">no category</option>
							{#each data.categories as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
						</select>
						<button class="button-quiet" formaction="/desk/library?/change" name="do" value="category"
							>Set category</button
						>
						<select class="input" name="tag" aria-label="Tag for them">
							{#each data.tags as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
						</select>
						<span class="flex gap-2">
							<button class="button-quiet" formaction="/desk/library?/change" name="do" value="tag"
								>Tag</button
							>
							<button class="button-quiet" formaction="/desk/library?/change" name="do" value="untag"
								>Untag</button
							>
						</span>
						<span class="col-span-2 flex flex-wrap gap-2">
							<button class="button-quiet" formaction="/desk/library?/change" name="do" value="publish"
								>Publish</button
							>
							<button class="button-quiet" formaction="/desk/library?/change" name="do" value="draft"
								>To drafts</button
							>
							<button class="button-quiet" formaction="/desk/library?/change" name="do" value="archive"
								>Archive</button
							>
						</span>
					</div>
				</fieldset>
			{/if}
			<Saved text={bulk?.saved} />
			{#if bulk?.problem}<p role="alert" class="font-medium text-brick">{bulk.problem}</p>{/if}
			{#if bulk?.rehearsal}
				<Rehearsal rehearsal={bulk.rehearsal} zone={data.site.zone} action={bulk.action} did={bulk.did} />
			{/if}
			<ul class="divide-y divide-line">
				{#each data.library as item (item.id)}
					<li class="flex items-start">
						<input
							type="checkbox"
							class="mt-2.5 mr-0.5 size-6 shrink-0 accent-moss"
							name="items"
							value={item.id}
							bind:group={chosen}
							aria-label="Choose {item.title}"
						/>
						<a
							href="/desk/library/{item.id}{page.url.search}"
							aria-current={page.params.id === item.id ? 'true' : undefined}
							class="block grow px-2 py-2 text-ink no-underline hover:bg-sunk {page.params.id === item.id
								? 'border-l-3 border-moss bg-moss-wash'
								: 'border-l-3 border-transparent'}"
						>
							<span class="block font-medium">{item.title}</span>
							<span class="flex flex-wrap gap-x-3 text-sm text-quiet">
								<span>{KIND_WORDS[item.kind].one}</span>
								<span
									>{item.assetState === null || item.assetState === 'ready'
										? ITEM_WORDS[item.state]
										: preparationWords(item.assetState)}</span
								>
								{#if item.seconds}<span>{formatLength(item.seconds)}</span>{/if}
								<span class={item.fences === 0 && item.base === 'closed' ? 'text-gorse' : ''}
									>{fenceWords(item)}</span
								>
							</span>
						</a>
					</li>
				{:else}
					<li class="py-3 text-quiet">
						{data.ask.search || data.ask.kind
							? 'Nothing like that.'
							: 'Videos that you upload stand here, and what you make with “New”.'}
					</li>
				{/each}
			</ul>
			<Pager of="the Library" total={data.total} pageSize={data.pageSize} />
			{#each elsewhere as id (id)}<input type="hidden" name="items" value={id} />{/each}
		</form>
	</section>
	<div class="min-w-0">
		{#if !isList}<p class="mb-2 @4xl:hidden"><a href="/desk/library">All of the Library</a></p>{/if}
		{@render children()}
	</div>
</div>
