<script lang="ts">
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import OneTimeCodeField from '$ui/fields/OneTimeCodeField.svelte';
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();

	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const query = $derived(data.next ? `next=${encodeURIComponent(data.next)}` : '');
</script>

<svelte:head><title>{words().say('second.ask-title')} · {data.site.name}</title></svelte:head>

<div class="sheet max-w-md p-6 pt-7">
	<h1 class="mb-4">{words().say('second.ask-title')}</h1>
	<form method="post" action="?/code&{query}" class="grid gap-4" novalidate>
		<p>{words().say('second.ask', { site: data.site.name })}</p>
		<ErrorSummary {errors} />
		{#if form && 'isGone' in form}
			<p><a href="/sign-in?{query}">{words().say('site.sign-in')}</a></p>
		{:else}
			<OneTimeCodeField label={words().say('second.code')} hint={words().say('second.ask-hint')} {errors} />
			<button class="button-main justify-self-start">{words().say('second.ask-do')}</button>
		{/if}
	</form>
	<form method="post" action="?/other&{query}" class="mt-4">
		<button class="cursor-pointer text-moss underline">{words().say('second.start-over')}</button>
	</form>
</div>
