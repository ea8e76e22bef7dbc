<script lang="ts">
	import ErrorBox from '$ui/components/ErrorBox.svelte';
</script>

<main class="mx-auto max-w-xl px-4 py-16">
	<ErrorBox ways={[{ href: '/', label: 'To the front page' }]} />
</main>
