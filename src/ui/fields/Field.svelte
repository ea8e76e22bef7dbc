<script lang="ts">
	import type { Snippet } from 'svelte';
	import { useWords } from '$ui/words';
	import type { Labelled, Ties } from './labelled';

	/** A label, its control, its help and its message. The control is handed what ties them together. */
	let {
		label,
		name,
		id = name,
		hint = null,
		errors = {},
		hidesLabel = false,
		children
	}: Labelled & {
		children: Snippet<
			[
				{
					id: string;
					name: string | undefined;
					'aria-invalid': 'true' | undefined;
					'aria-describedby': string | undefined;
				},
				Ties
			]
		>;
	} = $props();

	const own = $props.id();
	const words = useWords();

	const key = $derived(id ?? own);
	const message = $derived(errors[name ?? key]?.[0] ?? null);
	const describedBy = $derived(
		[hint && `${key}-hint`, message && `${key}-error`].filter(Boolean).join(' ') || undefined
	);
</script>

<div class="grid content-start gap-1" data-field={name} data-label={label}>
	<label for={key} id="{key}-label" class={hidesLabel ? 'sr-only' : 'justify-self-start font-medium'}
		>{label}</label
	>
	{#if hint}<p id="{key}-hint" class="text-sm text-quiet">{hint}</p>{/if}
	{@render children(
		{ id: key, name, 'aria-invalid': message ? 'true' : undefined, 'aria-describedby': describedBy },
		{ id: key, labelId: `${key}-label`, isWrong: message !== null, describedBy }
	)}
	{#if message}<p id="{key}-error" class="text-sm font-medium text-brick">{words().maybe(message)}</p>{/if}
</div>
