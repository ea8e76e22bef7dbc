<script lang="ts">
	import { Dialog } from 'bits-ui';

	/** What the keyboard can do, on `?`. */
	const KEYS = [
		[
			'Ctrl K',
			'Find a member, an item, a plan, an order or a fence, or ask whether a member can open an item'
		],
		['o', 'The other side: the front as somebody else'],
		['n', 'Back to now, on the time rail'],
		['[ and ]', 'To the change before, to the next change'],
		['?', 'This list'],
		['Esc', 'Close what is open']
	] as const;

	let { isOpen = $bindable(false) }: { isOpen?: boolean } = $props();

	function onkeydown(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		const isTyping = target.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/.test(target.tagName);
		if (event.key === '?' && !isTyping) isOpen = true;
	}
</script>

<svelte:window {onkeydown} />

<Dialog.Root bind:open={isOpen}>
	<Dialog.Portal>
		<Dialog.Overlay class="shade" />
		<Dialog.Content class="sheet fixed top-1/3 left-1/2 z-40 w-md max-w-[94vw] -translate-x-1/2 p-6 pt-7">
			<Dialog.Title class="text-lg font-semibold">Keys</Dialog.Title>
			<dl class="mt-3 grid grid-cols-[auto_1fr] gap-x-6 gap-y-2">
				{#each KEYS as [key, what] (key)}
					<dt><kbd class="rounded-sheet border border-line px-2 py-0.5 font-sans text-sm">{key}</kbd></dt>
					<dd>{what}</dd>
				{/each}
			</dl>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
