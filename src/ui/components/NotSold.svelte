<script lang="ts">
	import type { Sold } from '$core/billing/plan-access';
	import Moment from './Moment.svelte';
	import Words from './Words.svelte';
	import { useWords } from '$ui/words';

	/** That a plan cannot be bought, and from when on it can. */
	let { sold, zone }: { sold: Sold; zone: string } = $props();

	const words = useWords();
</script>

{#snippet when()}<Moment at={sold.kind === 'later' ? sold.from : 0} {zone} precise />{/snippet}

{#if sold.kind === 'later'}<Words of="plan.sold-later" things={{ when }} />{:else}{words().say(
		sold.kind === 'full' ? 'plan.full' : 'plan.not-on-sale'
	)}{/if}
