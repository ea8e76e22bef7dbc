<script lang="ts">
	/** Puts up a fence, or changes one: what it catches is seen at once, and what a save would do before it is done. */
	import { untrack, type ComponentProps } from 'svelte';
	import { enhance } from '$app/forms';
	import {
		FENCE_MODES,
		RESOURCE_KINDS,
		SELECTOR_KINDS,
		STANDINGS,
		type Audience,
		type Fence,
		type Selector,
		type Standing,
		type TurnAway
	} from '$core/access/model';
	import { answerDraft, crossingDraft, fenceDraft, sentFence, sentSelector } from '$ui/fence-draft';
	import { audienceWords, findingWords, type FindingWords } from '$ui/wording/fence';
	import { KIND_WORDS, MODE_WORDS } from '$ui/wording/library';
	import { namesOf } from '$ui/names';
	import AnswerInput from './AnswerInput.svelte';
	import Field from './Field.svelte';
	import ErrorSummary from './ErrorSummary.svelte';
	import LimitsInput from './LimitsInput.svelte';
	import Picker from './Picker.svelte';
	import Rehearsal from './Rehearsal.svelte';
	import Saved from './Saved.svelte';
	import WindowInput from './WindowInput.svelte';

	let {
		fence,
		id,
		revision,
		known,
		choices,
		siteTurnAway,
		zone,
		form
	}: {
		fence: Omit<Fence, 'id' | 'createdAt'>;
		/** `null` for a new one. */
		id: string | null;
		revision: number;
		known: Parameters<typeof namesOf>[0];
		choices: {
			plans: { id: string; name: string }[];
			categories: { id: string; name: string }[];
			tags: { id: string; name: string }[];
			batches: { id: string; name: string }[];
		};
		siteTurnAway: TurnAway;
		zone: string;
		form: {
			errors?: Record<string, string[]>;
			saved?: string;
			rehearsal?: ComponentProps<typeof Rehearsal>['rehearsal'];
			theirs?: { name: string; isOn: boolean; words: string; revision: number };
		} | null;
	} = $props();

	let draft = $state(untrack(() => fenceDraft(fence, siteTurnAway, zone)));
	let fresh = $state<Record<string, string>>({});
	const names = $derived.by(() => {
		const own = namesOf(known, zone);
		return { ...own, resource: (one: string) => fresh[one] ?? own.resource(one) };
	});
	const errors = $derived(form?.errors ?? {});
	const sent = $derived(JSON.stringify(sentFence(draft)));

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
	const AUDIENCE_WORDS: Record<Audience['kind'], string> = {
		holders: 'Holders of a plan',
		'signed-in': 'Everyone signed in',
		anyone: 'Anyone, strangers too',
		named: 'Named members',
		code: 'Holders of a code',
		'may-open': 'Whoever may open something else'
	};
	const CASE_WORDS: Record<Standing, string> = {
		stranger: 'Strangers',
		'without-plan': 'Members without the plan',
		lapsed: 'Those whose plan has lapsed',
		'too-early': 'Those who are too early',
		over: 'Those whose time is over',
		'used-up': 'Those who have used it up'
	};

	interface Preview {
		message: string | null;
		items: { id: string; title: string; kind: string; address: string | null; isNew: boolean }[];
		lost: { id: string; title: string }[];
		total: number;
		findings: FindingWords[];
		tested: string | null;
	}
	/** Set while a save is worked out, which takes a moment where there are very many members. */
	let stopSaving = $state<(() => void) | null>(null);
	let preview = $state<Preview | null>(null);
	let test = $state('');
	let asked = 0;

	/** What the fence as it stands in the editor would catch: asked a moment after the last change. */
	$effect(() => {
		const body = JSON.stringify({ id, selector: sentSelector(draft.selector), test });
		const mine = ++asked;
		const timer = setTimeout(async () => {
			const response = await fetch('/desk/fences/preview', {
				method: 'POST',
				body,
				headers: { 'content-type': 'application/json' }
			});
			if (!response.ok || mine !== asked) return;
			const found = await response.json();
			preview = {
				...found,
				findings: found.findings.map((one: Parameters<typeof findingWords>[0]) => findingWords(one, names))
			};
		}, 250);
		return () => clearTimeout(timer);
	});

	function addCrossing(kind: Audience['kind']) {
		const first = choices.plans[0]?.id;
		const audiences: Record<Audience['kind'], Audience> = {
			holders: { kind: 'holders', planIds: first ? [first] : [] },
			'signed-in': { kind: 'signed-in' },
			anyone: { kind: 'anyone' },
			named: { kind: 'named', members: [] },
			code: { kind: 'code', batchId: choices.batches[0]?.id ?? '' },
			'may-open': { kind: 'may-open', resourceId: '' }
		};
		draft.crossings.push(crossingDraft(audiences[kind], zone));
	}

	function toggled(list: string[], one: string, isIn: boolean): string[] {
		return isIn ? [...list, one] : list.filter((other) => other !== one);
	}
