<script lang="ts">
	import ErrorBox from '$ui/components/ErrorBox.svelte';
	import { useWords } from '$ui/words';

	const words = useWords();
</script>

<main class="mx-auto max-w-xl px-4 py-16">
	<ErrorBox ways={[{ href: '/', label: words().say('error.to-front') }]} />
</main>
