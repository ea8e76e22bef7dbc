/** The editor behind notices and descriptions, and the way between its documents and ours. Loaded only where something is edited. */
import { Editor, Extension, Node, mergeAttributes, type JSONContent } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';
import { CHIPS, isLink, type Block, type ChipName, type Inline, type RichText } from '$core/text/rich-text';

function chipNode(words: Record<ChipName, string>) {
	return Node.create({
		name: 'chip',
		group: 'inline',
		inline: true,
		atom: true,
		addAttributes: () => ({ name: { default: 'item' } }),
		parseHTML: () => [{ tag: 'span[data-chip]' }],
		renderHTML: ({ node, HTMLAttributes }) => [
			'span',
			mergeAttributes(HTMLAttributes, { 'data-chip': '', class: 'chip' }),
			words[node.attrs.name as ChipName] ?? ''
		]
	});
}

/** Blocks keep their ids while they are edited; what is split off or put in gets one when it is saved. */
const BlockIds = Extension.create({
	name: 'blockIds',
	addGlobalAttributes: () => [
		{
			types: ['paragraph', 'heading', 'bulletList', 'orderedList'],
			attributes: { blockId: { default: null, keepOnSplit: false, rendered: false } }
		}
	]
});

export function makeEditor(
	element: HTMLElement,
	text: RichText,
	{ label, id, chips }: { label: string; id?: string | undefined; chips: Record<ChipName, string> },
	onChange: (json: JSONContent) => void
): Editor {
	return new Editor({
		element,
		// Its few rules stand in the theme: the page's policy takes no styles from scripts.
		injectCSS: false,
		extensions: [
			StarterKit.configure({
				heading: { levels: [3] },
				blockquote: false,
				code: false,
				codeBlock: false,
				horizontalRule: false,
				strike: false,
				underline: false,
				link: { openOnClick: false, isAllowedUri: (href) => isLink(href ?? '') }
			}),
			chipNode(chips),
			BlockIds
		],
		content: { type: 'doc', content: text.map(fromBlock) },
		editorProps: {
			attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': label, ...(id ? { id } : {}) }
		},
		onUpdate: ({ editor }) => onChange(editor.getJSON())
	});
}

function fromBlock(block: Block): JSONContent {
	const attrs = { blockId: block.id ?? null };
	if (block.type === 'list') {
		const content = block.items.map((item) => ({
			type: 'listItem',
			content: [{ type: 'paragraph', content: item.map(fromInline) }]
		}));
		return { type: block.isOrdered ? 'orderedList' : 'bulletList', attrs, content };
	}
	const content = block.content.map(fromInline);
	return block.type === 'heading'
		? { type: 'heading', attrs: { ...attrs, level: 3 }, content }
		: { type: 'paragraph', attrs, content };
}

function fromInline(part: Inline): JSONContent {
	if (part.type === 'break') return { type: 'hardBreak' };
	if (part.type === 'chip') return { type: 'chip', attrs: { name: part.name } };
	const marks = [
		...(part.isBold ? [{ type: 'bold' }] : []),
		...(part.isItalic ? [{ type: 'italic' }] : []),
		...(part.href ? [{ type: 'link', attrs: { href: part.href } }] : [])
	];
	return { type: 'text', text: part.text, marks };
}

export function toRichText(json: JSONContent): RichText {
	return (json.content ?? []).flatMap(toBlock);
}

function toBlock(node: JSONContent): Block[] {
	const blockId: unknown = node.attrs?.blockId;
	const id = typeof blockId === 'string' ? { id: blockId } : {};
	switch (node.type) {
		case 'paragraph':
		case 'heading':
			return [{ ...id, type: node.type, content: toInlines(node) }];
		case 'bulletList':
		case 'orderedList': {
			const items = (node.content ?? []).map((item) => (item.content ?? []).flatMap(toInlines));
			return [{ ...id, type: 'list', isOrdered: node.type === 'orderedList', items }];
		}
		default:
			return [];
	}
}

function toInlines(node: JSONContent): Inline[] {
	return (node.content ?? []).flatMap((part): Inline[] => {
		if (part.type === 'hardBreak') return [{ type: 'break' }];
		if (part.type === 'chip') {
			const name = CHIPS.find((chip) => chip === part.attrs?.name);
			return name ? [{ type: 'chip', name }] : [];
		}
		if (part.type !== 'text' || !part.text) return [];
		const has = (mark: string) => part.marks?.find(({ type }) => type === mark);
		const href: unknown = has('link')?.attrs?.href;
		return [
			{
				type: 'text',
				text: part.text,
				...(has('bold') ? { isBold: true } : {}),
				...(has('italic') ? { isItalic: true } : {}),
				...(typeof href === 'string' ? { href } : {})
			}
		];
	});
}
