<script lang="ts">
	import type { ComponentProps } from 'svelte';
	import { enhance } from '$app/forms';
	import { isBytes, SHOWS_ASSETS } from '$core/library/homes';
	import { editingOf, standing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import { refresh } from '$ui/refresh';
	import MomentField from '$ui/fields/MomentField.svelte';
	import ContentBox from '$ui/components/ContentBox.svelte';
	import CoverBox from '$ui/components/CoverBox.svelte';
	import DependentsList from '$ui/components/DependentsList.svelte';
	import ChangedElsewhere from '$ui/components/ChangedElsewhere.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import OutlineEditor from '$ui/components/OutlineEditor.svelte';
	import HandOn from '$ui/components/HandOn.svelte';
	import ItemFields from '$ui/components/ItemFields.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import SoldAlone from '$ui/components/SoldAlone.svelte';
	import StateMark from '$ui/components/StateMark.svelte';
	import TimeRail from '$ui/components/TimeRail.svelte';
	import Why from '$ui/components/Why.svelte';
	import { joined, namesOf } from '$ui/names';
	import { findsWords } from '$ui/wording/handing-on';
	import { ITEM_WORDS, KIND_WORDS } from '$ui/wording/library';
	import { formatMoment } from '$ui/wording/time';

	let { data, form } = $props();

	/** What somebody is asked about speaks of more than the page does. */
	const asked = $derived((form && 'known' in form ? form.known : null) ?? null);
	const names = $derived(namesOf(joined(data.known, asked), data.site.zone));
	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const itemId = $derived(data.item.id);
	const editing = $derived(editingOf(itemId));
	const editorErrors = $derived(editing.isPutBack ? {} : errors);
	/** What the editor was answered. */
	const answer = $derived(editing.of(form));
	const typed = $derived(
		(answer && 'values' in answer ? answer.values : null) as Record<string, string | string[]> | null
	);
	const rehearsal = $derived(answer && 'rehearsal' in answer ? answer.rehearsal : null);
	const stateRehearsal = $derived(form && 'stateRehearsal' in form ? form.stateRehearsal : null);
	/** What was answered to selling it alone. */
	const alone = $derived(
		(form && 'alone' in form ? form.alone : null) as {
			errors: Record<string, string[]>;
			values: Record<string, string | string[]>;
			rehearsal?: ComponentProps<typeof SoldAlone>['rehearsal'];
		} | null
	);
	const STATE_MOVES: Record<string, string> = {
		published: 'publishing',
		scheduled: 'publishing',
		draft: 'taking back',
		archived: 'archiving'
	};
	const item = $derived(data.item);
	/** The rehearsal that was said yes to, with the last change of its state. */
	let stateAgreedTo = $derived.by<string | null>(() => (void itemId, null));
	const asset = $derived(data.asset);
	const notOpenYet = $derived(
		item.state === 'scheduled' && item.publishAt
			? `Nobody but staff can open it before ${formatMoment(item.publishAt, data.site.zone)}.`
			: `${item.state === 'archived' ? 'It is archived' : 'It is a draft'}: nobody but staff can open it.`
	);
	const isShowing = $derived(item.state === 'published' || item.state === 'scheduled');
	const isReady = $derived(!isBytes(item.kind) || asset?.state === 'ready' || asset?.isShown === true);
	const isPreparing = $derived(
		[asset, data.coming].some((one) => one?.state === 'waiting' || one?.state === 'preparing')
	);
	/** What it is for is what is in it: a page has words of its own first. */
	const isOutline = $derived(data.outline !== null && item.kind !== 'page');
	const isCollection = $derived(['course', 'section', 'show', 'shelf', 'page'].includes(item.kind));
	const text = (name: string, own: string) => (typed ? String(typed[name] ?? '') : own);
	const values = standing(
		() => editing,
		(): ComponentProps<typeof ItemFields>['values'] => ({
			title: text('title', item.title),
			description: text('description', JSON.stringify(data.text)),
			address: text('address', item.address ?? ''),
			home: text('home', item.homeId ?? ''),
			category: text('category', item.categoryId ?? ''),
			tags: typed ? [typed.tags ?? []].flat() : data.tagIds,
			base: text('base', item.base) === 'open' ? 'open' : 'closed',
			fileName: text(
				'fileName',
				item.extension ? `${item.title.replace(/[/\\]/g, ' ')}.${item.extension}` : ''
			),
			target: text('target', item.target ?? ''),
			opensInBrowser: typed ? typed.opensInBrowser === 'yes' : item.opensInBrowser,
			showsPoster: typed ? typed.showsPoster === 'yes' : item.showsPoster
		})
	);

	const handedOn = $derived([
		{ label: 'Address', text: data.origin + item.address },
		{
			label: 'Protected link',
			text: `${data.origin}/sign-in?next=${encodeURIComponent(item.address ?? '')}`,
			hint: 'For members: whoever is not signed in is asked to, and led here.'
		},
		...(item.kind === 'video' || item.kind === 'audio'
			? [
					{
						label: 'To show it on another site',
						text: `<iframe src="${data.origin}/embed/${item.id}" allowfullscreen></iframe>`,
						hint: 'On sites that may show it, see Settings: whoever may not open it sees the notice.'
					}
				]
			: [])
	]);

	$effect(() => {
		if (!isPreparing) return;
		const timer = setInterval(() => void refresh(), 1000);
		return () => clearInterval(timer);
	});
</script>

{#snippet inside(outline: NonNullable<typeof data.outline>)}
	<section class="sheet p-6 pt-7 {isOutline ? 'mb-5' : 'mt-5'}" aria-labelledby="inside">
		<div class="mb-3 flex flex-wrap items-baseline gap-3">
			<h2 id="inside" class="mr-auto">{isOutline ? item.title : 'Pages below it'}</h2>
			<a href="/desk/library?home={item.id}">As a list</a>
			{#if item.kind === 'course'}<DeskLink href="/desk/releases?within={item.id}">Releases</DeskLink>{/if}
		</div>
		<OutlineEditor
			{outline}
			isWide
			limit={data.uploadLimit}
			plans={data.planChoices}
			labels={data.labelChoices}
			now={data.now}
			zone={data.site.zone}
		/>
	</section>
{/snippet}

<svelte:head><title>{item.title} · Library · Desk</title></svelte:head>

{#if data.outline && isOutline}{@render inside(data.outline)}{/if}
<div class="grid items-start gap-5 @6xl:grid-cols-[1fr_22rem]">
	{#key `${item.id} ${editing.version}`}
		<form
			method="post"
			action="?/save"
			class="sheet grid gap-4 p-6 pt-7"
			novalidate
			use:enhance={editing.submit}
		>
			<div class="flex flex-wrap items-baseline justify-between gap-3">
				<h2>{isOutline ? 'About it' : item.title}</h2>
				{#if item.address}<a href={item.address}>See it on the front</a>{/if}
				{#if item.address}<HandOn
						what={item.title}
						lines={handedOn}
						finds={findsWords(data.stranger, names.plan, data.site.zone)}
					/>{/if}
				<span class="font-medium {item.state === 'published' ? 'text-moss' : 'text-gorse'}"
					>{KIND_WORDS[item.kind].one}, {ITEM_WORDS[item.state].toLowerCase()}</span
				>
			</div>
			<Saved text={form && 'saved' in form ? form.saved : null} />
			<ErrorSummary errors={editorErrors} />
			{#if answer && 'theirs' in answer && answer.theirs}<ChangedElsewhere
					theirs={answer.theirs}
					what="this"
					href="/desk/library/{item.id}"
				/>{/if}
			{#if rehearsal}<Rehearsal
					{rehearsal}
					title="What the change of “{item.title}” would do"
					zone={data.site.zone}
					action="?/save"
				/>{/if}
			<input type="hidden" name="kind" value={item.kind} />
			<ItemFields
				kind={item.kind}
				errors={editorErrors}
				places={data.known.resources}
				categories={data.categories}
				tags={data.tags}
				values={values.current}
			/>
			<EditorFoot {editing} of="item {item.id}" revision={data.revision} />
		</form>
	{/key}

	<div class="grid gap-5">
		<section class="sheet p-5 pt-6" aria-labelledby="who">
			<h2 id="who">Who gets in</h2>
			{#if item.state === 'published'}<p class="text-sm text-quiet">Open a mark to see why.</p>
			{:else}
				<p class="font-medium text-gorse">{notOpenYet}</p>
				<p class="text-sm text-quiet">As soon as it is published:</p>
			{/if}
			<dl class="mt-2 grid gap-1.5">
				{#each data.found as { planId, verdict } (planId)}
					<div class="flex flex-wrap items-center justify-between gap-x-3">
						<dt>{planId === null ? 'A stranger' : names.newcomer(planId)}</dt>
						<dd>
							{#if item.state === 'published'}
								<Why
									{verdict}
									ask={{ member: null, plan: planId ?? undefined, item: item.id, at: data.moment.at }}
								/>
							{:else}<StateMark {verdict} />{/if}
						</dd>
					</div>
				{/each}
			</dl>
			<h3 class="mt-3 font-medium">What closes it</h3>
			<ul class="grid gap-1">
				{#each data.fences?.met ?? [] as id (id)}<li>
						<a href="/desk/fences/{id}">{names.fence(id)}</a>
					</li>{/each}
				{#each data.fences?.beyond ?? [] as id (id)}<li>
						<a href="/desk/fences/{id}">{names.fence(id)}</a>
						<span class="text-sm text-quiet">not reached</span>
					</li>{/each}
				{#each data.fences?.off ?? [] as id (id)}<li>
						<a href="/desk/fences/{id}">{names.fence(id)}</a> <span class="text-sm text-gorse">off</span>
					</li>{/each}
			</ul>
			{#if (data.fences?.met.length ?? 0) === 0}
				<p class={item.base === 'closed' ? 'font-medium text-gorse' : ''}>
					{item.base === 'closed'
						? 'No fence lets anybody in: only staff can open it.'
						: 'Nothing: it is open to anyone.'}
				</p>
			{/if}
			<p class="mt-3 flex flex-wrap gap-2">
				<a class="button-quiet" href="/desk/fences/new?item={item.id}">Put a fence on it</a>
				{#if isCollection}<a class="button-quiet" href="/desk/fences/new?within={item.id}"
						>Fence what is in it</a
					>{/if}
				<a class="button-quiet" href="/desk/check?item={item.id}">All members</a>
				{#if data.found.some(({ planId, verdict }) => planId === null && verdict === 'open') && data.areas.includes('/desk/plans')}
					<a class="button-quiet" href="/desk/plans/charge?item={item.id}">Begin to charge for it</a>
				{/if}
			</p>
		</section>
		<section class="sheet p-5 pt-6" aria-labelledby="publish">
			<h2 id="publish">Publish</h2>
			{#if item.state === 'scheduled' && item.publishAt}
				<p class="mt-1">By itself on {formatMoment(item.publishAt, data.site.zone)}.</p>
			{/if}
			<form
				method="post"
				action="?/state"
				class="mt-3 grid gap-3"
				use:enhance={({ formData }) => {
					const agreed = formData.get('agreedTo');
					return async ({ update, result }) => {
						await update({ reset: false });
						stateAgreedTo = result.type === 'success' && typeof agreed === 'string' ? agreed : null;
					};
				}}
			>
				{#if stateAgreedTo}<p class="text-sm">
						<a href="/desk/changes?agreed={stateAgreedTo}">Take it back</a>
					</p>{/if}
				{#if stateRehearsal && form && 'wanted' in form}
					<input type="hidden" name="to" value={form.wanted} />
					<input type="hidden" name="publishAt" value={'publishAt' in form ? String(form.publishAt) : ''} />
					<Rehearsal
						rehearsal={stateRehearsal}
						title="What {STATE_MOVES[String(form.wanted)] ?? 'moving'} “{item.title}” would do"
						zone={data.site.zone}
						action="?/state"
					/>
				{:else}
					{#if isReady && item.state !== 'published'}
						<div class="grid gap-2">
							<button class="button-main justify-self-start" name="to" value="published">Publish</button>
							<MomentField name="publishAt" label="Or by itself, on" {errors} />
							<button class="button-quiet justify-self-start" name="to" value="scheduled">Publish then</button
							>
						</div>
					{:else if !isReady}
						<p class="text-quiet">It can be published as soon as it is prepared.</p>
					{/if}
					{#if item.state !== 'archived'}<DependentsList {...data.dependents} {names} />{/if}
					<div class="flex flex-wrap gap-2">
						{#if isShowing}<button class="button-quiet" name="to" value="draft">Take back to a draft</button
							>{/if}
						{#if item.state !== 'archived'}<button class="button-quiet" name="to" value="archived"
								>Archive</button
							>
						{:else}<button class="button-quiet" name="to" value="draft">Bring back as a draft</button>{/if}
					</div>
				{/if}
			</form>
		</section>
		{#if item.address && data.may.includes('plans') && data.may.includes('fences')}
			<section class="sheet p-5 pt-6" aria-labelledby="alone">
				<h2 id="alone">Sold alone</h2>
				<p class="text-sm text-quiet">
					{data.sold
						? 'A plan of its own opens it, and nothing else.'
						: `Whoever wants only this ${KIND_WORDS[item.kind].one.toLowerCase()} buys it where they are turned away from it.`}
				</p>
				{#key item.id}<SoldAlone
						sold={data.sold}
						title={item.title}
						origin={data.origin}
						currency={data.site.currency}
						currencies={data.currencies}
						zone={data.site.zone}
						errors={alone?.errors ?? {}}
						sent={alone?.values ?? {}}
						rehearsal={alone?.rehearsal ?? null}
					/>{/key}
			</section>
		{/if}
		{#if !asset && item.kind !== 'section'}
			<section class="sheet grid gap-3 p-5 pt-6" aria-labelledby="picture">
				<h2 id="picture">The picture that stands for it</h2>
				<CoverBox itemId={item.id} hasPicture={item.coverKey !== null} hasCover={item.coverKey !== null} />
			</section>
		{/if}
		{#if asset || data.coming || SHOWS_ASSETS.has(item.kind)}
			{#key item.id}
				<ContentBox
					{item}
					{asset}
					coming={data.coming}
					limit={data.uploadLimit}
					message={errors.from?.[0] ?? null}
					wider={(form && 'wider' in form ? form.wider : null) ?? null}
					rehearsal={(form && 'comingRehearsal' in form ? form.comingRehearsal : null) ?? null}
					zone={data.site.zone}
					{names}
				/>
			{/key}
		{/if}
	</div>
</div>
{#if data.outline && !isOutline}{@render inside(data.outline)}{/if}
<TimeRail moment={data.moment} marks={data.marks} zone={data.site.zone} />
