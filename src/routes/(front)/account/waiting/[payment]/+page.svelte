<script lang="ts">
	import HowToPay from '$ui/components/HowToPay.svelte';
	import Moment from '$ui/components/Moment.svelte';
	import Words from '$ui/components/Words.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
	const title = $derived(words().say('waits.title', { plan: data.planName }));
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

{#snippet day()}<Moment at={data.openUntil ?? 0} zone={data.site.zone} />{/snippet}

<div class="sheet max-w-xl p-6 pt-7">
	<h1>{title}</h1>
	<p class="mt-3">
		{#if data.openUntil !== null}<Words of="waits.due" values={{ plan: data.planName }} things={{ day }} />
		{:else}{words().say('account.to-pay-shut')}{/if}
	</p>
	<HowToPay
		amountMinor={data.amountMinor}
		currency={data.currency}
		number={data.number}
		how={data.how}
		until={data.until}
		zone={data.site.zone}
	/>
	<p class="mt-4"><a href="/account">{words().say('account.back')}</a></p>
</div>
