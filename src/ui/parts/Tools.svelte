<script lang="ts">
	import { Toolbar } from 'bits-ui';
	import type { Snippet } from 'svelte';

	/** Tools in a row: one stop of the keyboard, arrows within. */
	let { label, children }: { label: string; children: Snippet } = $props();
</script>

<Toolbar.Root class="flex flex-wrap items-center gap-1" aria-label={label}>{@render children()}</Toolbar.Root>
