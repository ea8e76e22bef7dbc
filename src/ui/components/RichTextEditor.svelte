<script lang="ts">
	/** Edits a notice: paragraphs, lists, bold, links, and chips for what is known only when it is shown. */
	import { onMount } from 'svelte';
	import type { Editor } from '@tiptap/core';
	import { CHIPS, type ChipName, type RichText } from '$core/access/rich-text';

	let {
		text = $bindable(),
		label,
		message = null
	}: { text: RichText; label: string; message?: string | null } = $props();

	const CHIP_WORDS: Record<ChipName, string> = {
		plans: 'the plans that open it',
		item: 'the item’s title',
		member: 'the member’s name',
		'opens-on': 'the date it opens'
	};

	let place = $state() as HTMLElement;
	let editor = $state.raw<Editor | null>(null);

	onMount(() => {
		let made: Editor | null = null;
		void (async () => {
			const { makeEditor, toRichText } = await import('$ui/rich-text-editor');
			made = makeEditor(place, text, label, CHIP_WORDS, (json) => (text = toRichText(json)));
			editor = made;
		})();
		return () => made?.destroy();
	});

	function link() {
		const href = prompt('Where does it lead? A path of this site, or an address that begins with https://');
		if (href) editor?.chain().focus().setLink({ href }).run();
	}
</script>

<div class="rounded-sheet border {message ? 'border-2 border-brick' : 'border-slate'}">
	<div class="flex flex-wrap gap-1 border-b border-line p-1" role="toolbar" aria-label="Form of {label}">
		<button
			type="button"
			class="button-quiet font-bold"
			onclick={() => editor?.chain().focus().toggleBold().run()}>Bold</button
		>
		<button
			type="button"
			class="button-quiet italic"
			onclick={() => editor?.chain().focus().toggleItalic().run()}>Italic</button
		>
		<button
			type="button"
			class="button-quiet"
			onclick={() => editor?.chain().focus().toggleBulletList().run()}>List</button
		>
		<button type="button" class="button-quiet" onclick={link}>Link</button>
		<select
			class="input w-auto"
			aria-label="Insert into {label}"
			onchange={(event) => {
				const name = event.currentTarget.value;
				event.currentTarget.value = '';
				if (name) editor?.chain().focus().insertContent({ type: 'chip', attrs: { name } }).run();
			}}
		>
			<option value="">Insert …</option>
			{#each CHIPS as name (name)}<option value={name}>{CHIP_WORDS[name]}</option>{/each}
		</select>
	</div>
	<div
		bind:this={place}
		class="reading min-h-20 px-3 py-2 [&_.chip]:rounded-sheet [&_.chip]:bg-moss-wash [&_.chip]:px-1.5 [&_.chip]:text-moss [&_p]:mb-2 [&_ul]:list-disc [&_ul]:pl-6 [&_ol]:list-decimal [&_ol]:pl-6 [&>div]:outline-none"
	></div>
</div>
{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
