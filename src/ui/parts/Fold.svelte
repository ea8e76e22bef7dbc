<script lang="ts">
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import { Collapsible } from 'bits-ui';
	import type { Snippet } from 'svelte';

	/** What is folded away until somebody asks for it. What stands in it is sent with its form all the same. */
	let {
		label,
		isOpen = $bindable(false),
		children
	}: { label: string; isOpen?: boolean; children: Snippet } = $props();
</script>

<Collapsible.Root bind:open={isOpen}>
	<Collapsible.Trigger class="flex cursor-pointer items-center gap-1 text-left font-medium">
		<ChevronRight size={16} class="text-quiet {isOpen ? 'rotate-90' : ''}" aria-hidden="true" />{label}
	</Collapsible.Trigger>
	<Collapsible.Content forceMount>
		{#snippet child({ props, open })}
			<div {...props} hidden={!open} class="mt-2 border-l-2 border-line pl-4">{@render children()}</div>
		{/snippet}
	</Collapsible.Content>
</Collapsible.Root>
