<script lang="ts">
	import { useWords } from '$ui/words';

	/** Says that something was done, where it was done. */
	let { text }: { text: string | null | undefined } = $props();

	const words = useWords();
</script>

{#if text}
	<p role="status" class="rounded-sheet border-l-4 border-moss bg-moss-wash px-4 py-2 font-medium">
		{words().maybe(text)}
	</p>
{/if}
