<script lang="ts">
	import { Editing } from '$ui/parts/editing.svelte';
	import FenceEditor from '$ui/components/FenceEditor.svelte';

	let { data, form } = $props();

	const editing = new Editing();
</script>

<svelte:head><title>New fence · Desk</title></svelte:head>

{#key editing.version}
	<FenceEditor
		fence={data.fence}
		id={null}
		revision={1}
		known={data.known}
		choices={data.choices}
		siteTurnAway={data.siteTurnAway}
		zone={data.site.zone}
		{editing}
		{form}
	/>
{/key}
