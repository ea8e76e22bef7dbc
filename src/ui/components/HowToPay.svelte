<script lang="ts">
	import Moment from './Moment.svelte';
	import Words from './Words.svelte';
	import { useWords } from '$ui/words';

	/** What somebody has to do who pays without a card. */
	let {
		amountMinor,
		currency,
		number,
		how,
		until,
		zone
	}: {
		amountMinor: number;
		currency: string;
		/** The order's, to be named with it. */
		number: string;
		/** In the publisher's words, a line each. */
		how: string;
		/** How long it is waited for. */
		until: number;
		zone: string;
	} = $props();

	const words = useWords();
</script>

{#snippet day()}<Moment at={until} {zone} />{/snippet}

<dl class="mt-5 grid grid-cols-[auto_1fr] gap-x-6 gap-y-2 border-y border-line py-4">
	<dt class="text-quiet">{words().say('waits.amount')}</dt>
	<dd class="price text-lg font-semibold">{words().money(amountMinor, currency)}</dd>
	<dt class="text-quiet">{words().say('waits.how')}</dt>
	<dd class="whitespace-pre-line">{how}</dd>
	<dt class="text-quiet">{words().say('waits.name')}</dt>
	<dd class="font-semibold">{number}</dd>
	<dt class="text-quiet">{words().say('waits.until')}</dt>
	<dd><Words of="waits.until-day" things={{ day }} /></dd>
</dl>
