<script lang="ts">
	import { tick } from 'svelte';
	import { enhance } from '$app/forms';
	import { clock, withChapterAt } from '$core/media/chapters';
	import type { PlayerState } from '$ui/player.svelte';
	import { optionsOf } from '$ui/fields/labelled';
	import { refresh } from '$ui/refresh';
	import Fold from '$ui/parts/Fold.svelte';
	import SelectField from '$ui/fields/SelectField.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import CoverBox from '$ui/components/CoverBox.svelte';
	import CueEditor from '$ui/components/CueEditor.svelte';
	import DeterrentFields from '$ui/components/DeterrentFields.svelte';
	import FileField from '$ui/fields/FileField.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import MediaFacts from '$ui/components/MediaFacts.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import PlacesAsk from '$ui/components/PlacesAsk.svelte';
	import Player from '$ui/components/Player.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import UploadBox from '$ui/components/UploadBox.svelte';
	import { formatBytes } from '$ui/wording/time';

	let { data, form } = $props();

	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const isPlayed = $derived(data.asset.kind !== 'file');
	const usual = $derived(
		`the usual one${data.ways.find(({ isDefault }) => isDefault)?.name.replace(/^/, ': ') ?? ''}`
	);
	/** The address of the stream is another each time; what plays goes on until something else is shown. */
	const shownNow = $derived(data.versions.find(({ state }) => state === 'shown')?.assetId);
	/** What the player knows, for times that are taken from it. */
	let player = $state.raw<PlayerState | null>(null);
	const here = $derived(player ? Math.floor(player.time) : 0);
	const keptChapters = $derived(String(form && 'typed' in form ? form.typed : data.chapters));
	let chapters = $derived(keptChapters);
	let said = $state('');

	function show(seconds: number) {
		void player?.show(seconds);
		said = `Shown at ${clock(seconds)}.`;
	}

	/** A line for a chapter that begins where the player is, with the caret where its title is written. */
	async function chapterHere() {
		const put = withChapterAt(chapters, here);
		chapters = put.text;
		await tick();
		const field = document.getElementById('text');
		if (!(field instanceof HTMLTextAreaElement)) return;
		field.focus();
		field.setSelectionRange(put.caret, put.caret);
	}
	const stay =
		() =>
		({ update }: { update: (how: { reset: boolean }) => Promise<void> }) =>
			update({ reset: false });
</script>

