<script lang="ts">
	import { page } from '$app/state';
	import { useWords } from '$ui/words';

	/** What went wrong, inside the frame of the site, with ways on. */
	let { ways }: { ways: { href: string; label: string }[] } = $props();

	const words = useWords();
	const title = $derived(
		words().say(
			page.status === 404 ? 'error.not-found' : page.status === 403 ? 'error.not-yours' : 'error.problem'
		)
	);
</script>

<svelte:head><title>{title}</title></svelte:head>

<div class="sheet max-w-xl p-6 pt-7">
	<h1>{title}</h1>
	<p class="mt-2">{page.error?.key ? words().say(page.error.key) : page.error?.message}</p>
	<ul class="mt-4 flex flex-wrap gap-x-6 gap-y-2">
		{#each ways as { href, label } (href)}<li><a {href}>{label}</a></li>{/each}
	</ul>
</div>
