<script lang="ts">
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();

	const paper = $derived(data.paper);
</script>

<svelte:head><title>{paper.title} · {data.site.name}</title></svelte:head>

<article class="sheet max-w-xl p-6 pt-7">
	<h1>{paper.title}</h1>
	<dl class="mt-4 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
		<dt class="text-quiet">{words().say('document.seller')}</dt>
		<dd class="whitespace-pre-line">{[paper.from.name, ...paper.from.lines].join('\n')}</dd>
		<dt class="text-quiet">{paper.to.label}</dt>
		<dd>{[paper.to.name, ...paper.to.lines].join(', ')}</dd>
		{#each paper.facts as { label, value } (label)}
			<dt class="text-quiet">{label}</dt>
			<dd>
				{#if value === data.corrects}<a href="/account/documents/{value}">{value}</a>{:else}{value}{/if}
			</dd>
		{/each}
		{#if data.corrections.length > 0}
			<dt class="text-quiet">{words().say('document.corrected')}</dt>
			<dd>
				{#each data.corrections as number, n (number)}{n > 0 ? ', ' : ''}<a href="/account/documents/{number}"
						>{number}</a
					>{/each}
			</dd>
		{/if}
	</dl>
	<table class="mt-4 w-full">
		<tbody>
			{#each paper.rows as row, n (n)}
				<tr class="border-t border-line">
					<td class="py-2">
						{row.text}
						{#each row.notes as note (note)}<span class="block text-sm text-quiet">{note}</span>{/each}
					</td>
					<td class="py-2 text-right">{row.amount}</td>
				</tr>
			{/each}
			{#each paper.sums as { label, amount } (label)}
				<tr class="border-t border-line text-quiet">
					<td class="py-2">{label}</td>
					<td class="py-2 text-right">{amount}</td>
				</tr>
			{/each}
			<tr class="border-t-2 border-ink font-semibold">
				<td class="py-2">{paper.total.label}</td>
				<td class="py-2 text-right">{paper.total.amount}</td>
			</tr>
			{#each paper.parts as { label, amount } (label)}
				<tr class="text-quiet">
					<td class="py-1">{label}</td>
					<td class="py-1 text-right">{amount}</td>
				</tr>
			{/each}
		</tbody>
	</table>
	{#each paper.notes as note (note)}<p class="mt-3 text-sm">{note}</p>{/each}
	<p class="mt-4 flex flex-wrap items-center gap-x-5 gap-y-2 print:hidden">
		<a class="button-quiet" href="/account/documents/{data.number}/pdf" download
			>{words().say('document.pdf')}</a
		>
		<a href="/account">{words().say('account.back')}</a>
	</p>
</article>
