<script lang="ts">
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import Ellipsis from '@lucide/svelte/icons/ellipsis';
	import { DropdownMenu } from 'bits-ui';

	/** What else can be done. */
	let {
		label,
		of = null,
		isPlain = false,
		isDots = false,
		tabindex = 0,
		entries
	}: {
		label: string;
		/** Said behind the label to those who do not see where it stands. */
		of?: string | null;
		/** As a tool among tools. */
		isPlain?: boolean;
		/** Three dots; the label is for those who do not see where they stand. */
		isDots?: boolean;
		/** -1 where its row is the stop of the keyboard. */
		tabindex?: number;
		entries: { label: string; onChoose: () => void; isGrave?: boolean; isHeld?: boolean }[];
	} = $props();
</script>

<DropdownMenu.Root>
	<DropdownMenu.Trigger class={isPlain || isDots ? 'tool' : 'button-quiet'} {tabindex}
		>{#if isDots}<Ellipsis size={18} /><span class="sr-only">{label}</span>{:else}{label}{#if of}<span
					class="sr-only"
				>
					into {of}</span
				>{/if}
			<ChevronDown size={16} />{/if}</DropdownMenu.Trigger
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
