<script lang="ts">
	import { useWords } from '$ui/words';

	let { data } = $props();

	const words = useWords();

	const amount = $derived(words().money(data.totalMinor, data.currency));
</script>

<svelte:head><title>{words().say('thanks.title')} · {data.site.name}</title></svelte:head>

<div class="sheet max-w-xl p-6 pt-7">
	{#if data.isGivenBack}
		<h1>{words().say('thanks.had-already', { plan: data.planName })}</h1>
		<p class="mt-2">{words().say('thanks.had-already-text', { amount })}</p>
	{:else if data.isIn}
		<h1>{words().say('thanks.open', { plan: data.planName })}</h1>
		<p class="mt-2">{words().say('thanks.paid', { amount, number: data.number })}</p>
	{:else}
		<h1>{words().say('thanks.order')}</h1>
		<p class="mt-2">
			{words().say('thanks.order-text', { amount, plan: data.planName, number: data.number })}
		</p>
	{/if}
	{#if data.isIn}
		<p class="mt-5"><a class="button-main" href={data.landing}>{words().say('thanks.open-it')}</a></p>
		<p class="mt-4 text-quiet">
			{words().say('thanks.signed-in', { address: data.email })}
		</p>
	{:else}
		<p class="mt-4">
			{words().say('thanks.mailed', { address: data.email })}
		</p>
		<p class="mt-3"><a href="/sign-in">{words().say('thanks.no-mail')}</a></p>
	{/if}
	<p class="mt-4 text-sm text-quiet">
		{words().say('thanks.statement', { statement: data.site.statementName })}
	</p>
</div>
