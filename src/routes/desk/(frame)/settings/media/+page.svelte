<script lang="ts">
	import { enhance } from '$app/forms';
	import ChangedElsewhere from '$ui/components/ChangedElsewhere.svelte';
	import DeterrentFields from '$ui/components/DeterrentFields.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import PlacesAsk from '$ui/components/PlacesAsk.svelte';
	import { Editing, standing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import WayForm from '$ui/components/WayForm.svelte';
	import Fold from '$ui/parts/Fold.svelte';
	import { wayWords } from '$ui/wording/way';
	import Saved from '$ui/components/Saved.svelte';

	let { data, form } = $props();

	const errors = $derived(
		((form && 'errors' in form ? form.errors : null) ?? {}) as Record<string, string[]>
	);
	const editing = new Editing();
	const deterrents = standing(
		() => editing,
		() => data.deterrents
	);
	const answer = $derived(editing.of(form));
	const savedWay = $derived((form && 'savedWay' in form ? form.savedWay : null) ?? null);
	const ofWay = $derived(form && 'wayId' in form ? form.wayId : undefined);
	const own = $derived(ofWay === undefined && !editing.isPutBack ? errors : {});
</script>

<svelte:head><title>Watching and protection · Settings · Desk</title></svelte:head>

<h1 class="sr-only">Watching and protection</h1>
<Saved text={form && 'saved' in form ? form.saved : null} />
<div class="grid items-start gap-5 @4xl:grid-cols-2">
	<form
		method="post"
		action="?/deterrents"
		class="sheet grid gap-5 p-6 pt-7"
		novalidate
		use:enhance={editing.submit}
	>
		<h2>Against passing things on</h2>
		<p class="text-sm text-quiet">
			All of this deters and none of it prevents: whoever can see a film can film it. It counts for the whole
			site; an item can differ.
		</p>
		{#if answer && 'theirs' in answer && answer.theirs}<ChangedElsewhere
				theirs={answer.theirs}
				what="these settings"
				href="/desk/settings/media"
			/>{/if}
		{#if answer && 'places' in answer && answer.places}<PlacesAsk
				places={answer.places}
				action="?/deterrents"
			/>{/if}
		<ErrorSummary errors={own} />
		{#key editing.version}
			<DeterrentFields values={deterrents.current} errors={own} />
			<EditorFoot {editing} of="deterrents" revision={data.revision} />
		{/key}
	</form>
	<section id="ways" class="sheet grid gap-1 p-6 pt-7" aria-labelledby="ways-of-watching">
		<h2 id="ways-of-watching">Ways of watching</h2>
		<p class="mb-2 text-sm text-quiet">
			What viewers of a film or recording may do, and how much of the controls rests in sight. Each item plays
			in the usual one, or in one that is chosen with it.
		</p>
		<ul class="divide-y divide-line">
			{#each data.ways as own (own.id)}
				<li class="py-3">
					<Fold label={own.name} isOpen={ofWay === own.id}>
						<WayForm
							{own}
							errors={ofWay === own.id ? errors : {}}
							theirs={form && 'theirWay' in form && ofWay === own.id ? (form.theirWay ?? null) : null}
							saved={ofWay === own.id ? savedWay : null}
						/>
					</Fold>
					<p class="pl-5 text-sm text-quiet">
						{#if own.isDefault}<span class="font-medium text-moss">The usual one:</span>{/if}
						{wayWords(own.way)}
					</p>
				</li>
			{/each}
			<li class="py-3">
				<Fold label="Make another" isOpen={ofWay === null && savedWay === null}>
					<!-- What was made stands in the list: the next one begins anew. -->
					{#key data.ways.length}
						<WayForm
							own={{ id: '', revision: '', name: '', isDefault: data.ways.length === 0, way: data.fresh }}
							errors={ofWay === null ? errors : {}}
							saved={ofWay === null ? savedWay : null}
						/>
					{/key}
				</Fold>
			</li>
		</ul>
	</section>
</div>
