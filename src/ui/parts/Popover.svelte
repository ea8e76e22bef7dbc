<script lang="ts">
	import { Popover } from 'bits-ui';
	import type { Snippet } from 'svelte';

	/** More about something, or what can be done with it, beside where one pressed. */
	let {
		title,
		showsTitle = false,
		side = 'bottom',
		trigger,
		triggerClass = 'button-quiet',
		class: classes = 'w-80',
		isOpen = $bindable(false),
		onOpen,
		children
	}: {
		title: string;
		/** Where what is pressed does not say it. */
		showsTitle?: boolean;
		side?: 'top' | 'bottom' | 'left';
		/** What is pressed. */
		trigger: Snippet;
		triggerClass?: string;
		class?: string;
		isOpen?: boolean;
		onOpen?: (isOpen: boolean) => void;
		children: Snippet;
	} = $props();
</script>

<Popover.Root bind:open={isOpen} onOpenChange={(to) => onOpen?.(to)}>
	<Popover.Trigger class={triggerClass}>{@render trigger()}</Popover.Trigger>
	<Popover.Portal>
		<Popover.Content
			{side}
			class="sheet z-40 max-h-[70vh] max-w-[92vw] overflow-y-auto p-4 pt-5 shadow-lg {classes}"
			sideOffset={6}
			collisionPadding={12}
			aria-label={title}
		>
			{#if showsTitle}<h3 class="mb-2 font-semibold">{title}</h3>{/if}
			{@render children()}
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>
