<script lang="ts">
	import { formatMoney } from '$core/billing/money';
	import Moment from '$ui/components/Moment.svelte';

	let { data } = $props();

	const receipt = $derived(data.receipt);
	const isBack = $derived(receipt.kind === 'refund' || receipt.kind === 'dispute');
	const money = (minor: number) => formatMoney({ minor, currency: receipt.currency });
</script>

<svelte:head><title>Receipt {receipt.number} · {data.site.name}</title></svelte:head>

<article class="sheet max-w-xl p-6 pt-7">
	<h1>{isBack ? 'Refund' : 'Receipt'} {receipt.number}</h1>
	<p class="text-quiet"><Moment at={receipt.issuedAt} zone={data.site.zone} /></p>
	<dl class="mt-4 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
		<dt class="text-quiet">Seller</dt>
		<dd>{receipt.content.seller.name}</dd>
		<dt class="text-quiet">Buyer</dt>
		<dd>{receipt.content.buyer.name}, {receipt.content.buyer.email}</dd>
		<dt class="text-quiet">Card statement</dt>
		<dd>{receipt.content.seller.statementName}</dd>
	</dl>
	<table class="mt-4 w-full">
		<tbody>
			{#each receipt.content.lines as line, i (i)}
				<tr class="border-t border-line">
					<td class="py-2">{line.text}</td>
					<td class="py-2 text-right">{money(line.amountMinor)}</td>
				</tr>
			{/each}
			<tr class="border-t-2 border-ink font-semibold">
				<td class="py-2">{isBack ? 'Given back' : 'Paid'}</td>
				<td class="py-2 text-right">{money(receipt.amountMinor)}</td>
			</tr>
		</tbody>
	</table>
	<p class="mt-4 print:hidden"><a href="/account">Back to your account</a></p>
</article>
