<script lang="ts">
	import FileUp from '@lucide/svelte/icons/file-up';
	import Field from './Field.svelte';
	import type { Labelled } from './labelled';

	/** A file of this device's, sent with its form. */
	let {
		accept,
		onChoose,
		...labelled
	}: Labelled & { accept?: string; onChoose?: ((file: File) => void) | undefined } = $props();

	let chosen = $state('');

	/** A form that is put back forgets its file. */
	function follow(input: HTMLInputElement) {
		take(input);
		const forget = () => (chosen = '');
		input.form?.addEventListener('reset', forget);
		return () => input.form?.removeEventListener('reset', forget);
	}

	function take(input: HTMLInputElement) {
		const file = input.files?.[0];
		chosen = file?.name ?? '';
		if (file) onChoose?.(file);
	}
</script>

<Field {...labelled}>
	{#snippet children(props)}
		<span class="input file">
			<input
				type="file"
				class="absolute inset-0 cursor-pointer opacity-0"
				{accept}
				onchange={(event) => take(event.currentTarget)}
				{@attach follow}
				{...props}
			/>
			<FileUp size={16} class="shrink-0 text-quiet" aria-hidden="true" />
			<span class="truncate {chosen ? '' : 'text-quiet'}">{chosen || 'Choose a file'}</span>
		</span>
	{/snippet}
</Field>
