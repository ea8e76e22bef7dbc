<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import Copy from '@lucide/svelte/icons/copy';
	import Popover from '$ui/parts/Popover.svelte';

	/** What of something can be given to others, to copy; and what a stranger finds there. */
	let {
		what,
		lines,
		finds
	}: {
		/** What it is called. */
		what: string;
		lines: { label: string; text: string; hint?: string }[];
		/** A sentence. */
		finds: string;
	} = $props();

	const own = $props.id();
	let copied = $state<string | null>(null);

	async function copy(text: string, n: number) {
		try {
			await navigator.clipboard.writeText(text);
			copied = text;
		} catch {
			// Not allowed here: it is marked, so that one copies it by hand.
			const field = document.getElementById(`${own}-${n}`);
			if (field instanceof HTMLInputElement) field.select();
		}
	}
</script>

<Popover title="Hand on {what}" class="w-md" onOpen={() => (copied = null)}>
	{#snippet trigger()}Hand it on …{/snippet}
	<div class="grid gap-4">
		<p><span class="font-medium">A stranger finds:</span> {finds}</p>
		{#each lines as { label, text, hint }, n (label)}
			<div class="grid gap-1">
				<label for="{own}-{n}" class="font-medium">{label}</label>
				{#if hint}<p id="{own}-{n}-hint" class="text-sm text-quiet">{hint}</p>{/if}
				<div class="flex gap-2">
					<input
						id="{own}-{n}"
						class="input min-w-0 grow font-mono text-sm"
						readonly
						value={text}
						aria-describedby={hint ? `${own}-${n}-hint` : undefined}
						onfocus={(event) => event.currentTarget.select()}
					/>
					<button
						type="button"
						class="button-quiet"
						aria-label="Copy: {label}"
						onclick={() => void copy(text, n)}
						>{#if copied === text}<Check size={16} />{:else}<Copy size={16} />{/if} Copy</button
					>
				</div>
			</div>
		{/each}
		<p role="status" class="text-sm text-moss">{copied === null ? '' : 'Copied.'}</p>
	</div>
</Popover>
