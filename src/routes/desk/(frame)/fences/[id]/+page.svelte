<script lang="ts">
	import FenceForm from '$ui/components/FenceForm.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>{data.fence.name} · Fences · Desk</title></svelte:head>

{#key data.fence.id}
	<FenceForm
		fence={data.fence}
		items={data.items}
		plans={data.plans}
		defaultNotice={data.defaultNotice}
		errors={form && 'errors' in form ? form.errors : {}}
		values={form && 'values' in form ? form.values : {}}
		saved={form && 'saved' in form ? form.saved : null}
	/>
{/key}
