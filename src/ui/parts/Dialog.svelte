<script lang="ts">
	import X from '@lucide/svelte/icons/x';
	import { Dialog } from 'bits-ui';
	import type { Snippet } from 'svelte';

	/** Something apart that is dealt with before one goes on. */
	let {
		title,
		what = null,
		isOpen = $bindable(false),
		children
	}: {
		title: string;
		/** What it is about, under the title. */
		what?: string | null;
		isOpen?: boolean;
		children: Snippet;
	} = $props();
</script>

<Dialog.Root bind:open={isOpen}>
	<Dialog.Portal>
		<Dialog.Overlay class="shade" />
		<Dialog.Content class="sheet dialog">
			<div class="flex items-start justify-between gap-4">
				<Dialog.Title class="text-lg font-semibold">{title}</Dialog.Title>
				<Dialog.Close class="cursor-pointer rounded-sheet p-1 text-quiet hover:text-ink" aria-label="Close"
					><X size={18} /></Dialog.Close
				>
			</div>
			{#if what}<Dialog.Description class="mt-1 text-quiet">{what}</Dialog.Description>{/if}
			<div class="mt-4">{@render children()}</div>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
