<script lang="ts">
	import OutcomesTable from '$ui/components/OutcomesTable.svelte';

	let { data } = $props();
</script>

<svelte:head><title>First stretches and declined cards · Insight · Desk</title></svelte:head>

<div class="flex flex-wrap items-baseline justify-between gap-x-5 gap-y-1">
	<h1 class="text-xl">First stretches and declined cards</h1>
	<a
		href="/desk/insight/outcomes/outcomes.csv?{new URLSearchParams({
			...data.asked.span,
			currency: data.asked.currency
		})}"
		download>As a table (CSV)</a
	>
</div>
<div class="mt-4 grid gap-8 @5xl:grid-cols-2">
	<OutcomesTable
		id="stretches"
		title="First stretches that became paid"
		months={data.stretches}
		currency={data.asked.currency}
		words={{ begun: 'Began', won: 'Paid after', lost: 'Ended', open: 'Running' }}
		empty="No first stretch of another length began in this span."
	>
		First stretches of another length, such as two weeks for 1.00, by the month in which they began. Paid
		after: at least one regular payment came in. The share is of those that are over.
	</OutcomesTable>
	<OutcomesTable
		id="declined"
		title="Declined cards that were made good"
		months={data.declined}
		currency={data.asked.currency}
		words={{ begun: 'Declined', won: 'Made good', lost: 'Given up', open: 'Still tried' }}
		empty="No card was declined for a renewal in this span."
	>
		Renewals whose card was declined, each once, by the month of the first try. Made good: it came in after
		all, by another try, another card or a move. The share is of those that are settled.
	</OutcomesTable>
</div>
