<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import DeskLink from '$ui/components/DeskLink.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Pager from '$ui/parts/Pager.svelte';
	import { WHY_WORDS } from '$ui/wording/insight';

	let { data } = $props();

	const say = (minor: number) => formatMoney({ minor, currency: data.asked.currency });
	const title = $derived(data.why === null ? 'What moved recurring income' : WHY_WORDS[data.why]);
</script>

<svelte:head><title>{title} · Insight · Desk</title></svelte:head>

<h1 class="text-xl">{title}</h1>
<p class="text-quiet">
	{data.total === 1 ? '1 row' : `${data.total} rows`} from {data.asked.span.from} to {data.asked.span.to}, as
	for a month, without tax.
</p>
<div class="mt-3 overflow-x-auto">
	<table class="w-full min-w-[44rem] tabular-nums">
		<thead>
			<tr class="border-b border-line text-left text-sm text-quiet">
				<th class="py-1.5 pr-4 font-medium">Day</th>
				<th class="py-1.5 pr-4 font-medium">Member</th>
				<th class="py-1.5 pr-4 font-medium">Plan</th>
				{#if data.why === null}<th class="py-1.5 pr-4 font-medium">What</th>{/if}
				<th class="py-1.5 pr-4 text-right font-medium">Before</th>
				<th class="py-1.5 pr-4 text-right font-medium">After</th>
				<th class="py-1.5 font-medium">Order</th>
			</tr>
		</thead>
		<tbody>
			{#each data.rows as row (row.id)}
				<tr class="border-b border-line">
					<td class="py-1.5 pr-4 whitespace-nowrap"><Moment at={row.at} zone={data.site.zone} /></td>
					<td class="py-1.5 pr-4"><DeskLink href="/desk/members/{row.memberId}">{row.name}</DeskLink></td>
					<td class="py-1.5 pr-4">{row.fromPlan === null ? row.plan : `${row.fromPlan}, then ${row.plan}`}</td
					>
					{#if data.why === null}<td class="py-1.5 pr-4">{WHY_WORDS[row.why]}</td>{/if}
					<td class="py-1.5 pr-4 text-right whitespace-nowrap"
						>{row.beforeMinor === 0 ? '–' : say(row.beforeMinor)}</td
					>
					<td class="py-1.5 pr-4 text-right whitespace-nowrap"
						>{row.afterMinor === 0 ? '–' : say(row.afterMinor)}</td
					>
					<td class="py-1.5"><a href="/desk/sales/{row.orderId}">See it</a></td>
				</tr>
			{:else}
				<tr><td class="py-4 text-quiet" colspan="7">Nothing moved it in this span.</td></tr>
			{/each}
		</tbody>
	</table>
</div>
<Pager of="what moved it" total={data.total} pageSize={data.pageSize} />
