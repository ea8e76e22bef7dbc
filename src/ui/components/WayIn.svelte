<script lang="ts">
	import { isCollection, type ResourceKind } from '$core/access/model';
	import type { Verdict } from '$core/access/decision';
	import { formatMoney } from '$core/billing/money';
	import { PERIOD_WORDS } from '$ui/wording/time';
	import StateMark from './StateMark.svelte';

	/** What an entry of the front's lists says of the way in: its state, what stands in it, what opens it and from how much. */
	let {
		entry,
		zone
	}: {
		entry: {
			kind: ResourceKind;
			verdict: Verdict;
			opensAt: number | null;
			opensWith: { name: string; amountMinor: number; currency: string; unit: 'month' | 'year' } | null;
			others: number;
			inside: { open: number; all: number } | null;
		};
		zone: string;
	} = $props();

	const { inside, opensWith } = $derived(entry);
	const counts = $derived(isCollection(entry.kind) && inside !== null && inside.all > 0 ? inside : null);
	const isAllOpen = $derived(counts ? counts.open === counts.all : entry.verdict === 'open');
	const price = $derived(
		opensWith &&
			`${formatMoney({ minor: opensWith.amountMinor, currency: opensWith.currency })} ${PERIOD_WORDS[opensWith.unit]}`
	);
	/** Shut is said by what opens it, and so is that nothing within is open. */
	const isShut = $derived(counts ? counts.open === 0 : entry.verdict === 'shut');
</script>

<span class="flex flex-wrap items-center gap-x-3">
	{#if counts && !isShut}
		<StateMark
			verdict="open"
			isPart={!isAllOpen}
			label={isAllOpen ? `All ${counts.all} open` : `${counts.open} of ${counts.all} open`}
		/>
	{:else if counts}
		<span>{counts.all} inside</span>
	{:else if !isShut}
		<StateMark verdict={entry.verdict} at={entry.opensAt} {zone} />
	{/if}
	{#if !isAllOpen && opensWith}
		<span class={isShut ? '' : 'text-quiet'}>
			{isShut ? 'Opens' : counts ? 'The rest opens' : 'Opens'} with {opensWith.name}, {entry.others > 0
				? 'from '
				: ''}<span class="whitespace-nowrap">{price}</span>
		</span>
	{:else if isShut}
		<span class="text-quiet">For members</span>
	{/if}
</span>