<svelte:head><title>{data.item.title} · Media · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/library/{data.item.id}">Back to {data.item.title}</a></p>
<div class="grid items-start gap-5 @6xl:grid-cols-2">
	<div class="grid gap-5">
		<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="shown">
			<h2 id="shown">{data.item.title}</h2>
			<Saved text={form && 'saved' in form ? form.saved : null} />
			{#if data.media}
				{#key shownNow}<Player media={data.media} onMade={(made) => (player = made)} />{/key}
				<p class="sr-only" role="status">{said}</p>
			{/if}
			<MediaFacts asset={data.asset} />
			{#if isPlayed}
				<form method="post" action="?/level" use:enhance={stay} class="flex flex-wrap items-center gap-3">
					<CheckField
						name="isLevelled"
						label="Bring the sound to the usual loudness"
						from={data.asset.isLevelled}
					/>
					<button class="button-quiet">Prepare it anew</button>
				</form>
			{/if}
		</section>
		<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="replace">
			<h2 id="replace">Replace the content</h2>
			<p class="text-sm text-quiet">
				The address stays. What is there is shown until the new file is prepared, and kept afterwards.
				Captions and chapters go over to the new file, unless it brings its own.
			</p>
			<UploadBox
				limit={data.uploadLimit}
				label="Choose the new file"
				isSingle
				metadata={{ replaces: data.item.id }}
				onDone={() => void refresh()}
			/>
			{#if errors.version}<p role="alert" class="text-sm font-medium text-brick">{errors.version[0]}</p>{/if}
			<ul class="divide-y divide-line text-sm">
				{#each data.versions as version (version.assetId)}
					<li class="flex flex-wrap justify-between gap-3 py-1.5">
						<bdi class="break-all">{version.fileName}</bdi>
						<span class="text-quiet"
							>{formatBytes(version.bytes)}, {#if version.state === 'shown'}shown now{:else if version.state === 'coming'}{version.kind ===
									'file' || version.isPrepared
									? 'waits for your yes on the item’s page'
									: 'comes when it is prepared'}{:else if version.replacedAt}put aside <Moment
									at={version.replacedAt}
									zone={data.site.zone}
								/>{/if}</span
						>
						{#if version.state === 'replaced' && (version.kind === 'file' || version.isPrepared)}
							<form method="post" action="?/showEarlier" use:enhance={stay}>
								<input type="hidden" name="assetId" value={version.assetId} />
								<button class="button-quiet">Show this one again</button>
							</form>
						{/if}
					</li>
				{/each}
			</ul>
		</section>
		<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="picture">
			<h2 id="picture">The picture that stands for it</h2>
			<CoverBox itemId={data.item.id} hasPicture={data.item.hasPicture} hasCover={data.item.hasCover}>
				{#if data.asset.kind === 'video'}
					<form method="post" action="?/poster" use:enhance={stay} class="flex flex-wrap items-end gap-3">
						<button class="button-quiet" name="here" value={player ? clock(player.time) : '0:00'}
							>This frame: {clock(here)} in the player</button
						>
						<TextField name="at" label="Or a frame at" {errors} class="w-28" placeholder="1:30" />
						<button class="button-quiet">Take this frame</button>
					</form>
				{/if}
			</CoverBox>
		</section>
	</div>
	<div class="grid gap-5">
		{#if isPlayed}
			<section class="sheet grid gap-4 p-5 pt-6" aria-labelledby="captions">
				<h2 id="captions">Captions</h2>
				{#each data.captions as own (own.language)}
					<Fold label="{own.label} ({own.language}), {own.cues.length} lines">
						{#key own.cues}<CueEditor
								{...own}
								message={errors.cues?.[0] ?? null}
								onSeek={show}
								at={() => player?.time ?? 0}
							/>{/key}
					</Fold>
				{/each}
				<form
					method="post"
					action="?/captions"
					enctype="multipart/form-data"
					use:enhance
					class="grid gap-3 border-t border-line pt-3"
				>
					<div class="grid gap-3 sm:grid-cols-2">
						<TextField name="language" label="Language" hint="Its code, such as en or de." {errors} />
						<TextField name="label" label="Called" hint="As viewers see it, such as English." {errors} />
					</div>
					<FileField name="file" label="A WebVTT or SubRip file" {errors} accept=".vtt,.srt" />
					<button class="button-quiet justify-self-start">Add captions</button>
				</form>
			</section>
			<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="chapters">
				<h2 id="chapters">Chapters</h2>
				<form
					method="post"
					action="?/chapters"
					enctype="multipart/form-data"
					use:enhance={stay}
					class="grid gap-3"
				>
					<TextField
						label="Chapters, one a line"
						hint="When, and what. Empty for none."
						name="text"
						rows={6}
						placeholder="1:30 The escapement"
						bind:value={chapters}
					/>
					<button type="button" class="button-quiet justify-self-start" onclick={chapterHere}
						>Chapter here: {clock(here)}</button
					>
					{#if errors.chapters}<p role="alert" class="font-medium text-brick">{errors.chapters[0]}</p>{/if}
					<FileField
						label="Or from a file"
						hint="WebVTT, or JSON chapters of a podcast."
						id="chapters-file"
						name="file"
						accept=".vtt,.json,.txt"
					/>
					<button class="button-quiet justify-self-start">Save the chapters</button>
				</form>
			</section>
		{/if}
		<section class="sheet p-5 pt-6" aria-labelledby="playing">
			<h2 id="playing">How it is shown</h2>
			<form method="post" action="?/playing" use:enhance={stay} class="mt-3 grid gap-4" novalidate>
				{#if isPlayed}
					<SelectField
						name="wayId"
						label="Way of watching"
						hint="What viewers may do, and how much of the controls they see. Settings has them all."
						class="max-w-72"
						options={[{ value: '', label: usual }, ...optionsOf(data.ways)]}
						from={data.item.wayId ?? ''}
						{errors}
					/>
				{:else}
					<CheckField
						name="opensInBrowser"
						label="Open it in the browser, where that can be done safely (PDF, pictures)"
						from={data.item.opensInBrowser}
					/>
				{/if}
				{#if form && 'places' in form && form.places}<PlacesAsk
						places={form.places}
						action="?/playing"
					/>{/if}
				<DeterrentFields
					values={data.siteDeterrents}
					own={data.item.deterrents}
					{errors}
					picture={data.item.hasPicture ? `/media/poster/${data.item.id}` : null}
				/>
				<button class="button-main justify-self-start">Save</button>
			</form>
		</section>
	</div>
</div>
