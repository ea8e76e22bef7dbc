<script lang="ts">
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import { DropdownMenu } from 'bits-ui';

	/** What else can be done. */
	let {
		label,
		of = null,
		isPlain = false,
		entries
	}: {
		label: string;
		/** Said behind the label to those who do not see where it stands. */
		of?: string | null;
		/** As a tool among tools. */
		isPlain?: boolean;
		entries: { label: string; onChoose: () => void; isGrave?: boolean; isHeld?: boolean }[];
	} = $props();
</script>

<DropdownMenu.Root>
	<DropdownMenu.Trigger class={isPlain ? 'tool' : 'button-quiet'}
		>{label}{#if of}<span class="sr-only"> into {of}</span>{/if}
		<ChevronDown size={16} /></DropdownMenu.Trigger
	>
	<DropdownMenu.Portal>
		<DropdownMenu.Content class="floating choices min-w-48" sideOffset={4} collisionPadding={8}>
			{#each entries as entry (entry.label)}
				<DropdownMenu.Item
					class="choice {entry.isGrave ? 'text-brick' : ''}"
					disabled={entry.isHeld ?? false}
					onSelect={entry.onChoose}>{entry.label}</DropdownMenu.Item
				>
			{/each}
		</DropdownMenu.Content>
	</DropdownMenu.Portal>
</DropdownMenu.Root>
