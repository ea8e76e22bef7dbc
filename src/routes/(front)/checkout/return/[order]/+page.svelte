<script lang="ts">
	import HowToPay from '$ui/components/HowToPay.svelte';
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
	const title = $derived(
		data.kind === 'waits'
			? words().say('waits.title', { plan: data.waiting.planName })
			: words().say('checkout.not-paid')
	);
</script>

<svelte:head><title>{title} · {data.site.name}</title></svelte:head>

<div class="sheet max-w-xl p-6 pt-7">
	<h1>{title}</h1>
	{#if data.kind === 'waits'}
		{@const { waiting, how } = data}
		{#if waiting.asks !== null}
			<p class="mt-3 border-l-4 border-gorse bg-gorse-wash px-4 py-2" role="status">
				{words().say('waits.confirm', { address: waiting.asks })}
			</p>
		{/if}
		<p class="mt-3">{words().say('waits.text', { plan: waiting.planName })}</p>
		<HowToPay {...waiting} {how} zone={data.site.zone} />
		<p class="mt-4 text-quiet">{words().say('waits.mailed')}</p>
	{:else}
		<p class="mt-2">{words().say('checkout.not-paid-text')}</p>
		<p class="mt-4 flex flex-wrap gap-3">
			{#if data.payUrl}<a class="button-main" href={data.payUrl}>{words().say('checkout.go-on')}</a>{/if}
			<a class="button-quiet" href="/checkout/{data.planSlug}">{words().say('checkout.back')}</a>
		</p>
	{/if}
</div>
