<script lang="ts">
	import { tick } from 'svelte';
	import { enhance } from '$app/forms';
	import type { ResourceKind } from '$core/access/model';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import type { Opened } from '$core/access/wider';
	import { isBytes } from '$core/library/homes';
	import type { MediaFacts as Facts } from '$core/media/facts';
	import { refresh } from '$ui/refresh';
	import { KIND_WORDS, preparationWords } from '$ui/wording/library';
	import MediaFacts from './MediaFacts.svelte';
	import Picker from '$ui/fields/Picker.svelte';
	import Rehearsal from './Rehearsal.svelte';
	import Progress from '$ui/parts/Progress.svelte';
	import UploadBox from './UploadBox.svelte';

	/** The film, recording or file that an item shows, and what is on its way to take its place. */
	let {
		item,
		asset,
		coming,
		limit,
		message = null,
		wider = null,
		rehearsal = null,
		zone,
		names
	}: {
		item: { id: string; title: string; kind: ResourceKind };
		asset:
			| (Preparing & {
					kind: 'video' | 'audio' | 'file';
					mediaType: string;
					facts: Facts | null;
					isShown: boolean;
					bytes: number;
					seconds: number;
					width: number;
					height: number;
					hasSound: boolean;
					pictures: string[];
			  })
			| null;
		/** It waits for a yes where its ending moves who may open it. */
		coming: (Preparing & { waitsForYes: boolean }) | null;
		limit: number;
		message?: string | null;
		/** People to whom it would open what they cannot open where it comes from. */
		wider?: { fromItemId: string; to: Opened[]; yes: string } | null;
		/** What showing what has come would do. */
		rehearsal?: RehearsalView | null;
		zone: string;
		names: {
			plan: (id: string) => string;
			resource: (id: string) => string;
			batch: (id: string) => string;
		};
	} = $props();

	function who(one: Opened): string {
		switch (one.kind) {
			case 'strangers':
				return 'strangers';
			case 'signed-in':
				return 'whoever is signed in';
			case 'holders':
				return `holders of ${names.plan(one.planId)}`;
			case 'named':
				return one.memberIds.length === 1
					? 'a member who is named'
					: `${one.memberIds.length} members who are named`;
			case 'code':
				return `whoever has a code of ${names.batch(one.batchId)}`;
		}
	}
	const people = $derived((wider?.to ?? []).map(who).join(', '));

	interface Preparing {
		fileName: string;
		state: 'waiting' | 'preparing' | 'ready' | 'failed';
		problem: string | null;
		/** In percent. */
		progress: number;
	}

	let chosenId = $state('');
	let chooser = $state<HTMLFormElement | null>(null);
</script>

{#snippet preparing({ state, progress, problem }: Preparing)}
	{#if state === 'waiting' || state === 'preparing'}
		<Progress value={progress} label={state === 'waiting' ? 'Waiting' : 'Preparing'} />
		<form method="post" action="?/stopPreparing" use:enhance>
			<button class="button-quiet">Stop preparing it</button>
		</form>
	{:else if state === 'failed'}
		<p class="font-medium text-brick" role="alert">{problem}</p>
		<form method="post" action="?/again" use:enhance>
			<button class="button-quiet">Prepare it again</button>
		</form>
	{/if}
{/snippet}

<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="file">
	<h2 id="file">What it shows</h2>
	{#if asset}
		{#if asset.kind === 'video' && asset.isShown}
			<img
				src="/media/poster/{item.id}"
				alt="Poster"
				class="aspect-video w-full rounded-sheet bg-black object-contain"
			/>
		{/if}
		{#if !coming}{@render preparing(asset)}{/if}
		<MediaFacts {asset} />
		{#if asset.kind !== 'file'}
			<p class="text-sm">
				{preparationWords(asset.state)}{#if asset.pictures.length > 0}: encrypted stream, {asset.pictures.join(
						' and '
					)}{/if}
			</p>
		{/if}
		{#if asset.kind === 'video' && !asset.hasSound}
			<p class="text-sm font-medium text-gorse">
				This video has no sound. It plays silently; if that is not meant, upload another file.
			</p>
		{/if}
	{/if}
	{#if coming}
		<div class="grid gap-2 rounded-sheet border border-line bg-sunk p-3">
			{#if coming.waitsForYes}
				<p>
					<bdi class="font-medium break-all">{coming.fileName}</bdi> is here, and waits: with its ending other fences
					count. Until you say yes to that, people see what was there.
				</p>
				<form method="post" action="?/showComing" use:enhance class="grid gap-2">
					{#if rehearsal}
						<Rehearsal
							{rehearsal}
							title="What showing {coming.fileName} in “{item.title}” would do"
							{zone}
							action="?/showComing"
						/>
					{:else}
						<button class="button-main justify-self-start">Show it</button>
					{/if}
				</form>
				{#if message}<p class="text-sm font-medium text-brick" role="alert">{message}</p>{/if}
			{:else}
				<p>
					<bdi class="font-medium break-all">{coming.fileName}</bdi> comes in its place when it is prepared. Until
					then people see what is there.
				</p>
				{@render preparing(coming)}
			{/if}
			<form method="post" action="?/giveUp" use:enhance>
				<button class="button-quiet">Keep what is there</button>
			</form>
		</div>
	{/if}
	{#if asset}
		<p class="flex flex-wrap gap-2">
			<a class="button-quiet" href="/desk/library/{item.id}/media"
				>{asset.kind === 'file' ? 'Replace it, and how it is shown' : 'Captions, chapters, player'}</a
			>
		</p>
		{#if !isBytes(item.kind)}
			<form method="post" action="?/showNothing" use:enhance>
				<button class="button-quiet">Show nothing here</button>
			</form>
		{/if}
	{:else if !coming}
		<p class="text-sm text-quiet">
			Words alone, so far. A film, a recording or a file can stand above them; whoever may open this
			{KIND_WORDS[item.kind].one} may open it here.
		</p>
		{#if wider}
			<form
				method="post"
				action="?/showAlso"
				use:enhance
				class="grid gap-2 rounded-sheet border-2 border-gorse bg-gorse-wash p-3"
				role="alert"
			>
				<p>
					This {KIND_WORDS[item.kind].one} opens to more people than {names.resource(wider.fromItemId)}: {people}.
					They could open it here.
				</p>
				<input type="hidden" name="from" value={wider.fromItemId} />
				<button class="button-quiet justify-self-start" name="agreed" value={wider.yes}
					>Show it to them, too</button
				>
			</form>
		{/if}
		<form method="post" action="?/showAlso" use:enhance bind:this={chooser} class="grid gap-1">
			<input type="hidden" name="from" value={chosenId} />
			<Picker
				label="Show what an item of the Library shows"
				kinds="item"
				placeholder="A film, recording or file of the Library"
				onChoose={({ id }) => {
					chosenId = id;
					void tick().then(() => chooser?.requestSubmit());
				}}
			/>
			{#if message}<p class="text-sm font-medium text-brick" role="alert">{message}</p>{/if}
		</form>
		<UploadBox
			{limit}
			label="Bring in a file for it"
			isSingle
			metadata={{ replaces: item.id }}
			onDone={() => void refresh()}
		/>
	{/if}
</section>
