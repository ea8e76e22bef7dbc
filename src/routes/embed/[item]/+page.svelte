<script lang="ts">
	import { provideWords } from '$ui/words';
	import { frontWords } from '$words/front';
	import Player from '$ui/components/Player.svelte';

	let { data } = $props();

	provideWords(() => data.language);
	const words = $derived(frontWords(data.language));
</script>

<svelte:head><title>{data.title} · {data.site}</title></svelte:head>

<main class="bg-black text-white">
	{#if data.media}
		<Player media={data.media} />
	{:else}
		<div class="grid min-h-dvh place-content-center gap-3 p-6 text-center">
			<h1 class="text-lg">{data.title}</h1>
			<p>{words.say('embed.for-members', { site: data.site })}</p>
			<p>
				<a class="text-white underline" href={data.address} target="_blank" rel="noopener"
					>{words.say('embed.open-at', { site: data.site })}</a
				>
			</p>
		</div>
	{/if}
</main>
