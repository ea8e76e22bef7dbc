<script lang="ts">
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();
</script>

<svelte:head><title>{words().say('checkout.not-paid')} · {data.site.name}</title></svelte:head>

<div class="sheet max-w-xl p-6 pt-7">
	<h1>{words().say('checkout.not-paid')}</h1>
	<p class="mt-2">{words().say('checkout.not-paid-text')}</p>
	<p class="mt-4 flex flex-wrap gap-3">
		{#if data.payUrl}<a class="button-main" href={data.payUrl}>{words().say('checkout.go-on')}</a>{/if}
		<a class="button-quiet" href="/checkout/{data.planSlug}">{words().say('checkout.back')}</a>
	</p>
</div>
