<script lang="ts">
	import { Tabs } from 'bits-ui';
	import type { Snippet } from 'svelte';

	/** Sides of one thing, of which one is seen. */
	let {
		label,
		tabs,
		value = $bindable(''),
		children
	}: {
		label: string;
		tabs: { value: string; label: string }[];
		value?: string;
		/** The side that is seen. */
		children: Snippet<[string]>;
	} = $props();
</script>

<Tabs.Root bind:value>
	<Tabs.List class="flex flex-wrap gap-1 border-b border-line" aria-label={label}>
		{#each tabs as tab (tab.value)}<Tabs.Trigger value={tab.value} class="tab">{tab.label}</Tabs.Trigger
			>{/each}
	</Tabs.List>
	{#each tabs as tab (tab.value)}
		<Tabs.Content value={tab.value} class="pt-4">{@render children(tab.value)}</Tabs.Content>
	{/each}
</Tabs.Root>
