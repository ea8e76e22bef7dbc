<script lang="ts">
	/** What a fence catches: seen at once, as it is chosen. */
	import { RESOURCE_KINDS, SELECTOR_KINDS, type Selector } from '$core/access/model';
	import { optionsOf } from '$ui/fields/labelled';
	import { sentSelector, type SelectorDraft } from '$ui/fence-draft';
	import type { namesOf } from '$ui/names';
	import type { FencePreview } from '$ui/fence-draft';
	import { KIND_WORDS } from '$ui/wording/library';
	import CheckField from '$ui/fields/CheckField.svelte';
	import Picker from '$ui/fields/Picker.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import TextField from '$ui/fields/TextField.svelte';

	let {
		selector = $bindable(),
		id,
		names,
		choices,
		fresh = $bindable(),
		errors,
		preview = $bindable(null)
	}: {
		selector: SelectorDraft;
		/** The fence's; `null` for a new one. */
		id: string | null;
		names: ReturnType<typeof namesOf>;
		choices: { categories: { id: string; name: string }[]; tags: { id: string; name: string }[] };
		/** Names of what was picked since the page was loaded. */
		fresh: Record<string, string>;
		errors: Record<string, string[]>;
		/** What it would catch, and which other fences catch the same. */
		preview?: FencePreview | null;
	} = $props();

	const SELECTOR_WORDS: Record<Selector['kind'], string> = {
		items: 'Items picked by hand',
		within: 'Everything in a collection or below a page',
		category: 'A category',
		tag: 'A tag',
		kind: 'Every item of a kind',
		path: 'One path',
		below: 'Everything below a path',
		containing: 'Paths that contain a text',
		pattern: 'Paths that a pattern matches',
		everything: 'Everything'
	};

	let test = $state('');
	/** No answer came to what was asked last. */
	let isUnanswered = $state(false);

	const AFTER_MS = 250;
	const AGAIN_MS = 2000;

	/** What the fence as it stands in the editor would catch: asked a moment after the last change, until it is answered. */
	$effect(() => {
		const body = JSON.stringify({ id, selector: sentSelector(selector), test });
		const changed = new AbortController();
		const { signal } = changed;
		const ask = async () => {
			const response = await fetch('/desk/fences/preview', {
				...{ method: 'POST', body, signal },
				headers: { 'content-type': 'application/json' }
			}).catch(() => null);
			const answer = response?.ok ? ((await response.json().catch(() => null)) as FencePreview | null) : null;
			if (signal.aborted) return;
			isUnanswered = answer === null;
			if (answer) preview = answer;
			else timer = setTimeout(() => void ask(), AGAIN_MS);
		};
		let timer = setTimeout(() => void ask(), AFTER_MS);
		return () => {
			changed.abort();
			clearTimeout(timer);
		};
	});
</script>

