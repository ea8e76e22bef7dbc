<script lang="ts">
	import ItemGrid from '$ui/components/ItemGrid.svelte';
	import Notice from '$ui/components/Notice.svelte';

	let { data } = $props();
</script>

<svelte:head><title>{data.name} · {data.site.name}</title></svelte:head>

<h1 class="mb-6">{data.name}</h1>
{#if data.denial}
	<Notice
		denial={data.denial}
		title={data.name}
		member={data.viewer?.name ?? null}
		plans={[]}
		zone={data.site.zone}
		path={data.path}
	/>
{:else}
	<ItemGrid items={data.items} zone={data.site.zone} />
{/if}
