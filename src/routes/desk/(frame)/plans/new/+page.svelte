<script lang="ts">
	import PlanForm from '$ui/components/PlanForm.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>New plan · Desk</title></svelte:head>

<PlanForm
	plan={null}
	offlineName={data.offlineName}
	currencies={data.currencies}
	currency={data.site.currency}
	ladders={data.ladders}
	others={data.plans}
	zone={data.site.zone}
	rehearsal={null}
	errors={form?.errors}
	values={form?.values}
/>
