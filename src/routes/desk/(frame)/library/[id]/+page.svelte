<script lang="ts">
	import { enhance } from '$app/forms';
	import { invalidateAll } from '$app/navigation';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Field from '$ui/components/Field.svelte';
	import Progress from '$ui/components/Progress.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import StateMark from '$ui/components/StateMark.svelte';
	import { ITEM_WORDS, preparationWords } from '$ui/wording/library';
	import { formatBytes, formatLength } from '$ui/wording/time';

	let { data, form } = $props();

	const errors = $derived(form && 'errors' in form ? form.errors : {});
	const values = $derived((form && 'values' in form ? form.values : {}) as Record<string, string>);
	const item = $derived(data.item);
	const asset = $derived(data.asset);
	const isPublished = $derived(item.state === 'published');
	const isPreparing = $derived(asset?.state === 'waiting' || asset?.state === 'preparing');

	$effect(() => {
		if (!isPreparing) return;
		const timer = setInterval(() => void invalidateAll(), 1000);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>{item.title} · Library · Desk</title></svelte:head>

<div class="grid items-start gap-5 xl:grid-cols-[1fr_22rem]">
	{#key item.id}
		<form
			method="post"
			action="?/save"
			class="sheet grid gap-4 p-6 pt-7"
			novalidate
			use:enhance={() =>
				({ update }) =>
					update({ reset: false })}
		>
			<div class="flex flex-wrap items-baseline justify-between gap-3">
				<h2>{item.title}</h2>
				<span class="font-medium {isPublished ? 'text-moss' : 'text-gorse'}">{ITEM_WORDS[item.state]}</span>
			</div>
			<Saved text={form && 'saved' in form ? form.saved : null} />
			<ErrorSummary {errors} />
			<Field name="title" label="Title" {errors}>
				{#snippet children(props)}<input
						class="input"
						value={values.title ?? item.title}
						{...props}
					/>{/snippet}
			</Field>
			<Field
				name="address"
				label="Address"
				hint="Where it is found on the site, from the first slash on."
				{errors}
			>
				{#snippet children(props)}<input
						class="input"
						value={values.address ?? item.address}
						{...props}
					/>{/snippet}
			</Field>
			<Field name="description" label="Description" hint="Shown to those who may open it." {errors}>
				{#snippet children(props)}
					<textarea class="input reading" rows="6" {...props}
						>{values.description ?? item.description}</textarea
					>
				{/snippet}
			</Field>
			<label class="flex items-center gap-2">
				<input type="checkbox" name="showsPoster" value="yes" checked={item.showsPoster} />
				Show the poster to those who are turned away
			</label>
			<div class="flex flex-wrap gap-3">
				<button class="button-main">Save</button>
				<a class="button-quiet" href={item.address}>See it on the front</a>
			</div>
		</form>
	{/key}

	<div class="grid gap-5">
		<section class="sheet p-5 pt-6" aria-labelledby="file">
			<h2 id="file">The video</h2>
			{#if asset}
				{#if asset.state === 'ready'}
					<img
						src="/media/poster/{item.id}"
						alt="Poster"
						class="mt-3 aspect-video w-full rounded-sheet bg-black object-contain"
					/>
				{:else if isPreparing}
					<Progress
						value={data.job?.progress ?? 0}
						label={asset.state === 'waiting' ? 'Waiting' : 'Preparing'}
					/>
				{:else}
					<p class="mt-2 font-medium text-brick" role="alert">{asset.problem}</p>
					<form method="post" action="?/again" use:enhance class="mt-2">
						<button class="button-quiet">Prepare it again</button>
					</form>
				{/if}
				<dl class="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 text-sm">
					<dt class="text-quiet">State</dt>
					<dd>{preparationWords(asset.state)}</dd>
					<dt class="text-quiet">File</dt>
					<dd class="break-all"><bdi>{asset.fileName}</bdi></dd>
					<dt class="text-quiet">Size</dt>
					<dd>{formatBytes(asset.bytes)}, {formatLength(asset.seconds)}, {asset.width} × {asset.height}</dd>
					{#if asset.pictures.length > 0}
						<dt class="text-quiet">Prepared</dt>
						<dd>encrypted stream, {asset.pictures.join(' and ')}</dd>
					{/if}
				</dl>
				{#if !asset.hasSound}
					<p class="mt-2 text-sm font-medium text-gorse">
						This video has no sound. It plays silently; if that is not meant, upload another file.
					</p>
				{/if}
			{/if}
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="who">
			<h2 id="who">Who gets in</h2>
			<p class="mt-2">A stranger finds it: <StateMark verdict={data.stranger} /></p>
			{#if data.fences.length === 0}
				<p class="mt-2 font-medium text-gorse">No fence lets anybody cross: only staff can open it.</p>
			{:else}
				<ul class="mt-2 grid gap-1">
					{#each data.fences as fence (fence.id)}
						<li><a href="/desk/fences/{fence.id}">{fence.name}</a>{fence.isOn ? '' : ' (off)'}</li>
					{/each}
				</ul>
			{/if}
			<p class="mt-3"><a class="button-quiet" href="/desk/fences/new?item={item.id}">Put a fence on it</a></p>
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="publish">
			<h2 id="publish">Publish</h2>
			<form method="post" action="?/publish" use:enhance class="mt-3">
				<input type="hidden" name="to" value={isPublished ? 'draft' : 'published'} />
				{#if isPublished}
					<button class="button-quiet">Take back to a draft</button>
				{:else if asset?.state === 'ready'}
					<button class="button-main">Publish</button>
				{:else}
					<p class="text-quiet">It can be published as soon as it is prepared.</p>
				{/if}
			</form>
		</section>
	</div>
</div>
