<script lang="ts">
	/** A line or several of text, with chips for what is known only when it is said. */
	import { onMount } from 'svelte';
	import type { Editor } from '@tiptap/core';
	import Menu from '$ui/parts/Menu.svelte';
	import Field from './Field.svelte';
	import { held } from './held.svelte';
	import type { Labelled } from './labelled';
	import Sent from './Sent.svelte';

	let {
		label,
		name,
		id = name,
		hint,
		errors = {},
		from,
		value = $bindable(''),
		names,
		labelOf,
		isLong = false
	}: Labelled & {
		/** The pattern that it begins with, and follows where that becomes another; left out: it is bound. */
		from?: string | undefined;
		value?: string;
		/** What it may speak of. */
		names: readonly string[];
		labelOf: (name: string) => string;
		isLong?: boolean;
	} = $props();

	const it = held(() => from, { get: () => value, set: (to) => (value = to) });
	const own = $props.id();
	const key = $derived(id ?? own);

	let place = $state<HTMLElement | null>(null);
	let editor = $state.raw<Editor | null>(null);
	/** What the editor shows. */
	let shown: string | null = null;

	const message = $derived(errors[name ?? key]?.[0]);
	const said = $derived({
		describedBy: [hint && `${key}-hint`, message && `${key}-error`].filter(Boolean).join(' ') || undefined,
		isWrong: message !== undefined
	});

	onMount(() => () => editor?.destroy());

	$effect(() => {
		void said;
		editor?.view.updateState(editor.state);
	});

	$effect(() => {
		const pattern = it.current;
		if (place && pattern !== shown) void build(place, pattern);
	});
	// Whoever binds it, too, hears what is typed.
	$effect(() => {
		value = it.current;
	});

	async function build(at: HTMLElement, pattern: string) {
		shown = pattern;
		const { makeChipEditor, linesOf } = await import('$ui/chip-editor');
		// It may be gone by now, or another one is shown.
		if (!at.isConnected || shown !== pattern) return;
		if (editor) {
			editor.commands.setContent(linesOf(pattern, labelOf), { emitUpdate: false });
			return;
		}
		const how = { id: key, labelId: `${key}-label`, said: () => said, isLong, labelOf };
		editor = makeChipEditor(at, pattern, how, (typed) => {
			shown = typed;
			it.current = typed;
		});
	}

	async function putInChip(of: string) {
		const { chipOf } = await import('$ui/chip-editor');
		editor
			?.chain()
			.focus()
			.insertContent(chipOf(of, labelOf(of)))
			.run();
	}
</script>

<Field {label} {name} id={key} {hint} {errors}>
	{#snippet children(_props, { isWrong })}
		<div
			class="flex items-start rounded-sheet border bg-sheet {isWrong
				? 'border-2 border-brick'
				: 'border-slate'}"
		>
			<div
				bind:this={place}
				class="min-w-0 grow px-3 py-1.5 [&_.chip]:rounded-sheet [&_.chip]:bg-moss-wash [&_.chip]:px-1.5 [&_.chip]:text-moss [&>div]:outline-none {isLong
					? 'reading min-h-48 [&>div]:min-h-44'
					: ''}"
			></div>
			<div class="shrink-0 p-0.5 whitespace-nowrap">
				<Menu
					label="Put in"
					of={label}
					isPlain
					entries={names.map((of) => ({ label: labelOf(of), onChoose: () => void putInChip(of) }))}
				/>
			</div>
		</div>
		{#if name}<Sent
				{name}
				value={it.current}
				onReset={() => (it.current = it.first)}
				onPutIn={([written = '']) => (it.current = written)}
			/>{/if}
	{/snippet}
</Field>
