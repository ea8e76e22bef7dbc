<script lang="ts">
	import type { Snippet } from 'svelte';
	import { useWords } from '$ui/words';

	/** A label, its input and its message. The input is handed what ties them together. */
	let {
		name,
		label,
		hint = null,
		errors = {},
		children
	}: {
		name: string;
		label: string;
		hint?: string | null;
		errors?: Record<string, string[]>;
		children: Snippet<
			[
				{
					id: string;
					name: string;
					'aria-invalid': 'true' | undefined;
					'aria-describedby': string | undefined;
				}
			]
		>;
	} = $props();

	const words = useWords();

	const message = $derived(errors[name]?.[0] ?? null);
	const described = $derived(
		[hint && `${name}-hint`, message && `${name}-error`].filter(Boolean).join(' ') || undefined
	);
</script>

<div class="grid gap-1">
	<label for={name} class="font-medium">{label}</label>
	{#if hint}<p id="{name}-hint" class="text-sm text-quiet">{hint}</p>{/if}
	{@render children({
		id: name,
		name,
		'aria-invalid': message ? 'true' : undefined,
		'aria-describedby': described
	})}
	{#if message}<p id="{name}-error" class="text-sm font-medium text-brick">{words().maybe(message)}</p>{/if}
</div>
