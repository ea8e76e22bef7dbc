<script lang="ts">
	import type { ComponentProps } from 'svelte';
	import ItemGrid from './ItemGrid.svelte';
	import Notice from './Notice.svelte';

	/** What carries a category or a tag, or why that is closed. */
	let {
		name,
		denial,
		items,
		offers,
		otherWays,
		site,
		member,
		path
	}: {
		name: string;
		denial: ComponentProps<typeof Notice>['denial'] | null;
		items: ComponentProps<typeof ItemGrid>['items'];
		offers: ComponentProps<typeof Notice>['plans'];
		otherWays: ComponentProps<typeof Notice>['otherWays'];
		site: { name: string; zone: string };
		member: string | null;
		path: string;
	} = $props();
</script>

<svelte:head><title>{name} · {site.name}</title></svelte:head>

<h1 class="mb-6">{name}</h1>
{#if denial}
	<Notice {denial} title={name} {member} plans={offers} {otherWays} zone={site.zone} {path} />
{:else}
	<ItemGrid {items} zone={site.zone} />
{/if}
