<script lang="ts">
	import Popover from '$ui/parts/Popover.svelte';
	import CopyLine from './CopyLine.svelte';

	/** What of something can be given to others, to copy; and what a stranger finds there. */
	let {
		what,
		lines,
		finds
	}: {
		/** What it is called. */
		what: string;
		lines: { label: string; text: string; hint?: string }[];
		/** A sentence. */
		finds: string;
	} = $props();
</script>

<Popover title="Hand on {what}" class="w-md">
	{#snippet trigger()}Hand it on …{/snippet}
	<div class="grid gap-4">
		<p><span class="font-medium">A stranger finds:</span> {finds}</p>
		{#each lines as { label, text, hint } (label)}<CopyLine {label} {text} {hint} />{/each}
	</div>
</Popover>
