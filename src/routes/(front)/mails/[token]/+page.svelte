<script lang="ts">
	import { useWords } from '$ui/words';

	let { data, form } = $props();

	const words = useWords();
</script>

<svelte:head>
	<title>{words().say('mails.title')} · {data.site.name}</title>
	<meta name="robots" content="noindex" />
</svelte:head>

<div class="sheet grid max-w-xl gap-4 p-6 pt-7">
	<h1>{words().say('mails.title')}</h1>
	<p role={form ? 'status' : undefined}>{words().say(data.isOff ? 'mails.off' : 'mails.on')}</p>
	<form method="post">
		{#if data.isOff}
			<input type="hidden" name="wants" value="yes" />
			<button class="button-quiet">{words().say('mails.turn-on')}</button>
		{:else}
			<button class="button-main">{words().say('mails.turn-off')}</button>
		{/if}
	</form>
	<p class="text-sm text-quiet">{words().say('mails.others')}</p>
</div>
