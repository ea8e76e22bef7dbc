<script lang="ts">
	/** Puts up a fence, or changes one: what it catches is seen at once, and what a save would do before it is done. */
	import { untrack, type ComponentProps } from 'svelte';
	import { enhance } from '$app/forms';
	import {
		FENCE_MODES,
		type Audience,
		type Fence,
		type NamedMember,
		type TurnAway
	} from '$core/access/model';
	import TextField from '$ui/fields/TextField.svelte';
	import SwitchField from '$ui/fields/SwitchField.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import type { Editing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import Sent from '$ui/fields/Sent.svelte';
	import CheckField from '$ui/fields/CheckField.svelte';
	import { crossingDraft, fenceDraft, sentFence } from '$ui/fence-draft';
	import { MODE_WORDS } from '$ui/wording/library';
	import { namesOf } from '$ui/names';
	import CrossingInput from './CrossingInput.svelte';
	import ErrorSummary from './ErrorSummary.svelte';
	import Rehearsal from './Rehearsal.svelte';
	import Saved from './Saved.svelte';
	import SelectorInput from './SelectorInput.svelte';
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
			plans: { id: string; name: string }[];
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
	/** Set while a save is worked out, which takes a moment where there are very many members. */
	let stopSaving = $state<(() => void) | null>(null);

	function addCrossing(kind: Audience['kind']) {
		const first = choices.plans[0]?.id;
		const audiences: Record<Audience['kind'], Audience> = {
			holders: { kind: 'holders', planIds: first ? [first] : [] },
			'signed-in': { kind: 'signed-in' },
			anyone: { kind: 'anyone' },
			named: { kind: 'named' },
			code: { kind: 'code', batchId: choices.batches[0]?.id ?? '' },
			'may-open': { kind: 'may-open', resourceId: '' }
		};
		draft.crossings.push(crossingDraft(audiences[kind], zone));
	}
</script>

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
	{#if form?.rehearsal}<Rehearsal rehearsal={form.rehearsal} {zone} action="?/save" />{/if}
	<TextField id="name" label="Name" {errors} bind:value={draft.name} />

	<SelectorInput bind:selector={draft.selector} {id} {names} {choices} bind:fresh {errors} />

	<RadioField
		label="What it does inside wider fences"
		options={FENCE_MODES.map((mode) => ({
			value: mode,
			label: MODE_WORDS[mode].label,
			detail: MODE_WORDS[mode].means
		}))}
		bind:value={() => draft.mode, (to) => (draft.mode = to as typeof draft.mode)}
	/>

	<fieldset id="crossings" class="grid gap-3">
		<legend class="mb-1 font-semibold">Who may cross</legend>
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

	<fieldset id="turnAway" class="grid gap-3">
		<legend class="mb-1 font-semibold">What everybody else gets</legend>
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
	</fieldset>
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
