<script lang="ts">
	import { AlertDialog } from 'bits-ui';
	import type { Snippet } from 'svelte';
	import { enhance } from '$app/forms';

	/** A destructive action: says what will happen, in numbers, before its form is sent. */
	let {
		label,
		spoken = label,
		title,
		what,
		action,
		confirmLabel,
		isQuiet = false,
		children
	}: {
		label: string;
		/** The same with what it is about, where several stand together. */
		spoken?: string;
		title: string;
		what: string;
		action: string;
		confirmLabel: string;
		/** It can be taken back. */
		isQuiet?: boolean;
		/** Further fields of the form. */
		children?: Snippet;
	} = $props();

	let isOpen = $state(false);
</script>

<AlertDialog.Root bind:open={isOpen}>
	<AlertDialog.Trigger class={isQuiet ? 'button-quiet' : 'button-stop'} aria-label={spoken}
		>{label}</AlertDialog.Trigger
	>
	<AlertDialog.Portal>
		<AlertDialog.Overlay class="shade" />
		<AlertDialog.Content class="sheet dialog">
			<AlertDialog.Title class="text-lg font-semibold">{title}</AlertDialog.Title>
			<AlertDialog.Description class="mt-2">{what}</AlertDialog.Description>
			<form
				method="post"
				{action}
				class="mt-4 grid gap-4"
				use:enhance={() =>
					async ({ update }) => {
						isOpen = false;
						await update();
					}}
			>
				{@render children?.()}
				<div class="flex flex-wrap justify-end gap-2">
					<AlertDialog.Cancel type="button" class="button-quiet">Leave it as it was</AlertDialog.Cancel>
					<button class={isQuiet ? 'button-main' : 'button-stop-main'}>{confirmLabel}</button>
				</div>
			</form>
		</AlertDialog.Content>
	</AlertDialog.Portal>
</AlertDialog.Root>
