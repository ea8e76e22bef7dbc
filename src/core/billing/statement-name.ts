/**
 * How a seller stands on card statements: 5 to 22 plain letters, digits, spaces, dots, stars or hyphens (common practice,
 * no source).
 *
 * Example: `Fernhollow Clock School` becomes `FERNHOLLOW CLOCK`, cut at a word and not inside it.
 */

export const STATEMENT_NAME = /^[A-Za-z0-9 .*-]{5,22}$/;

const MAX_LENGTH = 22;
const FALLBACK = 'STILE';

/** A first proposal from the site's name; always fits `STATEMENT_NAME`. */
export function statementNameOf(siteName: string): string {
	const plain = siteName
		.normalize('NFKD')
		.toUpperCase()
		.replace(/[^A-Z0-9 .*-]/g, '')
		.replace(/ +/g, ' ')
		.trim();
	const cut = plain.length <= MAX_LENGTH ? plain : wholeWords(plain);
	return STATEMENT_NAME.test(cut) ? cut : FALLBACK;
}

function wholeWords(name: string): string {
	const at = name.lastIndexOf(' ', MAX_LENGTH);
	return name.slice(0, at < 5 ? MAX_LENGTH : at);
}
