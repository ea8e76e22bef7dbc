<script lang="ts">
	import { Popover } from 'bits-ui';
	import type { Snippet } from 'svelte';

	/** More about something, beside it. */
	let {
		title,
		trigger,
		triggerClass = 'button-quiet',
		onOpen,
		children
	}: {
		title: string;
		/** What is pressed. */
		trigger: Snippet;
		triggerClass?: string;
		onOpen?: (isOpen: boolean) => void;
		children: Snippet;
	} = $props();
</script>

<Popover.Root onOpenChange={(isOpen) => onOpen?.(isOpen)}>
	<Popover.Trigger class={triggerClass}>{@render trigger()}</Popover.Trigger>
	<Popover.Portal>
		<Popover.Content
			class="sheet z-20 w-96 max-w-[90vw] p-4 pt-5 text-sm shadow-lg"
			sideOffset={6}
			collisionPadding={12}
			aria-label={title}
		>
			<h3 class="mb-2 font-semibold">{title}</h3>
			{@render children()}
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>
