/**
 * A message in pieces, for an editor that shows the names in it as chips, and the message that pieces make up. What somebody
 * types is text: a bracket that is typed begins no name.
 */
import { IntlMessageFormat } from 'intl-messageformat';

export type Piece =
	| { kind: 'text'; text: string }
	| { kind: 'name'; name: string }
	/** What no chip stands for, such as words for one and for many: kept as it is written. */
	| { kind: 'rest'; written: string };

/** As the package numbers what it reads: a text, a name. */
const [LITERAL, ARGUMENT] = [0, 1];

/** @param language a BCP 47 tag. Where it cannot be read, the pattern is one piece that is kept as it is. */
export function piecesOf(pattern: string, language: string): Piece[] {
	let ast: ReturnType<IntlMessageFormat['getAst']>;
	try {
		const how = { ignoreTag: true, captureLocation: true };
		ast = new IntlMessageFormat(pattern, language, undefined, how).getAst();
	} catch {
		return [{ kind: 'rest', written: pattern }];
	}
	return ast.map((element): Piece => {
		if (element.type === LITERAL && 'value' in element) return { kind: 'text', text: element.value };
		if (element.type === ARGUMENT && 'value' in element) return { kind: 'name', name: element.value };
		const { start, end } = element.location ?? { start: { offset: 0 }, end: { offset: pattern.length } };
		return { kind: 'rest', written: pattern.slice(start.offset, end.offset) };
	});
}

export function patternOf(pieces: readonly Piece[]): string {
	return pieces
		.map((piece, n) => {
			if (piece.kind === 'name') return `{${piece.name}}`;
			if (piece.kind === 'rest') return piece.written;
			const next = pieces[n + 1];
			return escaped(piece.text, next !== undefined);
		})
		.join('');
}

/** From the first bracket to the last, with quotes that follow it at once. */
const BRACKETS = /[{}](?:.*[{}])?'*/s;

/** Brackets stand in quotes; a quote that would begin such a stretch is written twice. */
function escaped(text: string, isFollowed: boolean): string {
	const found = BRACKETS.exec(text);
	if (!found) return withoutBeginning(text, isFollowed);
	const [quoted] = found;
	const before = text.slice(0, found.index);
	const after = text.slice(found.index + quoted.length);
	return `${withoutBeginning(before, true)}'${quoted.replaceAll("'", "''")}'${withoutBeginning(after, isFollowed)}`;
}

function withoutBeginning(text: string, isFollowed: boolean): string {
	return text.replace(/'+/g, (quotes, at: number) => {
		const next = text[at + quotes.length];
		const isAlone = quotes.length === 1 && (next === undefined ? !isFollowed : !/[<>]/.test(next));
		return isAlone ? quotes : quotes.repeat(2);
	});
}
