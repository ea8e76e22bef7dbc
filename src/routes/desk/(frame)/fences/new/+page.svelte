<script lang="ts">
	import FenceForm from '$ui/components/FenceForm.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>New fence · Desk</title></svelte:head>

<FenceForm
	fence={null}
	preset={data.preset}
	items={data.items}
	plans={data.plans}
	defaultNotice={data.defaultNotice}
	errors={form?.errors}
	values={form?.values}
/>
