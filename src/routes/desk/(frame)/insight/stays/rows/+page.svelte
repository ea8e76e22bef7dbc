<script lang="ts">
	import DeskLink from '$ui/components/DeskLink.svelte';
	import Pager from '$ui/parts/Pager.svelte';
	import { monthWords } from '$ui/wording/insight';

	let { data } = $props();

	const when = $derived(
		data.after === 0 ? 'at its end' : data.after === 1 ? 'a month after' : `${data.after} months after`
	);
</script>

<svelte:head><title>Came in {data.month} · Insight · Desk</title></svelte:head>

<h1 class="text-xl">Came in {monthWords(data.month, 0)}</h1>
<p class="text-quiet">{data.stayed} of {data.total} still paid {when}.</p>
<ul class="mt-3 divide-y divide-line">
	{#each data.rows as { id, name, stays } (id)}
		<li class="flex flex-wrap justify-between gap-x-4 py-1.5">
			<DeskLink href="/desk/members/{id}">{name}</DeskLink>
			<span class={stays ? 'font-medium text-moss' : 'text-slate'}>{stays ? 'Paid' : 'Did not pay'}</span>
		</li>
	{/each}
</ul>
<Pager of="who came" total={data.total} pageSize={data.pageSize} />
