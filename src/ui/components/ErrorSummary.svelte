<script lang="ts">
	import { useWords } from '$ui/words';

	/** All messages of a form, each leading to its field. */
	let { errors = {} }: { errors?: Record<string, string[]> } = $props();

	const words = useWords();
	let box = $state<HTMLElement | null>(null);

	const lines = $derived(
		Object.entries(errors).flatMap(([field, texts]) => texts.map((text) => ({ field, text })))
	);

	// Whoever sent the form is led to what is wrong with it.
	$effect(() => {
		if (lines.length === 0) return;
		box?.focus();
		const { title } = document;
		const said = words().say('form.not-saved-title', { title });
		document.title = said;
		return () => {
			if (document.title === said) document.title = title;
		};
	});
</script>

{#if lines.length > 0}
	<div
		bind:this={box}
		tabindex="-1"
		role="alert"
		class="rounded-sheet border-l-4 border-brick bg-brick-wash px-4 py-3"
	>
		<p class="font-medium">{words().say('form.not-saved')}</p>
		<ul class="mt-1 list-inside list-disc">
			{#each lines as { field, text } (field + text)}
				<li><a class="text-ink" href="#{field}">{words().maybe(text)}</a></li>
			{/each}
		</ul>
	</div>
{/if}
