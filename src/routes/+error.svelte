<script lang="ts">
	import { page } from '$app/state';
</script>

<svelte:head><title>{page.status === 404 ? 'Not found' : 'A problem'}</title></svelte:head>

<main class="mx-auto max-w-xl px-4 py-16">
	<div class="sheet p-6 pt-7">
		<h1>{page.status === 404 ? 'Not found' : page.status === 403 ? 'Not for this account' : 'A problem'}</h1>
		<p class="mt-2">{page.error?.message}</p>
		<p class="mt-4"><a href="/">To the front page</a></p>
	</div>
</main>
