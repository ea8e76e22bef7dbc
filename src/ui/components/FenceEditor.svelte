<script lang="ts">
	/** Puts up a fence, or changes one: what it catches is seen at once, and what a save would do before it is done. */
	import { untrack, type ComponentProps } from 'svelte';
	import { enhance } from '$app/forms';
	import { type Audience, type Fence, type NamedMember, type TurnAway } from '$core/access/model';
	import TextField from '$ui/fields/TextField.svelte';
	import SwitchField from '$ui/fields/SwitchField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import type { Terms } from '$core/billing/terms';
	import type { Editing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import Sent from '$ui/fields/Sent.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import { answerDraft, crossingDraft, fenceDraft, sentFence, type FencePreview } from '$ui/fence-draft';
	import { MODE_WORDS } from '$ui/wording/library';
	import { namesOf } from '$ui/names';
	import Fold from '$ui/parts/Fold.svelte';
	import DeskLink from './DeskLink.svelte';
	import CrossingInput from './CrossingInput.svelte';
	import ErrorSummary from './ErrorSummary.svelte';
	import Rehearsal from './Rehearsal.svelte';
	import Saved from './Saved.svelte';
	import SelectorInput from './SelectorInput.svelte';
	import TurnedAwayPicture from './TurnedAwayPicture.svelte';
	import TurnAwayInput from './TurnAwayInput.svelte';

	let {
		fence,
		id,
		revision,
		known,
		choices,
		named = [],
		members = {},
		siteTurnAway,
		zone,
		editing,
		form: answered
	}: {
		fence: Omit<Fence, 'id' | 'createdAt'>;
		/** `null` for a new one. */
		id: string | null;
		revision: number;
		known: Parameters<typeof namesOf>[0];
		choices: {
			plans: { id: string; name: string; terms: Terms }[];
			/** On members. */
			labels: { id: string; name: string }[];
			categories: { id: string; name: string }[];
			tags: { id: string; name: string }[];
			batches: { id: string; name: string }[];
		};
		/** The members that its crossings name. */
		named?: NamedMember[];
		/** And what these are called. */
		members?: Record<string, string>;
		siteTurnAway: TurnAway;
		zone: string;
		editing: Editing;
		form: {
			errors?: Record<string, string[]>;
			saved?: string;
			rehearsal?: ComponentProps<typeof Rehearsal>['rehearsal'];
			theirs?: { name: string; isOn: boolean; words: string; revision: number };
		} | null;
	} = $props();

	const form = $derived(editing.of(answered));
	let draft = $state(untrack(() => fenceDraft(fence, named, siteTurnAway, zone)));
	let fresh = $state(untrack(() => ({ ...members })));
	const names = $derived.by(() => {
		const own = namesOf(known, zone);
		return { ...own, resource: (one: string) => fresh[one] ?? own.resource(one) };
	});
	const errors = $derived(form?.errors ?? {});
	const sent = $derived(JSON.stringify(sentFence(draft)));

	const AUDIENCE_WORDS = $derived<Record<Audience['kind'], string>>({
		holders: choices.labels.length > 0 ? 'Holders of a plan or label' : 'Holders of a plan',
		'signed-in': 'Everyone signed in',
		anyone: 'Anyone, strangers too',
		named: 'Named members',
		code: 'Holders of a code',
		'may-open': 'Whoever may open something else'
	});
	let preview = $state<FencePreview | null>(null);
	const meets = $derived(preview?.meets ?? []);
	const first = $derived(meets[0]);
	/** As most are turned away. */
	const shownAnswer = $derived(
		draft.hasOwnTurnAway ? draft.turnAway.answer : answerDraft(siteTurnAway.answer)
	);
	const shownPlans = $derived.by(() => {
		const ids = new Set(
			draft.crossings.flatMap(({ audience }) => (audience.kind === 'holders' ? audience.planIds : []))
		);
		return choices.plans.filter((plan) => ids.has(plan.id));
	});
	/** Set while a save is worked out, which takes a moment where there are very many members. */
	let stopSaving = $state<(() => void) | null>(null);

	function addCrossing(kind: Audience['kind']) {
		const audiences: Record<Audience['kind'], Audience> = {
			holders: { kind: 'holders', planIds: [] },
			'signed-in': { kind: 'signed-in' },
			anyone: { kind: 'anyone' },
			named: { kind: 'named' },
			code: { kind: 'code', batchId: '' },
			'may-open': { kind: 'may-open', resourceId: '' }
		};
		draft.crossings.push(crossingDraft(audiences[kind], zone));
	}
</script>

{#snippet meeting()}
	<div class="grid gap-2">
		{#if first}
			<p>
				<DeskLink href="/desk/fences/{first.id}" class="font-medium">{first.name}</DeskLink> also catches
				{first.count === preview?.total
					? 'this'
					: first.count === 1
						? 'one of these'
						: `${first.count} of these`}{preview?.total === 1
					? ''
					: `, such as “${first.example}”`}{meets.length > 1
					? `; so do ${meets
							.slice(1)
							.map(({ name }) => name)
							.join(', ')}`
					: ''}.
			</p>
		{/if}
		<RadioField
			label={first ? 'Those whom it lets in' : 'Those whom wider fences let in, if there are any'}
			options={(['replaces', 'adds'] as const).map((mode) => ({
				value: mode,
				label: MODE_WORDS[mode].label,
				detail: MODE_WORDS[mode].means
			}))}
			bind:value={
				() => (draft.mode === 'adds' ? 'adds' : 'replaces'),
				(to) => (draft.mode = to === 'adds' ? 'adds' : 'replaces')
			}
		/>
		{#if draft.mode !== 'adds'}
			<Fold label="More" isOpen={draft.mode === 'seals'}>
				<CheckField
					label={MODE_WORDS.seals.label}
					hint={MODE_WORDS.seals.means}
					bind:checked={
						() => draft.mode === 'seals', (isSealed) => (draft.mode = isSealed ? 'seals' : 'replaces')
					}
				/>
			</Fold>
		{/if}
	</div>
{/snippet}

<form
	method="post"
	action="?/save"
	class="sheet grid gap-6 p-6 pt-7"
	novalidate
	use:enhance={(sending) => {
		const answer = editing.submit(sending);
		stopSaving = () => (sending.controller.abort(), editing.stop());
		return async (result) => {
			stopSaving = null;
			await (
				await answer
			)?.(result);
		};
	}}
>
	<div class="hidden" data-field="fence" data-label="The fence"><Sent name="fence" value={sent} /></div>
	<div class="flex flex-wrap items-baseline justify-between gap-3">
		<h2>{id ? draft.name : 'A new fence'}</h2>
		<SwitchField label="On" bind:checked={draft.isOn} />
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
	{#if form?.rehearsal}<Rehearsal
			rehearsal={form.rehearsal}
			title={id ? `What the change of “${draft.name}” would do` : `What putting up “${draft.name}” would do`}
			{zone}
			action="?/save"
		/>{/if}
	<TextField id="name" label="Name" {errors} bind:value={draft.name} />

	<SelectorInput bind:selector={draft.selector} {id} {names} {choices} bind:fresh bind:preview {errors} />

	<fieldset id="crossings" class="grid gap-3">
		<legend class="question">Who gets in?</legend>
		{#each draft.crossings as crossing, n (crossing.key)}
			<CrossingInput
				bind:crossing={draft.crossings[n]!}
				{n}
				{names}
				{choices}
				bind:fresh
				{errors}
				onTakenAway={() => draft.crossings.splice(n, 1)}
			/>
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

	{#if meets.length > 0 || draft.mode !== 'replaces'}{@render meeting()}{/if}

	<fieldset id="turnAway" class="grid gap-3">
		<legend class="question">What do others see?</legend>
		<div class="grid items-start gap-5 @4xl:grid-cols-[1fr_20rem]">
			<div class="grid gap-3">
				<RadioField
					label="What everybody else gets"
					hidesLabel
					options={[
						{ value: 'site', label: 'What the site gives by default', detail: 'It is set under Settings.' },
						{ value: 'own', label: 'Something of its own' }
					]}
					bind:value={
						() => (draft.hasOwnTurnAway ? 'own' : 'site'), (to) => (draft.hasOwnTurnAway = to === 'own')
					}
				/>
				{#if draft.hasOwnTurnAway}
					<div class="ml-6"><TurnAwayInput bind:turnAway={draft.turnAway} {errors} /></div>
				{/if}
				<CheckField
					label="Leave it out of lists for those who may not open it"
					bind:checked={
						() => draft.listing === 'left-out', (isOut) => (draft.listing = isOut ? 'left-out' : 'shown')
					}
				/>
			</div>
			<TurnedAwayPicture
				answer={shownAnswer}
				title={preview?.items[0]?.title ?? null}
				plans={shownPlans}
				otherWays={{
					code: draft.crossings.some(({ audience }) => audience.kind === 'code'),
					account: draft.crossings.some(({ audience }) => audience.kind === 'signed-in')
				}}
				{zone}
			/>
		</div>
	</fieldset>
	{#if meets.length === 0 && draft.mode === 'replaces'}
		<Fold label="More: how it stands to wider fences">{@render meeting()}</Fold>
	{/if}
	{#if stopSaving}
		<p class="flex flex-wrap items-center gap-3">
			<span role="status">Working out what this would do.</span>
			<button type="button" class="button-quiet" onclick={() => (stopSaving?.(), (stopSaving = null))}
				>Stop</button
			>
		</p>
	{/if}
	<EditorFoot
		{editing}
		of="fence {id ?? 'new'}"
		{revision}
		keep={id ? 'Keep it' : 'Put up the fence'}
		isHeld={stopSaving !== null}
	/>
</form>