<fieldset id="selector" class="grid gap-3">
	<legend class="question">Close what?</legend>
	<SelectField
		label="What it catches"
		hidesLabel
		class="max-w-96"
		options={SELECTOR_KINDS.map((kind) => ({ value: kind, label: SELECTOR_WORDS[kind] }))}
		bind:value={() => selector.kind, (to) => (selector.kind = to as typeof selector.kind)}
	/>
	{#if selector.kind === 'items'}
		<Picker
			label="Add an item"
			kinds="item,collection"
			placeholder="Add an item: type its name"
			onChoose={(found) => {
				fresh[found.id] = found.label;
				if (!selector.itemIds.includes(found.id)) selector.itemIds.push(found.id);
			}}
		/>
		<ul class="flex flex-wrap gap-2" aria-label="Items picked by hand">
			{#each selector.itemIds as itemId (itemId)}
				<li class="flex items-center gap-2 rounded-sheet border border-line bg-sunk px-2 py-1">
					{names.resource(itemId)}
					<button
						type="button"
						class="cursor-pointer underline"
						onclick={() => (selector.itemIds = selector.itemIds.filter((one) => one !== itemId))}
						>Remove<span class="sr-only"> {names.resource(itemId)}</span></button
					>
				</li>
			{/each}
		</ul>
	{:else if selector.kind === 'within'}
		<Picker
			label="The collection or page"
			kinds="collection,page"
			placeholder={selector.collectionId
				? names.resource(selector.collectionId)
				: 'A course, section, show, shelf or page'}
			onChoose={(found) => {
				fresh[found.id] = found.label;
				selector.collectionId = found.id;
			}}
		/>
		{#if selector.collectionId}<p>
				Chosen: <strong>{names.resource(selector.collectionId)}</strong>
			</p>{/if}
		<CheckField label="Its own page too" bind:checked={selector.withPage} />
		<TextField
			label="Only files that end in (all, if empty)"
			class="max-w-96"
			placeholder="pdf, zip"
			bind:value={selector.extensions}
		/>
	{:else if selector.kind === 'category'}
		<SelectField
			label="Category"
			hidesLabel
			class="max-w-96"
			options={optionsOf(choices.categories)}
			bind:value={selector.categoryId}
		/>
	{:else if selector.kind === 'tag'}
		<SelectField
			label="Tag"
			hidesLabel
			class="max-w-96"
			options={optionsOf(choices.tags)}
			bind:value={selector.tagId}
		/>
	{:else if selector.kind === 'kind'}
		<SelectField
			label="Kind"
			hidesLabel
			class="max-w-96"
			options={RESOURCE_KINDS.map((kind) => ({ value: kind, label: KIND_WORDS[kind].many }))}
			bind:value={() => selector.itemKind, (to) => (selector.itemKind = to as typeof selector.itemKind)}
		/>
	{:else if selector.kind === 'path' || selector.kind === 'below'}
		<TextField
			label="Path"
			hidesLabel
			class="max-w-96"
			placeholder="/courses/clock"
			bind:value={selector.path}
		/>
	{:else if selector.kind === 'containing'}
		<TextField label="Text" hidesLabel class="max-w-96" placeholder="/bench/" bind:value={selector.text} />
	{:else if selector.kind === 'pattern'}
		<TextField
			label="Pattern"
			hidesLabel
			class="max-w-96 font-mono"
			placeholder="^/clocks/[0-9]+$"
			bind:value={selector.pattern}
		/>
		<p class="text-sm text-quiet">RE2 syntax. ^ holds on to the beginning of the path, $ to its end.</p>
	{/if}
	{#if errors.selector}<p class="text-sm font-medium text-brick">{errors.selector[0]}</p>{/if}
	<div class="rounded-sheet border border-line bg-sunk p-3" aria-live="polite">
		{#if isUnanswered}<p class="mb-1 text-gorse">
				What it catches cannot be looked up just now. It is asked for again.
			</p>{/if}
		{#if !preview}<p class="text-quiet">Looking what it catches.</p>
		{:else if preview.message}
			{#if preview.mark}{@const { at, length } = preview.mark}
				<p class="mb-1 font-mono text-sm break-all">
					{selector.pattern.slice(0, at)}<mark
						class="rounded-sheet bg-brick-wash text-brick outline-2 outline-offset-1 outline-brick"
						>{selector.pattern.slice(at, at + length)}</mark
					>{selector.pattern.slice(at + length)}
				</p>
			{/if}
			<p class={preview.mark ? 'text-brick' : 'text-quiet'}>{preview.message}</p>
		{:else}
			<p class="font-medium">
				{preview.total === 0
					? 'It catches nothing now.'
					: preview.total === 1
						? 'It catches 1 item.'
						: `It catches ${preview.total} items.`}
			</p>
			<ul class="mt-1 max-h-44 overflow-y-auto">
				{#each preview.items as item (item.id)}
					<li class="flex flex-wrap gap-x-3 py-1">
						<a href="/desk/library/{item.id}">{item.title}</a>
						<span class="text-sm text-quiet">{item.kind} {item.address ?? ''}</span>
						{#if item.isNew}<span class="text-sm font-medium text-moss">newly caught</span>{/if}
					</li>
				{/each}
				{#each preview.lost as item (item.id)}
					<li class="flex flex-wrap gap-x-3 py-0.5">
						<span class="line-through">{item.title}</span><span class="text-sm font-medium text-brick"
							>no longer caught</span
						>
					</li>
				{/each}
			</ul>
			{#each preview.findings as { text }, n (n)}<p class="mt-1 text-sm font-medium text-gorse">
					{text}
				</p>{/each}
		{/if}
		<div class="mt-3 max-w-96">
			<TextField label="Does it catch this address?" placeholder="/courses/clock/strike" bind:value={test} />
			{#if preview?.tested}<p class="mt-1 font-medium">{preview.tested}</p>{/if}
		</div>
	</div>
</fieldset>
