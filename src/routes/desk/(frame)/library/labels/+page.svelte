<script lang="ts">
	import { enhance } from '$app/forms';
	import TextField from '$ui/fields/TextField.svelte';
	import HandOn from '$ui/components/HandOn.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import Rehearsal from '$ui/components/Rehearsal.svelte';
	import Saved from '$ui/components/Saved.svelte';

	let { data, form } = $props();

	const KINDS = [
		['category', 'Categories', 'An item has at most one. A category counts for more than a tag.'],
		['tag', 'Tags', 'An item has any number of them.']
	] as const;
	const nameOf = ({ kind, id }: { kind: string; id: string }) =>
		(kind === 'category' ? data.categories : data.tags).find((one) => one.id === id)?.name ?? '';
	const removing = $derived(form && 'removing' in form ? form.removing : null);
</script>

<svelte:head><title>Categories and tags · Library · Desk</title></svelte:head>

<div class="grid gap-5">
	<Saved text={form && 'saved' in form ? form.saved : null} />
	<ErrorSummary errors={(form && 'errors' in form ? form.errors : null) ?? {}} />
	{#if removing}
		<form method="post" action="?/remove" use:enhance>
			<input type="hidden" name="kind" value={removing.kind} />
			<input type="hidden" name="id" value={removing.id} />
			<Rehearsal
				rehearsal={removing.rehearsal}
				title="What removing “{nameOf(removing)}” would do"
				zone={data.site.zone}
				action="?/remove"
			/>
		</form>
	{/if}
	{#each KINDS as [kind, title, hint] (kind)}
		{@const labels = kind === 'category' ? data.categories : data.tags}
		<section class="sheet p-6 pt-7" aria-labelledby={kind}>
			<h2 id={kind}>{title}</h2>
			<p class="text-quiet">{hint}</p>
			<ul class="mt-3 divide-y divide-line">
				{#each labels as label (label.id)}
					{@const path = `/${kind === 'category' ? 'categories' : 'tags'}/${encodeURIComponent(label.slug)}`}
					<li class="flex flex-wrap items-center gap-2 py-2">
						<form
							method="post"
							action="?/rename"
							class="flex grow flex-wrap gap-2"
							use:enhance={() =>
								({ update }) =>
									update({ reset: false })}
						>
							<input type="hidden" name="kind" value={kind} />
							<input type="hidden" name="id" value={label.id} />
							<TextField
								label="Name of {label.name}"
								hidesLabel
								id="name-{label.id}"
								name="name"
								class="max-w-72"
								from={label.name}
							/>
							<button class="button-quiet">Rename</button>
							<button class="button-stop" formaction="?/remove">Remove</button>
						</form>
						<a class="text-sm" href={path}>Its list</a>
						<HandOn
							what={label.name}
							lines={[{ label: 'Address', text: data.origin + path }]}
							finds={data.listed.includes(path)
								? 'a list of what carries it, as far as they may know of it.'
								: 'nothing. It answers as if there were no such page: nothing that carries it is open or listed.'}
						/>
					</li>
				{:else}<li class="py-2 text-quiet">None yet.</li>{/each}
			</ul>
			<form method="post" action="?/make" class="mt-3 flex flex-wrap gap-2" use:enhance>
				<input type="hidden" name="kind" value={kind} />
				<TextField
					label="A new {kind}"
					hidesLabel
					id="new-{kind}"
					name="name"
					class="max-w-72"
					placeholder="A new {kind}"
				/>
				<button class="button-main">Add</button>
			</form>
		</section>
	{/each}
</div>
