<script lang="ts" generics="T">
	import type { Snippet } from 'svelte';
	import { enhance } from '$app/forms';
	import { page } from '$app/state';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import ChangedElsewhere from './ChangedElsewhere.svelte';
	import ErrorSummary from './ErrorSummary.svelte';
	import Rehearsal from './Rehearsal.svelte';
	import { Editing, standing } from '../parts/editing.svelte';
	import EditorFoot from '../parts/EditorFoot.svelte';

	/** One form of the Settings: its fields, what it was answered, and its foot. */
	let {
		title,
		part,
		kept,
		revision,
		zone,
		action = '?/save',
		answered,
		onDraw = () => {},
		fields
	}: {
		title: string;
		/** Drafts on this device are known by it. */
		part: string;
		/** What is kept by now. */
		kept: T;
		revision: string;
		zone: string;
		action?: string;
		/** What the page was answered, where it was to this form. */
		answered: unknown;
		/** Draws up what the fields do not hold themselves, from what is kept. */
		onDraw?: (kept: T) => void;
		fields: Snippet<[{ shown: T; errors: Record<string, string[]> }]>;
	} = $props();

	interface Answer {
		errors?: Record<string, string[]>;
		values?: Partial<T>;
		rehearsal?: RehearsalView;
		theirs?: { revision: string; words: string };
	}

	const editing = new Editing(() => onDraw(kept));
	const answer = $derived(editing.of(answered) as Answer | null);
	const errors = $derived(answer?.errors ?? {});
	const given = standing(
		() => editing,
		() => ({ kept, shown: { ...kept, ...answer?.values } })
	);
	$effect(() => onDraw(given.current.kept));
</script>

<form
	method="post"
	{action}
	aria-label={title}
	class="sheet grid max-w-3xl grid-cols-1 gap-4 p-6 pt-7"
	novalidate
	use:enhance={editing.submit}
>
	<h1 class="text-xl">{title}</h1>
	{#if answer?.theirs}<ChangedElsewhere
			theirs={answer.theirs}
			what="these settings"
			href={page.url.pathname}
		/>{/if}
	<ErrorSummary {errors} />
	{#if answer?.rehearsal}<Rehearsal
			rehearsal={answer.rehearsal}
			title="What the change of the site’s settings would do"
			{zone}
			{action}
		/>{/if}
	{#key editing.version}
		{@render fields({ shown: given.current.shown, errors })}
		<EditorFoot {editing} of="settings {part}" {revision} />
	{/key}
</form>
