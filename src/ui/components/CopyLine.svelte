<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import Copy from '@lucide/svelte/icons/copy';

	/** A text to copy. */
	let { label, text, hint }: { label: string; text: string; hint?: string | undefined } = $props();

	const own = $props.id();
	let copied = $state<string | null>(null);

	async function copy() {
		try {
			await navigator.clipboard.writeText(text);
			copied = text;
		} catch {
			// Not allowed here: it is marked, so that one copies it by hand.
			const field = document.getElementById(own);
			if (field instanceof HTMLInputElement) field.select();
		}
	}
</script>

<div class="grid gap-1">
	<label for={own} class="font-medium">{label}</label>
	{#if hint}<p id="{own}-hint" class="text-sm text-quiet">{hint}</p>{/if}
	<div class="flex gap-2">
		<input
			id={own}
			class="input min-w-0 grow font-mono text-sm"
			readonly
			value={text}
			aria-describedby={hint ? `${own}-hint` : undefined}
			onfocus={(event) => event.currentTarget.select()}
		/>
		<button type="button" class="button-quiet" aria-label="Copy: {label}" onclick={() => void copy()}
			>{#if copied === text}<Check size={16} />{:else}<Copy size={16} />{/if} Copy</button
		>
	</div>
	<span role="status" class="sr-only">{copied === text ? 'Copied.' : ''}</span>
</div>
