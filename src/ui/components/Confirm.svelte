<script lang="ts">
	import { AlertDialog } from 'bits-ui';
	import type { Snippet } from 'svelte';

	/** A destructive action: says what will happen, in numbers, before its form is sent. */
	let {
		label,
		title,
		what,
		action,
		confirmLabel,
		children
	}: {
		label: string;
		title: string;
		what: string;
		action: string;
		confirmLabel: string;
		/** Further fields of the form. */
		children?: Snippet;
	} = $props();
</script>

<AlertDialog.Root>
	<AlertDialog.Trigger class="button-stop">{label}</AlertDialog.Trigger>
	<AlertDialog.Portal>
		<AlertDialog.Overlay class="fixed inset-0 z-30 bg-ink/40" />
		<AlertDialog.Content
			class="sheet fixed top-1/2 left-1/2 z-40 w-lg max-w-[94vw] -translate-1/2 p-6 shadow-xl"
		>
			<AlertDialog.Title class="text-lg font-semibold">{title}</AlertDialog.Title>
			<AlertDialog.Description class="mt-2">{what}</AlertDialog.Description>
			<form method="post" {action} class="mt-4 grid gap-4">
				{@render children?.()}
				<div class="flex flex-wrap justify-end gap-2">
					<AlertDialog.Cancel type="button" class="button-quiet">Keep as it is</AlertDialog.Cancel>
					<button class="button-stop-main">{confirmLabel}</button>
				</div>
			</form>
		</AlertDialog.Content>
	</AlertDialog.Portal>
</AlertDialog.Root>
