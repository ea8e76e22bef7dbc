<script lang="ts">
	import FenceEditor from '$ui/components/FenceEditor.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>New fence · Desk</title></svelte:head>

<FenceEditor
	fence={data.fence}
	id={null}
	revision={1}
	known={data.known}
	choices={data.choices}
	siteTurnAway={data.siteTurnAway}
	zone={data.site.zone}
	{form}
/>
