<script lang="ts">
	/** Who pays an earlier price still, and what changing it for them would do. */
	import { enhance } from '$app/forms';
	import { formatMoney } from '$core/billing/money';
	import type { Terms } from '$core/billing/terms';
	import Dialog from '$ui/parts/Dialog.svelte';
	import { useWords } from '$ui/words';
	import { priceText } from '$words/price';

	interface Earlier {
		priceId: string;
		name: string;
		terms: Terms;
		groups: { terms: Terms; count: number; moreMinor: number }[];
		count: number;
		seen: string;
	}

	let {
		earlier,
		form
	}: { earlier: Earlier[]; form: { repriceProblem?: string; repriced?: number } | object | null } = $props();

	const words = useWords();

	let openOf = $state<string | null>(null);
	const chosen = $derived(earlier.find(({ priceId }) => priceId === openOf) ?? null);
	const problem = $derived(form && 'repriceProblem' in form ? form.repriceProblem : null);
	const done = $derived(form && 'repriced' in form ? (form.repriced ?? null) : null);

	const members = (count: number) => (count === 1 ? '1 member' : `${count} members`);

	/** What one of them pays more, or less, each time. */
	function difference(moreMinor: number, { currency }: Terms): string {
		const amount = formatMoney({ minor: Math.abs(moreMinor), currency });
		return moreMinor < 0
			? `${amount} less each time`
			: moreMinor > 0
				? `${amount} more each time`
				: 'as much';
	}
</script>

{#if done !== null}<p role="status" class="mt-3 border-l-3 border-moss bg-moss-wash px-3 py-2">
		It is being changed for {members(done)}. Each is told by mail before it is charged.
	</p>{/if}
{#if problem}<p role="alert" class="mt-3 font-medium text-brick">{problem}</p>{/if}
{#each earlier as { priceId, name, groups } (priceId)}
	<div class="mt-3 border-t border-line pt-3">
		<p class="text-sm">
			{#each groups as { terms, count }, n (n)}{n > 0 ? '; ' : ''}<span class="font-medium"
					>{members(count)}</span
				>
				{count === 1 ? 'pays' : 'pay'} an earlier price{name ? ` of “${name}”` : ''}: {priceText(
					words(),
					terms
				)}{/each}.
		</p>
		<button type="button" class="button-quiet mt-2" onclick={() => (openOf = priceId)}
			>Change it for them…</button
		>
	</div>
{/each}

<Dialog
	title={chosen ? `Change the price for ${members(chosen.count)}?` : ''}
	what="Each pays the new one from the next payment that is at least two weeks away, or half of a shorter period. They are told by mail at once, and again before it is charged, and can cancel until then. It cannot be taken back."
	bind:isOpen={() => chosen !== null, (isOpen) => !isOpen && (openOf = null)}
>
	{#if chosen}
		<table class="w-full">
			<thead>
				<tr class="border-b border-line text-left text-sm text-quiet">
					<th class="py-1.5 pr-4 text-right font-medium">Members</th>
					<th class="py-1.5 pr-4 font-medium">Pay now</th>
					<th class="py-1.5 pr-4 font-medium">Then</th>
					<th class="py-1.5 font-medium">Which is</th>
				</tr>
			</thead>
			<tbody>
				{#each chosen.groups as { terms, count, moreMinor }, n (n)}
					<tr class="border-b border-line last:border-0">
						<td class="price py-1.5 pr-4 text-right">{count}</td>
						<td class="py-1.5 pr-4">{priceText(words(), terms)}</td>
						<td class="py-1.5 pr-4">{priceText(words(), chosen.terms)}</td>
						<td class="py-1.5">{difference(moreMinor, terms)}</td>
					</tr>
				{/each}
			</tbody>
		</table>
		<p class="mt-2 text-sm text-quiet">
			What is taken off for somebody stays taken off. Nobody pays a joining fee or has a first stretch again.
		</p>
		<form
			method="post"
			action="?/reprice"
			class="mt-4 flex flex-wrap justify-end gap-2"
			use:enhance={() =>
				async ({ update }) => {
					await update({ reset: false });
					openOf = null;
				}}
		>
			<input type="hidden" name="price" value={chosen.priceId} />
			<input type="hidden" name="seen" value={chosen.seen} />
			<button type="button" class="button-quiet" onclick={() => (openOf = null)}>Leave it as it is</button>
			<button class="button-main">Change it for {members(chosen.count)}</button>
		</form>
	{/if}
</Dialog>
