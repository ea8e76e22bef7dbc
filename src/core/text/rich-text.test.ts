import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	fromPlain,
	hasChips,
	identified,
	isEmptyText,
	isLink,
	linksOf,
	MAX_TEXT_LENGTH,
	readRichJson,
	readRichText,
	toPlain,
	type Inline,
	type RichText
} from './rich-text';

const LIST: RichText = [
	{ type: 'heading', content: [{ type: 'text', text: 'By post' }] },
	{
		type: 'list',
		isOrdered: true,
		items: [
			[{ type: 'text', text: 'Brass', isBold: true, href: '/suppliers/metal' }],
			[{ type: 'text', text: 'Oil' }, { type: 'break' }, { type: 'text', text: 'two grades', isItalic: true }]
		]
	},
	{ type: 'paragraph', content: [{ type: 'text', text: 'See us', href: 'https://fernhollow.example/visit' }] }
];

describe('a text', () => {
	it('is said without its form, so that it can be found by its words', () => {
		expect(toPlain(LIST, () => '')).toBe('By post\n\n· Brass\n· Oil\ntwo grades\n\nSee us');
	});

	it('tells where its links lead, in lists too, in order', () => {
		expect(linksOf(LIST)).toEqual(['/suppliers/metal', 'https://fernhollow.example/visit']);
	});

	it('keeps the ids of its blocks, each once, and gives one to each that has none', () => {
		const typed = [
			{ ...LIST[0], id: 'a1' },
			{ ...LIST[1], id: 'b2' },
			{ ...LIST[2], id: 'a1' },
			{ ...LIST[2], id: 'No id' },
			{ ...LIST[2], id: 7 }
		];
		const read = readRichText(typed);
		expect(read?.map(({ id }) => id)).toEqual(['a1', 'b2', undefined, undefined, undefined]);
		let count = 0;
		const all = identified(read ?? [], () => `new${++count}`);
		expect(all.map(({ id }) => id)).toEqual(['a1', 'b2', 'new1', 'new2', 'new3']);
		expect(readRichText(all)).toEqual(all);
		expect(toPlain(all, () => '')).toBe(toPlain(read ?? [], () => ''));
	});

	it('comes from plain paragraphs and goes back to them', () => {
		const paragraph = fc
			.array(fc.stringMatching(/^[a-z]{1,8}( [a-z]{1,8}){0,3}$/), { minLength: 1, maxLength: 3 })
			.map((lines) => lines.join('\n'));
		fc.assert(
			fc.property(fc.array(paragraph, { maxLength: 5 }), (paragraphs) => {
				const plain = paragraphs.join('\n\n');
				expect(toPlain(fromPlain(plain), () => '')).toBe(plain);
			}),
			{ seed: 4 }
		);
	});

	it.each([
		['nothing', [], true],
		['an empty paragraph', [{ type: 'paragraph', content: [] }], true],
		['spaces', fromPlain(' \n\n '), true],
		['a chip', [{ type: 'paragraph', content: [{ type: 'chip', name: 'plans' }] }], false]
	] satisfies [string, RichText, boolean][])('of %s: empty is %s', (_name, text, isEmpty) => {
		expect(isEmptyText(text)).toBe(isEmpty);
	});

	it('knows whether something in it waits for the moment it is shown', () => {
		expect(hasChips(LIST)).toBe(false);
		expect(hasChips([{ type: 'list', isOrdered: false, items: [[{ type: 'chip', name: 'item' }]] }])).toBe(
			true
		);
	});
});

describe('what an editor sends', () => {
	it('is taken as it stands', () => {
		expect(readRichText(LIST)).toEqual(LIST);
		expect(readRichJson(JSON.stringify(LIST))).toEqual(LIST);
	});

	const inline = (part: unknown) => [{ type: 'paragraph', content: [part] }];
	it.each([
		['is no list of blocks', { type: 'doc' }],
		['has a block of another kind', [{ type: 'table', content: [] }]],
		['has markup of its own', [{ type: 'html', content: '<script>' }]],
		['has an unknown chip', inline({ type: 'chip', name: 'password' })],
		['has a text that is none', inline({ type: 'text', text: 4 })],
		['runs something', inline({ type: 'text', text: 'here', href: 'javascript:alert(1)' })],
		['leads to another host by a path', inline({ type: 'text', text: 'here', href: '//evil.example' })],
		['leads to a local file', inline({ type: 'text', text: 'here', href: 'file:///etc/passwd' })],
		['has a list without items', [{ type: 'list', isOrdered: false }]],
		['is too long', fromPlain('x'.repeat(MAX_TEXT_LENGTH + 1))]
	])('is refused where it %s', (_name, value) => {
		expect(readRichText(value)).toBeNull();
	});

	it('is refused where it is no JSON', () => {
		expect(readRichJson('[{')).toBeNull();
	});

	it('keeps nothing that is not of the form', () => {
		const sent = [
			{ type: 'paragraph', onclick: 'x', content: [{ type: 'text', text: 'a', style: 'x', isBold: 'yes' }] }
		];
		expect(readRichText(sent)).toEqual([{ type: 'paragraph', content: [{ type: 'text', text: 'a' }] }]);
	});
});

describe('a link', () => {
	it.each<[string, boolean]>([
		['/plans', true],
		['/', true],
		['https://fernhollow.example/a?b=c#d', true],
		['HTTP://fernhollow.example', true],
		['mailto:desk@fernhollow.example', true],
		['plans', false],
		['//evil.example', false],
		['/\\evil.example', false],
		['javascript:alert(1)', false],
		[' https://fernhollow.example', false],
		['data:text/html,x', false],
		['', false]
	])('%s is one: %s', (href, isOne) => {
		expect(isLink(href)).toBe(isOne);
		const part: Inline = { type: 'text', text: 'here', href };
		expect(readRichText([{ type: 'paragraph', content: [part] }]) !== null).toBe(isOne);
	});
});
