<script lang="ts">
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
	const { does, planName: plan, planSlug, waits, isSold } = $derived(data.waiting);
	const asks = $derived(does === 'joins' && !waits && !isSold && !form);
</script>

<svelte:head>
	<title>{words().say('wait.title')} · {data.site.name}</title>
	<meta name="robots" content="noindex" />
</svelte:head>

<div class="sheet grid max-w-xl gap-4 p-6 pt-7">
	<h1>{words().say('wait.title')}</h1>
	<p role={form ? 'status' : undefined}>
		{#if waits}{words().say('wait.waits')}
		{:else if isSold}{words().say('wait.sold', { plan })}
		{:else}{words().say(asks ? 'wait.asks' : 'wait.not', { plan })}{/if}
	</p>
	{#if isSold}
		<p><a class="button-main" href="/plans/{planSlug}">{words().say('wait.buy', { plan })}</a></p>
	{:else if waits}
		<form method="post"><button class="button-quiet">{words().say('wait.end')}</button></form>
	{:else if does === 'joins'}
		<form method="post">
			<input type="hidden" name="wants" value="yes" />
			<button class={asks ? 'button-main' : 'button-quiet'}>{words().say('wait.yes')}</button>
		</form>
	{:else}
		<p><a href="/plans/{planSlug}">{words().say('wait.buy', { plan })}</a></p>
	{/if}
</div>
