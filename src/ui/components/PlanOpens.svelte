<script lang="ts">
	/** What a plan opens: everything, or what is chosen for it. The fences are written for it. */
	import { untrack } from 'svelte';
	import { enhance } from '$app/forms';
	import type { ResourceKind } from '$core/access/model';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import RadioField from '$ui/fields/RadioField.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import { Editing, standing } from '$ui/parts/editing.svelte';
	import ChosenThings from './ChosenThings.svelte';
	import Rehearsal from './Rehearsal.svelte';

	interface Chosen {
		id: string;
		title: string;
		kind: ResourceKind;
	}

	let {
		planId,
		planName,
		isEverything,
		chosen,
		zone,
		problem = null,
		rehearsal = null
	}: {
		planId: string;
		planName: string;
		isEverything: boolean;
		chosen: Chosen[];
		zone: string;
		problem?: string | null;
		rehearsal?: RehearsalView | null;
	} = $props();

	const editing = new Editing();
	const given = standing(
		() => editing,
		() => ({ how: isEverything ? 'everything' : 'chosen', chosen })
	);
	let how = $state(untrack(() => given.current.how));
	let picked = $state<Chosen[]>(untrack(() => [...given.current.chosen]));
	$effect.pre(() => {
		const { current } = given;
		untrack(() => {
			how = current.how;
			picked = [...current.chosen];
		});
	});

	const sent = $derived(JSON.stringify(picked));
</script>

<form method="post" action="?/opens" class="mt-3 grid gap-3" use:enhance={editing.submit}>
	<RadioField
		label="This plan opens"
		hidesLabel
		name="how"
		options={[
			{ value: 'everything', label: 'Everything' },
			{ value: 'chosen', label: 'What I choose' }
		]}
		bind:value={how}
	>
		{#snippet under(value)}
			{#if value === 'everything'}<p class="text-sm text-quiet">
					All that is in the Library, now and later, past every narrower fence but one that seals itself off.
					What is open to anyone stays open to anyone.
				</p>
			{:else}
				<ChosenThings
					bind:picked
					label="What {planName} opens"
					adds="Add something that it opens"
					group={(kind) => `The ${kind} with all that is in it, later too`}
				/>
			{/if}
		{/snippet}
	</RadioField>
	{#if how === 'everything'}<input type="hidden" name="chosen" value={sent} />{/if}
	{#if editing.of(problem)}<p role="alert" class="font-medium text-brick">{problem}</p>{/if}
	{#if editing.of(rehearsal)}<Rehearsal
			rehearsal={rehearsal!}
			title={how === 'everything'
				? `What “${planName} opens everything” would do`
				: `What “${planName} opens what I choose” would do`}
			{zone}
			action="?/opens"
		/>{/if}
	<EditorFoot {editing} of="plan-opens {planId}" />
</form>
