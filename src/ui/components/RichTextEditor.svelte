<script lang="ts">
	/** Edits text with a little form: paragraphs, headings, lists, bold, links, and chips for what is known only when it is shown. */
	import Bold from '@lucide/svelte/icons/bold';
	import Heading from '@lucide/svelte/icons/heading';
	import Italic from '@lucide/svelte/icons/italic';
	import Link from '@lucide/svelte/icons/link';
	import List from '@lucide/svelte/icons/list';
	import ListOrdered from '@lucide/svelte/icons/list-ordered';
	import { onMount } from 'svelte';
	import type { Editor } from '@tiptap/core';
	import { CHIPS, isLink, readRichJson, type ChipName, type RichText } from '$core/text/rich-text';
	import Tools from '$ui/parts/Tools.svelte';
	import Tool from '$ui/parts/Tool.svelte';
	import Menu from '$ui/parts/Menu.svelte';
	import Sent from '$ui/fields/Sent.svelte';
	import Picker from '$ui/fields/Picker.svelte';

	let {
		text = $bindable(),
		label,
		id = undefined,
		name = null,
		chips = CHIPS,
		message = null
	}: {
		text: RichText;
		label: string;
		id?: string | undefined;
		/** The field of a form that carries it, as JSON. */
		name?: string | null;
		chips?: readonly ChipName[];
		message?: string | null;
	} = $props();

	const CHIP_WORDS: Record<ChipName, string> = {
		plans: 'the plans that open it',
		item: 'the item’s title',
		member: 'the member’s name',
		'opens-on': 'the date it opens'
	};

	let place = $state() as HTMLElement;
	let editor = $state.raw<Editor | null>(null);
	let isLinking = $state(false);
	let href = $state('');
	let linkMessage = $state<string | null>(null);

	async function build() {
		const { makeEditor, toRichText } = await import('$ui/rich-text-editor');
		// It may be gone by now.
		if (!place?.isConnected) return;
		editor?.destroy();
		editor = makeEditor(place, text, { label, id, chips: CHIP_WORDS }, (json) => (text = toRichText(json)));
	}
	onMount(() => {
		void build();
		return () => editor?.destroy();
	});

	/** What was typed before and not kept. */
	function putIn([written = '']: string[]) {
		const read = readRichJson(written);
		if (!read) return;
		text = read;
		void build();
	}

	function insert(chip: ChipName) {
		editor
			?.chain()
			.focus()
			.insertContent({ type: 'chip', attrs: { name: chip } })
			.run();
	}

	function openLink() {
		href = String(editor?.getAttributes('link').href ?? '');
		linkMessage = null;
		isLinking = !isLinking;
	}

	/** What is chosen in the text leads there; where nothing is chosen, `words` are put in. */
	function link(to: string, words: string) {
		if (!editor) return;
		if (!isLink(to)) {
			linkMessage = 'Write a path of this site, or an address that begins with https://.';
			return;
		}
		const isBare = editor.state.selection.empty && !editor.isActive('link');
		if (isBare)
			editor
				.chain()
				.focus()
				.insertContent({ type: 'text', text: words, marks: [{ type: 'link', attrs: { href: to } }] })
				.run();
		else editor.chain().focus().extendMarkRange('link').setLink({ href: to }).run();
		isLinking = false;
	}

	function unlink() {
		editor?.chain().focus().extendMarkRange('link').unsetLink().run();
		isLinking = false;
	}
</script>

<div class="rounded-sheet border {message ? 'border-2 border-brick' : 'border-slate'}">
	<div class="flex flex-wrap items-center gap-1 border-b border-line p-1">
		<Tools label="Form of {label}">
			<Tool label="Bold" onPress={() => editor?.chain().focus().toggleBold().run()}><Bold size={16} /></Tool>
			<Tool label="Italic" onPress={() => editor?.chain().focus().toggleItalic().run()}
				><Italic size={16} /></Tool
			>
			<Tool label="Heading" onPress={() => editor?.chain().focus().toggleHeading({ level: 3 }).run()}
				><Heading size={16} /> Heading</Tool
			>
			<Tool label="List" onPress={() => editor?.chain().focus().toggleBulletList().run()}
				><List size={16} /> List</Tool
			>
			<Tool label="Numbers" onPress={() => editor?.chain().focus().toggleOrderedList().run()}
				><ListOrdered size={16} /> Numbers</Tool
			>
			<Tool label="Link" isOn={isLinking} onPress={openLink}><Link size={16} /> Link</Tool>
		</Tools>
		{#if chips.length > 0}
			<Menu
				label="Insert"
				of={label}
				isPlain
				entries={chips.map((chip) => ({ label: CHIP_WORDS[chip], onChoose: () => insert(chip) }))}
			/>
		{/if}
	</div>
	{#if isLinking}
		<div class="flex flex-wrap gap-2 border-b border-line bg-sunk p-2 [&>*]:min-w-60 [&>*]:grow">
			<Picker
				label="Link {label} to an item"
				kinds="item,collection"
				placeholder="An item of the Library"
				onChoose={({ detail, label: title }) => link(detail, title)}
			/>
			<div class="flex gap-1">
				<input
					class="input grow"
					type="url"
					aria-label="Link {label} to an address"
					placeholder="/plans or https://…"
					bind:value={href}
					onkeydown={(event) => {
						if (event.key !== 'Enter') return;
						event.preventDefault();
						link(href.trim(), href.trim());
					}}
				/>
				<button type="button" class="button-quiet" onclick={() => link(href.trim(), href.trim())}>Set</button>
				{#if editor?.isActive('link')}<button type="button" class="button-quiet" onclick={unlink}
						>Remove</button
					>{/if}
			</div>
			{#if linkMessage}<p class="text-sm font-medium text-brick" role="alert">{linkMessage}</p>{/if}
		</div>
	{/if}
	<div
		bind:this={place}
		class="reading min-h-20 px-3 py-2 [&_.chip]:rounded-sheet [&_.chip]:bg-moss-wash [&_.chip]:px-1.5 [&_.chip]:text-moss [&_h3]:mb-2 [&_h3]:font-sans [&_h3]:text-lg [&_h3]:font-semibold [&_p]:mb-2 [&_ul]:list-disc [&_ul]:pl-6 [&_ol]:list-decimal [&_ol]:pl-6 [&>div]:outline-none"
	></div>
	{#if name}<Sent {name} value={JSON.stringify(text)} onPutIn={putIn} />{/if}
</div>
{#if message}<p class="text-sm font-medium text-brick">{message}</p>{/if}
