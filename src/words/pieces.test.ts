import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MAIL } from './en/mail';
import { patternOf, piecesOf, type Piece } from './pieces';
import { say } from './say';

const text = (words: string): Piece => ({ kind: 'text', text: words });
const name = (of: string): Piece => ({ kind: 'name', name: of });

describe('a message in pieces', () => {
	it.each<[string, Piece[]]>([
		['Hello', [text('Hello')]],
		['{plan} is open', [name('plan'), text(' is open')]],
		['It’s {plan}, for {amount}.', [text('It’s '), name('plan'), text(', for '), name('amount'), text('.')]],
		["it's <b> '{'plan'}'", [text("it's <b> {plan}")]],
		[
			'{count, plural, one {# day} other {# days}} left',
			[{ kind: 'rest', written: '{count, plural, one {# day} other {# days}}' }, text(' left')]
		],
		['not { closed', [{ kind: 'rest', written: 'not { closed' }]],
		['', []]
	])('reads “%s”', (pattern, pieces) => {
		expect(piecesOf(pattern, 'en')).toEqual(pieces);
	});

	it('makes the very same of every mail that Stile comes with', () => {
		for (const { subject, text: words, button } of Object.values(MAIL))
			for (const pattern of [subject, words, button])
				expect(patternOf(piecesOf(pattern, 'en'))).toBe(pattern);
	});

	it('says what was typed, whatever brackets, quotes and marks are in it', () => {
		const typed = fc.string({
			unit: fc.constantFrom("'", '{', '}', '<', '>', '#', 'a', ' ', '\n'),
			maxLength: 12
		});
		const piece = fc.oneof(typed.map(text), fc.constantFrom(name('plan'), name('site')));
		fc.assert(
			fc.property(fc.array(piece, { maxLength: 6 }), (pieces) => {
				const values = { plan: 'Workshop', site: 'Clocks' };
				const wanted = pieces
					.map((one) =>
						one.kind === 'name'
							? values[one.name as keyof typeof values]
							: one.kind === 'text'
								? one.text
								: ''
					)
					.join('');
				const pattern = patternOf(joinedTexts(pieces));
				expect(say(pattern, values, 'en')).toBe(wanted);
				expect(piecesOf(pattern, 'en')).toEqual(joinedTexts(pieces));
			}),
			{ seed: 7, numRuns: 5000 }
		);
	});
});

/** As an editor holds it: texts beside each other are one. */
function joinedTexts(pieces: readonly Piece[]): Piece[] {
	const all: Piece[] = [];
	for (const piece of pieces) {
		const last = all.at(-1);
		if (piece.kind === 'text' && piece.text === '') continue;
		if (piece.kind === 'text' && last?.kind === 'text') all[all.length - 1] = text(last.text + piece.text);
		else all.push(piece);
	}
	return all;
}
