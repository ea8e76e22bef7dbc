<script lang="ts">
	import Moment from '$ui/components/Moment.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();

	const receipt = $derived(data.receipt);
	const isBack = $derived(receipt.kind === 'refund' || receipt.kind === 'dispute');
	const money = (minor: number) => words().money(minor, receipt.currency);
</script>

<svelte:head
	><title>{words().say('receipt.receipt', { number: receipt.number })} · {data.site.name}</title></svelte:head
>

<article class="sheet max-w-xl p-6 pt-7">
	<h1>{words().say(isBack ? 'receipt.refund' : 'receipt.receipt', { number: receipt.number })}</h1>
	<p class="text-quiet"><Moment at={receipt.issuedAt} zone={data.site.zone} /></p>
	<dl class="mt-4 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
		<dt class="text-quiet">{words().say('receipt.seller')}</dt>
		<dd>{receipt.content.seller.name}</dd>
		<dt class="text-quiet">{words().say('receipt.buyer')}</dt>
		<dd>{receipt.content.buyer.name}, {receipt.content.buyer.email}</dd>
		<dt class="text-quiet">{words().say('receipt.statement')}</dt>
		<dd>{receipt.content.seller.statementName}</dd>
	</dl>
	<table class="mt-4 w-full">
		<tbody>
			{#each receipt.content.lines as line, i (i)}
				<tr class="border-t border-line">
					<td class="py-2">
						{line.kind === 'fee' ? words().say('receipt.fee', { plan: line.text }) : line.text}
					</td>
					<td class="py-2 text-right">{money(line.amountMinor)}</td>
				</tr>
			{/each}
			<tr class="border-t-2 border-ink font-semibold">
				<td class="py-2">{words().say(isBack ? 'receipt.given-back' : 'receipt.paid')}</td>
				<td class="py-2 text-right">{money(receipt.amountMinor)}</td>
			</tr>
		</tbody>
	</table>
	<p class="mt-4 print:hidden"><a href="/account">{words().say('account.back')}</a></p>
</article>
