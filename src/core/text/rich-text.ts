/**
 * Text with a little form: paragraphs, headings, lists, bold, italic, links and chips. Nothing else can be expressed, so
 * showing it needs no cleaning.
 *
 * A chip stands for something that is known only when the text is shown, such as the plans that open the item. Example:
 * `{ type: 'chip', name: 'opens-on' }` becomes `9 March 2026, 08:00`.
 */

export const CHIPS = ['plans', 'item', 'member', 'opens-on'] as const;
export type ChipName = (typeof CHIPS)[number];

export type Inline =
	| { type: 'text'; text: string; isBold?: boolean; isItalic?: boolean; href?: string }
	| { type: 'chip'; name: ChipName }
	| { type: 'break' };

/** A block keeps its id for as long as it is edited; what was never in an editor has none. */
export type Block = { id?: string } & (
	| { type: 'paragraph'; content: Inline[] }
	| { type: 'heading'; content: Inline[] }
	| { type: 'list'; isOrdered: boolean; items: Inline[][] }
);

export type RichText = Block[];

/** Paragraphs of plain text, parted by empty lines. */
export function fromPlain(text: string): RichText {
	return text
		.split(/\n\s*\n/)
		.map((part) => part.trim())
		.filter((part) => part !== '')
		.map((part) => ({ type: 'paragraph', content: lines(part) }));
}

function lines(part: string): Inline[] {
	return part
		.split('\n')
		.flatMap((text, n): Inline[] => [...(n > 0 ? [{ type: 'break' as const }] : []), { type: 'text', text }]);
}

/** What is said, without form; chips as `chip` words them. */
export function toPlain(text: RichText, chip: (name: ChipName) => string): string {
	const inline = (content: Inline[]) =>
		content
			.map((part) => (part.type === 'text' ? part.text : part.type === 'chip' ? chip(part.name) : '\n'))
			.join('');
	return text
		.map((block) =>
			block.type === 'list'
				? block.items.map((item) => `· ${inline(item)}`).join('\n')
				: inline(block.content)
		)
		.join('\n\n');
}

export function isEmptyText(text: RichText): boolean {
	return toPlain(text, (name) => name).trim() === '';
}

/** Where its links lead, in order, as they were typed. */
export function linksOf(text: RichText): string[] {
	return inlinesOf(text).flatMap((part) =>
		part.type === 'text' && part.href !== undefined ? [part.href] : []
	);
}

function inlinesOf(text: RichText): Inline[] {
	return text.flatMap((block) => (block.type === 'list' ? block.items.flat() : block.content));
}

/** Whether something in it is known only when it is shown. */
export function hasChips(text: RichText): boolean {
	return inlinesOf(text).some(({ type }) => type === 'chip');
}

export const MAX_TEXT_LENGTH = 20_000;

/** As `readRichText`, of JSON. */
export function readRichJson(json: string): RichText | null {
	try {
		return readRichText(JSON.parse(json));
	} catch {
		return null;
	}
}

/** Reads what an editor sent. `null`: it is not of this form, too long, or links to what is no web or mail address. */
export function readRichText(value: unknown): RichText | null {
	if (!Array.isArray(value)) return null;
	const blocks = value.map(readBlock);
	if (blocks.some((block) => block === null)) return null;
	const text = eachIdOnce(blocks as RichText);
	return toPlain(text, (name) => name).length <= MAX_TEXT_LENGTH ? text : null;
}

/** The second of two blocks that say they are the same is a copy. */
function eachIdOnce(text: RichText): RichText {
	const seen = new Set<string>();
	return text.map(({ id, ...block }) => {
		if (id === undefined || seen.has(id)) return block;
		seen.add(id);
		return { id, ...block };
	});
}

/** The same with an id for each block that has none. @param mint ids of letters and digits, never the same twice */
export function identified(text: RichText, mint: () => string): RichText {
	return text.map((block) => (block.id === undefined ? { ...block, id: mint() } : block));
}

function readBlock(value: unknown): Block | null {
	if (!isRecord(value)) return null;
	const block = readForm(value);
	const isId = typeof value.id === 'string' && BLOCK_ID.test(value.id);
	return block && isId ? { id: value.id as string, ...block } : block;
}

const BLOCK_ID = /^[a-z0-9]{1,16}$/;

function readForm(value: Record<string, unknown>): Block | null {
	if (value.type === 'list') {
		const items = Array.isArray(value.items) ? value.items.map(readInlines) : [null];
		if (items.some((item) => item === null)) return null;
		return { type: 'list', isOrdered: value.isOrdered === true, items: items as Inline[][] };
	}
	if (value.type !== 'paragraph' && value.type !== 'heading') return null;
	const content = readInlines(value.content);
	return content && { type: value.type, content };
}

function readInlines(value: unknown): Inline[] | null {
	if (!Array.isArray(value)) return null;
	const parts = value.map(readInline);
	return parts.some((part) => part === null) ? null : (parts as Inline[]);
}

function readInline(value: unknown): Inline | null {
	if (!isRecord(value)) return null;
	if (value.type === 'break') return { type: 'break' };
	if (value.type === 'chip') {
		const name = CHIPS.find((chip) => chip === value.name);
		return name ? { type: 'chip', name } : null;
	}
	if (value.type !== 'text' || typeof value.text !== 'string') return null;
	const href = value.href;
	if (href !== undefined && (typeof href !== 'string' || !isLink(href))) return null;
	return {
		type: 'text',
		text: value.text,
		...(value.isBold === true ? { isBold: true } : {}),
		...(value.isItalic === true ? { isItalic: true } : {}),
		...(href !== undefined ? { href } : {})
	};
}

/** A path of this site, or an address that a browser may safely follow. */
export function isLink(href: string): boolean {
	return /^(?:https?:\/\/|mailto:)[^\s"'<>\\]+$/i.test(href) || /^\/(?!\/)[^\s"'<>\\]*$/.test(href);
}

function isRecord(value: unknown): value is Record<string, unknown> {
	return typeof value === 'object' && value !== null && !Array.isArray(value);
}
