<script lang="ts">
	import { isCollection, type ResourceKind } from '$core/access/model';
	import type { Verdict } from '$core/access/decision';
	import type { Terms } from '$core/billing/terms';
	import { priceText } from '$words/price';
	import StateMark from './StateMark.svelte';
	import { useWords } from '$ui/words';

	/** What an entry of the front's lists says of the way in: its state, what stands in it, what opens it and from how much. */
	let {
		entry,
		zone
	}: {
		entry: {
			kind: ResourceKind;
			verdict: Verdict;
			opensAt: number | null;
			opensWith: { name: string; terms: Terms } | null;
			others: number;
			inside: { open: number; all: number } | null;
		};
		zone: string;
	} = $props();

	const words = useWords();

	const { inside, opensWith } = $derived(entry);
	const counts = $derived(isCollection(entry.kind) && inside !== null && inside.all > 0 ? inside : null);
	const isAllOpen = $derived(counts ? counts.open === counts.all : entry.verdict === 'open');
	const price = $derived(opensWith && priceText(words(), opensWith.terms));
	/** Shut is said by what opens it, and so is that nothing within is open. */
	const isShut = $derived(counts ? counts.open === 0 : entry.verdict === 'shut');
	const opens = $derived(counts && !isShut ? 'state.rest-opens-with' : 'state.opens-with');
</script>

<span class="flex flex-wrap items-center gap-x-3">
	{#if counts && !isShut}
		<StateMark
			verdict="open"
			isPart={!isAllOpen}
			label={isAllOpen
				? words().say('state.all-open', { count: counts.all })
				: words().say('state.some-open', { open: counts.open, count: counts.all })}
		/>
	{:else if counts}
		<span>{words().say('state.inside', { count: counts.all })}</span>
	{:else if !isShut}
		<StateMark verdict={entry.verdict} at={entry.opensAt} {zone} />
	{/if}
	{#if !isAllOpen && opensWith}
		<span class={isShut ? '' : 'text-quiet'}>
			{words().say(entry.others > 0 ? `${opens}-from` : opens, { plan: opensWith.name, price: price ?? '' })}
		</span>
	{:else if isShut}
		<span class="text-quiet">{words().say('state.for-members')}</span>
	{/if}
</span>
