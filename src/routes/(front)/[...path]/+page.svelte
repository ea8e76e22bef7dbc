<script lang="ts">
	import FileBox from '$ui/components/FileBox.svelte';
	import Notice from '$ui/components/Notice.svelte';
	import Outline from '$ui/components/Outline.svelte';
	import PlanOffer from '$ui/components/PlanOffer.svelte';
	import Player from '$ui/components/Player.svelte';
	import RichTextView from '$ui/components/RichTextView.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	const denial = $derived(data.denial);

	// Opening it is counted: only the whole page is the opening, and not what a browser fetches ahead.
	$effect(() => {
		if (data.isHeld) location.reload();
	});
</script>

{#snippet before()}<a href={data.before?.address}>{data.before?.title}</a>{/snippet}
{#snippet after()}<a href={data.after?.address}>{data.after?.title}</a>{/snippet}

<svelte:head><title>{data.item.title} · {data.site.name}</title></svelte:head>

{#if data.homes.length > 0}
	<nav class="mb-2 text-sm" aria-label={words().say('item.where')}>
		{#each data.homes as home (home.address)}<a href={home.address}>{home.title}</a>
			<span class="text-quiet" aria-hidden="true"> / </span>{/each}
	</nav>
{/if}
<h1 class="mb-4">{data.item.title}</h1>
{#if data.isHeld}
	<p>
		{words().say('item.counted')} <a href={data.path} data-sveltekit-reload>{words().say('item.open-it')}</a>
	</p>
{:else if denial}
	<div class="grid items-start gap-6 {data.item.poster || data.media ? 'lg:grid-cols-[3fr_2fr]' : ''}">
		{#if data.media}
			{#key data.media.stream}<Player media={data.media} />{/key}
		{:else if data.item.poster}
			<img src={data.item.poster} alt="" class="aspect-video w-full rounded-sheet object-cover" />
		{/if}
		<Notice
			{denial}
			title={data.item.title}
			member={data.viewer?.name ?? null}
			plans={data.offers}
			otherWays={data.otherWays}
			zone={data.site.zone}
			path={data.path}
		/>
	</div>
	{#if data.item.text.length > 0}
		<div class="mt-6 max-w-prose"><RichTextView text={data.item.text} headingLevel={2} /></div>
	{/if}
	{#if data.offers.length > 0}
		<h2 class="mt-8 mb-4">
			{words().say(data.offers.length === 1 ? 'item.one-plan-opens' : 'item.plans-open')}
		</h2>
		<div class="grid gap-5 sm:grid-cols-2 lg:grid-cols-3">
			{#each data.offers as { plan, action, opensAt } (plan.id)}
				<PlanOffer
					{plan}
					{opensAt}
					zone={data.site.zone}
					action={{ ...action, kind: `${action.kind}-named` }}
				/>
			{/each}
		</div>
	{:else if denial.standing !== 'too-early' && !denial.isHeldInVain && !data.otherWays.account && !data.otherWays.code}
		<p class="mt-6">{words().say('item.no-plan-opens')}</p>
	{/if}
{:else}
	{#if data.media}
		{#key data.media.stream}<Player media={data.media} />{/key}
	{:else if data.isPlayable && data.item.poster}
		<figure>
			<img src={data.item.poster} alt="" class="aspect-video w-full rounded-sheet object-cover" />
			<figcaption class="mt-1 text-sm text-quiet">{words().say('item.plays-here')}</figcaption>
		</figure>
	{:else if data.item.poster}
		<img src={data.item.poster} alt="" class="max-h-72 w-full rounded-sheet object-cover" />
	{/if}
	{#if data.item.text.length > 0}
		<div class="mt-6 max-w-prose"><RichTextView text={data.item.text} headingLevel={2} /></div>
	{/if}
	{#if data.listen}<audio class="mt-6 w-full" controls preload="none" src={data.listen}></audio>{/if}
	{#if data.file}<FileBox file={data.file} problem={form && 'download' in form ? form.download : null} />{/if}
	{#if data.item.target && data.item.isFramed}
		<iframe
			class="mt-6 aspect-video w-full rounded-sheet border border-line"
			src={data.item.target}
			title={data.item.title}
			allow="fullscreen; picture-in-picture"
			allowfullscreen
			referrerpolicy="origin"
			sandbox="allow-scripts allow-same-origin allow-presentation allow-popups"
		></iframe>
	{/if}
	{#if data.item.target}
		<p class="mt-6">
			<a class="button-main" href={data.item.target} rel="noreferrer"
				>{words().say('item.open-named', { title: data.item.title })}</a
			>
		</p>
	{/if}
	{#if data.inside.length > 0}
		<section class="sheet mt-6 p-5 pt-6" aria-label={words().say('item.inside')}>
			<Outline tree={data.inside} zone={data.site.zone} />
		</section>
	{/if}
{/if}
{#if data.labels.length > 0}
	<p class="mt-6 flex flex-wrap gap-x-4 gap-y-1 text-sm">
		<span class="text-quiet">{words().say('item.more-of')}</span>
		{#each data.labels as { name, path } (path)}<a href={path} class="py-0.5">{name}</a>{/each}
	</p>
{/if}
{#if data.before || data.after}
	<nav class="mt-8 flex flex-wrap justify-between gap-4" aria-label={words().say('item.around')}>
		<span
			>{#if data.before?.address}<Words of="item.before" things={{ title: before }} />{/if}</span
		>
		<span
			>{#if data.after?.address}<Words of="item.next" things={{ title: after }} />{/if}</span
		>
	</nav>
{/if}
