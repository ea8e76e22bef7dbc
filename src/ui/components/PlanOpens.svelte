<script lang="ts">
	/** What a plan opens: everything, or what is chosen for it. The fences are written for it. */
	import { untrack } from 'svelte';
	import { enhance } from '$app/forms';
	import type { ResourceKind } from '$core/access/model';
	import type { RehearsalView } from '$core/access/rehearsal-view';
	import { HOLDERS } from '$core/library/homes';
	import Picker from '$ui/fields/Picker.svelte';
	import RadioField from '$ui/fields/RadioField.svelte';
	import Sent from '$ui/fields/Sent.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import { Editing, standing } from '$ui/parts/editing.svelte';
	import { KIND_WORDS } from '$ui/wording/library';
	import KindIcon from './KindIcon.svelte';
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

	const own = $props.id();
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

	const isGroup = (kind: ResourceKind) => HOLDERS.has(kind) && kind !== 'page';
	const sent = $derived(JSON.stringify(picked));

	function add(found: { id: string; kind: string; label: string }) {
		if (picked.some(({ id }) => id === found.id)) return;
		picked.push({ id: found.id, title: found.label, kind: found.kind.toLowerCase() as ResourceKind });
	}

	function putIn([put = '[]']: string[]) {
		picked = JSON.parse(put) as Chosen[];
	}
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
				<div class="grid gap-2" data-field="chosen" data-label="What it opens">
					<Sent name="chosen" value={sent} onPutIn={putIn} />
					<ul class="grid gap-1" aria-label="What {planName} opens" id="{own}-chosen">
						{#each picked as one (one.id)}
							<li class="flex items-center gap-2 rounded-sheet border border-line bg-sunk px-2 py-1">
								<KindIcon kind={one.kind} />
								<span class="min-w-0 grow">
									<span class="block truncate">{one.title}</span>
									{#if isGroup(one.kind)}<span class="block text-sm text-quiet"
											>The {KIND_WORDS[one.kind].one.toLowerCase()} with all that is in it, later too</span
										>{/if}
								</span>
								<button
									type="button"
									class="cursor-pointer underline"
									onclick={() => (picked = picked.filter(({ id }) => id !== one.id))}
									>Remove<span class="sr-only"> {one.title}</span></button
								>
							</li>
						{:else}<li class="text-sm text-quiet">Nothing is chosen here yet.</li>{/each}
					</ul>
					<Picker
						label="Add something that it opens"
						kinds="item,collection"
						placeholder="Add a course, a film, a file: type its name"
						onChoose={add}
					/>
				</div>
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