</script>

<form
	method="post"
	action="?/save"
	class="sheet grid gap-6 p-6 pt-7"
	novalidate
	use:enhance={({ controller }) => {
		stopSaving = () => controller.abort();
		return async ({ update }) => {
			stopSaving = null;
			await update({ reset: false });
		};
	}}
>
	<input type="hidden" name="fence" value={sent} />
	<input type="hidden" name="revision" value={revision} />
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h2>{id ? draft.name : 'A new fence'}</h2>
		<label class="flex items-center gap-2"><input type="checkbox" bind:checked={draft.isOn} /> On</label>
	</div>
	<Saved text={form?.saved} />
	<ErrorSummary {errors} />
	{#if form?.theirs}
		<div role="alert" class="rounded-sheet border-l-4 border-gorse bg-gorse-wash px-4 py-3">
			<p class="font-medium">
				Somebody else saved this fence while you were editing it. Nothing of yours is lost.
			</p>
			<p>Now it is “{form.theirs.name}”, {form.theirs.isOn ? 'on' : 'off'}: {form.theirs.words}</p>
			<p class="mt-2 flex flex-wrap gap-3">
				<button class="button-quiet" name="overwrite" value={form.theirs.revision}>Save mine over it</button>
				<a class="button-quiet" href="/desk/fences/{id}" data-sveltekit-reload>Take theirs</a>
			</p>
		</div>
	{/if}
	{#if form?.rehearsal}<Rehearsal rehearsal={form.rehearsal} {zone} />{/if}
	<Field name="name" label="Name" {errors}>
		{#snippet children(props)}<input
				class="input"
				{...props}
				bind:value={draft.name}
				name={undefined}
			/>{/snippet}
	</Field>

	<fieldset id="selector" class="grid gap-3">
		<legend class="mb-1 font-semibold">What it catches</legend>
		<select class="input max-w-96" aria-label="What it catches" bind:value={draft.selector.kind}>
			{#each SELECTOR_KINDS as kind (kind)}<option value={kind}>{SELECTOR_WORDS[kind]}</option>{/each}
		</select>
		{#if draft.selector.kind === 'items'}
			<Picker
				label="Add an item"
				kinds="item,collection"
				placeholder="Add an item: type its name"
				onChoose={(found) => {
					fresh[found.id] = found.label;
					if (!draft.selector.itemIds.includes(found.id)) draft.selector.itemIds.push(found.id);
				}}
			/>
			<ul class="flex flex-wrap gap-2" aria-label="Items picked by hand">
				{#each draft.selector.itemIds as itemId (itemId)}
					<li class="flex items-center gap-2 rounded-sheet border border-line bg-sunk px-2 py-1">
						{names.resource(itemId)}
						<button
							type="button"
							class="cursor-pointer underline"
							onclick={() => (draft.selector.itemIds = toggled(draft.selector.itemIds, itemId, false))}
							>Remove<span class="sr-only"> {names.resource(itemId)}</span></button
						>
					</li>
				{/each}
			</ul>
		{:else if draft.selector.kind === 'within'}
			<Picker
				label="The collection or page"
				kinds="collection,page"
				placeholder={draft.selector.collectionId
					? names.resource(draft.selector.collectionId)
					: 'A course, section, show, shelf or page'}
				onChoose={(found) => {
					fresh[found.id] = found.label;
					draft.selector.collectionId = found.id;
				}}
			/>
			{#if draft.selector.collectionId}<p>
					Chosen: <strong>{names.resource(draft.selector.collectionId)}</strong>
				</p>{/if}
			<label class="flex items-center gap-2"
				><input type="checkbox" bind:checked={draft.selector.withPage} /> Its own page too</label
			>
			<label class="grid max-w-96 gap-1"
				><span>Only files that end in (all, if empty)</span>
				<input class="input" placeholder="pdf, zip" bind:value={draft.selector.extensions} /></label
			>
		{:else if draft.selector.kind === 'category'}
			<select class="input max-w-96" aria-label="Category" bind:value={draft.selector.categoryId}>
				<option value="">Choose</option>
				{#each choices.categories as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
			</select>
		{:else if draft.selector.kind === 'tag'}
			<select class="input max-w-96" aria-label="Tag" bind:value={draft.selector.tagId}>
				<option value="">Choose</option>
				{#each choices.tags as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
			</select>
		{:else if draft.selector.kind === 'kind'}
			<select class="input max-w-96" aria-label="Kind" bind:value={draft.selector.itemKind}>
				{#each RESOURCE_KINDS as kind (kind)}<option value={kind}>{KIND_WORDS[kind].many}</option>{/each}
			</select>
		{:else if draft.selector.kind === 'path' || draft.selector.kind === 'below'}
			<input
				class="input max-w-96"
				aria-label="Path"
				placeholder="/courses/clock"
				bind:value={draft.selector.path}
			/>
		{:else if draft.selector.kind === 'containing'}
			<input
				class="input max-w-96"
				aria-label="Text"
				placeholder="/bench/"
				bind:value={draft.selector.text}
			/>
		{:else if draft.selector.kind === 'pattern'}
			<input
				class="input max-w-96 font-mono"
				aria-label="Pattern"
				placeholder="^/clocks/[0-9]+$"
				bind:value={draft.selector.pattern}
			/>
			<p class="text-sm text-quiet">RE2 syntax. ^ holds on to the beginning of the path, $ to its end.</p>
		{/if}
		{#if errors.selector}<p class="text-sm font-medium text-brick">{errors.selector[0]}</p>{/if}
		<div class="rounded-sheet border border-line bg-sunk p-3" aria-live="polite">
			{#if !preview}<p class="text-quiet">Looking what it catches.</p>
			{:else if preview.message}<p class="text-quiet">{preview.message}</p>
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
						<li class="flex flex-wrap gap-x-3 py-0.5">
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
			<label class="mt-2 flex flex-wrap items-center gap-2 text-sm"
				><span>Does it catch this address?</span>
				<input class="input max-w-72" placeholder="/courses/clock/strike" bind:value={test} />
				{#if preview?.tested}<span class="font-medium">{preview.tested}</span>{/if}</label
			>
		</div>
	</fieldset>

	<fieldset class="grid gap-2">
		<legend class="mb-1 font-semibold">What it does inside wider fences</legend>
		{#each FENCE_MODES as mode (mode)}
			<label class="flex items-baseline gap-2">
				<input type="radio" value={mode} bind:group={draft.mode} />
				<span><strong>{MODE_WORDS[mode].label}.</strong> {MODE_WORDS[mode].means}</span>
			</label>
		{/each}
	</fieldset>

	<fieldset id="crossings" class="grid gap-3">
		<legend class="mb-1 font-semibold">Who may cross</legend>
		{#each draft.crossings as crossing, n (crossing.key)}
			<section
				class="grid gap-3 rounded-sheet border border-line p-4"
				id="crossing-{n}"
				aria-label="Crossing {n + 1}"
			>
				<div class="flex flex-wrap items-baseline justify-between gap-3">
					<h3 class="font-medium">
						{audienceWords(crossing.audience, names).replace(/^./, (c) => c.toUpperCase())}
					</h3>
					<button type="button" class="cursor-pointer underline" onclick={() => draft.crossings.splice(n, 1)}
						>Take away</button
					>
				</div>
				{#if crossing.audience.kind === 'holders'}
					{@const audience = crossing.audience}
					<div class="flex flex-wrap gap-x-5 gap-y-1">
						{#each choices.plans as plan (plan.id)}
							<label class="flex items-center gap-2">
								<input
									type="checkbox"
									checked={audience.planIds.includes(plan.id)}
									onchange={(event) =>
										(audience.planIds = toggled(audience.planIds, plan.id, event.currentTarget.checked))}
								/>
								{plan.name}
							</label>
						{/each}
					</div>
				{:else if crossing.audience.kind === 'named'}
					{@const audience = crossing.audience}
					<Picker
						label="Name a member"
						kinds="member"
						placeholder="Name a member: type a name or address"
						onChoose={(found) => {
							fresh[found.id] = found.label;
							if (!audience.members.some((one) => one.memberId === found.id))
								audience.members = [
									...audience.members,
									{ memberId: found.id, since: undefined as unknown as number }
								];
						}}
					/>
					<ul class="flex flex-wrap gap-2">
						{#each audience.members as one (one.memberId)}
							<li class="flex gap-2 rounded-sheet border border-line bg-sunk px-2 py-1">
								<a href="/desk/members/{one.memberId}">{fresh[one.memberId] ?? 'Member'}</a>
								<button
									type="button"
									class="cursor-pointer underline"
									onclick={() => (audience.members = audience.members.filter((other) => other !== one))}
									>Remove</button
								>
							</li>
						{/each}
					</ul>
				{:else if crossing.audience.kind === 'code'}
					<select class="input max-w-96" aria-label="Codes" bind:value={crossing.audience.batchId}>
						<option value="">Choose</option>
						{#each choices.batches as batch (batch.id)}<option value={batch.id}>{batch.name}</option>{/each}
					</select>
					<p class="text-sm"><a href="/desk/codes">Make codes</a></p>
				{:else if crossing.audience.kind === 'may-open'}
					{@const audience = crossing.audience}
					<Picker
						label="What they may open"
						kinds="item,collection"
						placeholder={audience.resourceId ? names.resource(audience.resourceId) : 'Type its name'}
						onChoose={(found) => {
							fresh[found.id] = found.label;
							audience.resourceId = found.id;
						}}
					/>
				{/if}
				{#if errors[`crossing-${n}`]}<p class="text-sm font-medium text-brick">
						{errors[`crossing-${n}`]?.[0]}
					</p>{/if}
				{#if crossing.audience.kind !== 'may-open'}
					<WindowInput
						bind:window={crossing.window}
						name="crossing-{n}-window"
						datesOnly={crossing.audience.kind === 'anyone'}
						message={errors[`crossing-${n}-window`]?.[0]}
					/>
					{#if crossing.audience.kind !== 'anyone'}
						<details
							open={crossing.limits.uses.kind !== 'none' || errors[`crossing-${n}-limits`] !== undefined}
						>
							<summary class="cursor-pointer text-sm">Limits</summary>
							<div class="mt-2">
								<LimitsInput
									bind:limits={crossing.limits}
									name="crossing-{n}-limits"
									message={errors[`crossing-${n}-limits`]?.[0]}
								/>
							</div>
						</details>
					{/if}
				{/if}
				<label class="flex items-center gap-2 text-sm">
					<input type="checkbox" bind:checked={crossing.isThroughout} /> Throughout: inside every fence within it,
					too
				</label>
			</section>
		{:else}
			<p class="text-quiet">
				Nobody but staff. {draft.selector.kind === 'everything'
					? 'Sign-in, sign-up, plans, checkout, accounts and their own files stay open.'
					: ''}
			</p>
		{/each}
		<div class="flex flex-wrap gap-2">
			{#each Object.entries(AUDIENCE_WORDS) as [kind, label] (kind)}
				<button type="button" class="button-quiet" onclick={() => addCrossing(kind as Audience['kind'])}
					>+ {label}</button
				>
			{/each}
		</div>
	</fieldset>

	<fieldset id="turnAway" class="grid gap-3">
		<legend class="mb-1 font-semibold">What everybody else gets</legend>
		<label class="flex items-baseline gap-2"
			><input type="radio" value={false} bind:group={draft.hasOwnTurnAway} /> What the site gives by default (<a
				href="/desk/settings">Settings</a
			>)</label
		>
		<label class="flex items-baseline gap-2"
			><input type="radio" value={true} bind:group={draft.hasOwnTurnAway} /> Something of its own</label
		>
		{#if draft.hasOwnTurnAway}
			<div class="ml-6 grid gap-3">
				<AnswerInput bind:answer={draft.turnAway.answer} name="turnAway" message={errors.turnAway?.[0]} />
				{#each STANDINGS as standing (standing)}
					{@const own = draft.turnAway.cases[standing]}
					{#if own}
						<div class="rounded-sheet border border-line p-3">
							<div class="mb-2 flex items-baseline justify-between gap-3">
								<h3 class="font-medium">{CASE_WORDS[standing]}</h3>
								<button
									type="button"
									class="cursor-pointer underline"
									onclick={() => delete draft.turnAway.cases[standing]}>Like everybody</button
								>
							</div>
							<AnswerInput
								bind:answer={
									() => draft.turnAway.cases[standing] ?? answerDraft({ kind: 'absent' }),
									(value) => (draft.turnAway.cases[standing] = value)
								}
								name="turnAway-{standing}"
								message={errors[`turnAway-${standing}`]?.[0]}
							/>
						</div>
					{/if}
				{/each}
				<div class="flex flex-wrap items-center gap-2 text-sm">
					<span>Something else for:</span>
					{#each STANDINGS.filter((one) => !draft.turnAway.cases[one]) as standing (standing)}
						<button
							type="button"
							class="button-quiet"
							onclick={() => (draft.turnAway.cases[standing] = answerDraft({ kind: 'notice', text: [] }))}
							>{CASE_WORDS[standing]}</button
						>
					{/each}
				</div>
				<div class="flex flex-wrap items-center gap-2">
					<label for="teaser">Teaser</label>
					<select id="teaser" class="input w-auto" bind:value={draft.turnAway.teaser.kind}>
						<option value="nothing">nothing</option>
						<option value="paragraphs">the first paragraphs</option>
						<option value="seconds">the first seconds</option>
					</select>
					{#if draft.turnAway.teaser.kind !== 'nothing'}
						<input
							class="input w-20 text-right"
							inputmode="numeric"
							aria-label="How many {draft.turnAway.teaser.kind}"
							bind:value={draft.turnAway.teaser.count}
						/>
					{/if}
				</div>
			</div>
		{/if}
		<label class="flex items-center gap-2">
			<input
				type="checkbox"
				checked={draft.listing === 'left-out'}
				onchange={(event) => (draft.listing = event.currentTarget.checked ? 'left-out' : 'shown')}
			/>
			Leave it out of lists for those who may not open it
		</label>
	</fieldset>
	<div class="flex flex-wrap items-center gap-3">
		<button class="button-main" disabled={stopSaving !== null}>{id ? 'Save' : 'Put up the fence'}</button>
		{#if stopSaving}
			<span role="status">Working out what this would do.</span>
			<button type="button" class="button-quiet" onclick={() => (stopSaving?.(), (stopSaving = null))}
				>Stop</button
			>
		{/if}
	</div>
</form>
