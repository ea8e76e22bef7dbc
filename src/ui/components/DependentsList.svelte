<script lang="ts">
	import Fold from '$ui/parts/Fold.svelte';

	/** What depends on an item: seen before it is archived. */
	let {
		inside,
		shows,
		fences,
		releases,
		links,
		sends,
		names
	}: {
		inside: { id: string; title: string }[];
		shows: { id: string; title: string }[];
		fences: { id: string; name: string }[];
		releases: string[];
		links: { id: string; title: string }[];
		sends: { id: string | null; name: string }[];
		names: { plan: (id: string) => string };
	} = $props();

	const isFree = $derived(
		inside.length + shows.length + fences.length + releases.length + links.length + sends.length === 0
	);
</script>

{#if !isFree}
	<Fold label="What depends on it">
		<ul class="grid gap-1 text-sm">
			{#each inside as { id, title } (id)}<li>
					<a href="/desk/library/{id}">{title}</a> lives in it
				</li>{/each}
			{#each shows as { id, title } (id)}<li>
					<a href="/desk/library/{id}">{title}</a> shows what it shows
				</li>{/each}
			{#each fences as { id, name } (id)}<li>
					the fence <a href="/desk/fences/{id}">{name}</a> names it
				</li>{/each}
			{#each releases as planId (planId)}<li>
					<a href="/desk/releases?plan={planId}">a release</a> for {names.plan(planId)}
				</li>{/each}
			{#each links as { id, title } (id)}<li>
					<a href="/desk/library/{id}">{title}</a> links to it
				</li>{/each}
			{#each sends as { id, name } (id)}<li>
					<a href={id === null ? '/desk/settings/access' : `/desk/fences/${id}`}>{name}</a> leads people to it,
					when they are turned away
				</li>{/each}
		</ul>
	</Fold>
{/if}
