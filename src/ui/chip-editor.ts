/** The editor of a message with chips in it, and the way between its lines and a pattern. Loaded only where something is edited. */
import { Editor, Node, type JSONContent } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';
import { patternOf, piecesOf, type Piece } from '$words/pieces';

const Chip = Node.create({
	name: 'chip',
	group: 'inline',
	inline: true,
	atom: true,
	addAttributes: () => ({ written: { default: '' }, label: { default: '' } }),
	parseHTML: () => [{ tag: 'span[data-chip]' }],
	renderHTML: ({ node }) => ['span', { 'data-chip': '', class: 'chip' }, String(node.attrs.label)]
});

interface How {
	id: string;
	labelId: string;
	/** What is said of it by now: asked again whenever the view is drawn. */
	said: () => { describedBy: string | undefined; isWrong: boolean };
	/** Several lines, or one. */
	isLong: boolean;
	/** What a chip is called, by its name. */
	labelOf: (name: string) => string;
}

export function makeChipEditor(
	element: HTMLElement,
	pattern: string,
	how: How,
	onChange: (pattern: string) => void
): Editor {
	return new Editor({
		element,
		// Its few rules stand in the theme: the page's policy takes no styles from scripts.
		injectCSS: false,
		extensions: [
			StarterKit.configure({
				blockquote: false,
				bold: false,
				bulletList: false,
				code: false,
				codeBlock: false,
				hardBreak: false,
				heading: false,
				horizontalRule: false,
				italic: false,
				link: false,
				listItem: false,
				listKeymap: false,
				orderedList: false,
				strike: false,
				trailingNode: false,
				underline: false
			}),
			Chip
		],
		content: linesOf(pattern, how.labelOf),
		editorProps: {
			attributes: () => {
				const { describedBy, isWrong } = how.said();
				return {
					id: how.id,
					role: 'textbox',
					'aria-multiline': String(how.isLong),
					'aria-labelledby': how.labelId,
					...(describedBy === undefined ? {} : { 'aria-describedby': describedBy }),
					...(isWrong ? { 'aria-invalid': 'true' } : {})
				};
			},
			transformPastedText: (text) => (how.isLong ? text : text.replace(/\s+/g, ' ')),
			handleKeyDown: (_view, event) => !how.isLong && event.key === 'Enter'
		},
		onUpdate: ({ editor }) => onChange(patternIn(editor.getJSON(), how.isLong ? '\n' : ' '))
	});
}

export function chipOf(name: string, label: string): JSONContent {
	return { type: 'chip', attrs: { written: `{${name}}`, label } };
}

/** A paragraph for each line. */
export function linesOf(pattern: string, labelOf: How['labelOf']): JSONContent {
	const lines: JSONContent[][] = [[]];
	for (const piece of piecesOf(pattern, 'en')) {
		if (piece.kind !== 'text') {
			lines
				.at(-1)
				?.push(
					piece.kind === 'name'
						? chipOf(piece.name, labelOf(piece.name))
						: { type: 'chip', attrs: { written: piece.written, label: piece.written } }
				);
			continue;
		}
		piece.text.split('\n').forEach((text, n) => {
			if (n > 0) lines.push([]);
			if (text !== '') lines.at(-1)?.push({ type: 'text', text });
		});
	}
	return { type: 'doc', content: lines.map((content) => ({ type: 'paragraph', content })) };
}

function patternIn(json: JSONContent, between: string): string {
	const pieces: Piece[] = [];
	const addText = (text: string) => {
		const last = pieces.at(-1);
		if (last?.kind === 'text') last.text += text;
		else pieces.push({ kind: 'text', text });
	};
	(json.content ?? []).forEach((line, n) => {
		if (n > 0) addText(between);
		for (const { type, text, attrs } of line.content ?? []) {
			if (type === 'text') addText(text ?? '');
			else pieces.push({ kind: 'rest', written: String(attrs?.written ?? '') });
		}
	});
	return patternOf(pieces);
}
