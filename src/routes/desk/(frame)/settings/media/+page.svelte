<script lang="ts">
	import { enhance } from '$app/forms';
	import ChangedElsewhere from '$ui/components/ChangedElsewhere.svelte';
	import DeterrentFields from '$ui/components/DeterrentFields.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import PlacesAsk from '$ui/components/PlacesAsk.svelte';
	import { Editing, standing } from '$ui/parts/editing.svelte';
	import EditorFoot from '$ui/parts/EditorFoot.svelte';
	import PresetForm from '$ui/components/PresetForm.svelte';
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
	const ofPreset = $derived(form && 'presetId' in form ? form.presetId : undefined);
	const own = $derived(ofPreset === undefined && !editing.isPutBack ? errors : {});
</script>

<svelte:head><title>Player and protection · Settings · Desk</title></svelte:head>

<p class="mb-2"><a href="/desk/settings">Settings</a></p>
<h1 class="mb-4">Player and protection</h1>
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
	<section class="grid gap-5" aria-labelledby="presets">
		<h2 id="presets">Player presets</h2>
		{#each data.presets as own (own.id)}
			<PresetForm
				{own}
				errors={ofPreset === own.id ? errors : {}}
				theirs={form && 'theirPreset' in form && ofPreset === own.id ? (form.theirPreset ?? null) : null}
			/>
		{/each}
		<PresetForm
			own={{ id: '', revision: '', name: '', isDefault: data.presets.length === 0, preset: data.fresh }}
			errors={ofPreset === null ? errors : {}}
		/>
	</section>
</div>
