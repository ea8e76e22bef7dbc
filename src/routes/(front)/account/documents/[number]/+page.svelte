<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();

	const paper = $derived(data.document);
	const title = $derived(words().say(`document.${paper.kind}`, { number: paper.number }));
	const money = (minor: number) => words().money(minor, paper.currency);
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

<article class="sheet max-w-xl p-6 pt-7">
	<h1>{title}</h1>
	<p class="text-quiet"><Moment at={paper.issuedAt} zone={data.site.zone} /></p>
	<dl class="mt-4 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
		<dt class="text-quiet">{words().say('document.seller')}</dt>
		<dd class="whitespace-pre-line">
			{[
				paper.content.seller.name,
				...(paper.content.seller.address ? [paper.content.seller.address] : []),
				...(paper.content.seller.taxNumber
					? [words().say('document.tax-number', { number: paper.content.seller.taxNumber })]
					: [])
			].join('\n')}
		</dd>
		<dt class="text-quiet">{words().say('document.buyer')}</dt>
		<dd>{paper.content.buyer.name}, {paper.content.buyer.email}</dd>
		<dt class="text-quiet">{words().say('document.statement')}</dt>
		<dd>{paper.content.seller.statementName}</dd>
		{#if paper.corrects}
			<dt class="text-quiet">{words().say('document.corrects')}</dt>
			<dd><a href="/account/documents/{paper.corrects}">{paper.corrects}</a></dd>
		{/if}
		{#if paper.corrections.length > 0}
			<dt class="text-quiet">{words().say('document.corrected')}</dt>
			<dd>
				{#each paper.corrections as number, n (number)}{n > 0 ? ', ' : ''}<a
						href="/account/documents/{number}">{number}</a
					>{/each}
			</dd>
		{/if}
	</dl>
	<table class="mt-4 w-full">
		<tbody>
			{#each paper.content.lines as line, i (i)}
				<tr class="border-t border-line">
					<td class="py-2">
						{line.kind === 'fee' ? words().say('document.fee', { plan: line.text }) : line.text}
						{#if line.period}
							<span class="block text-sm text-quiet"
								>{words().say('document.period', {
									from: words().day(line.period.from, data.site.zone),
									through: words().day(line.period.through - 1, data.site.zone)
								})}</span
							>
						{/if}
						{#if line.discountMinor}
							<span class="block text-sm text-quiet"
								>{words().say('document.discount', {
									amount: money(line.amountMinor + line.discountMinor),
									off: money(line.discountMinor)
								})}</span
							>
						{/if}
					</td>
					<td class="py-2 text-right">{money(line.amountMinor)}</td>
				</tr>
			{/each}
			<tr class="border-t-2 border-ink font-semibold">
				<td class="py-2"
					>{words().say(paper.kind === 'credit-note' ? 'document.refunded' : 'document.paid')}</td
				>
				<td class="py-2 text-right">{money(paper.amountMinor)}</td>
			</tr>
		</tbody>
	</table>
	<p class="mt-4 flex flex-wrap items-center gap-x-5 gap-y-2 print:hidden">
		<a class="button-quiet" href="/account/documents/{paper.number}/pdf" download
			>{words().say('document.pdf')}</a
		>
		<a href="/account">{words().say('account.back')}</a>
	</p>
</article>
