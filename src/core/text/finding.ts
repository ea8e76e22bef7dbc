/**
 * Finding by typing: a text is found where it holds every word that was typed, wherever; a longer word may have one wrong
 * letter from a word's beginning on. Example: `letting mainsprng` finds “Letting down the mainspring”.
 */

/** Of words that are no longer, every letter counts. */
const SHORT_WORD = 3;

/** Without case and accents, for whoever compares what people typed. */
export function plainText(text: string): string {
	return text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().trim();
}

/** @returns what tells of a text, made by `plainText`, whether it is found */
export function finder(typed: string): (plain: string) => boolean {
	const terms = plainText(typed).split(/\s+/u).filter(Boolean);
	return (plain) => {
		let words: string[] | null = null;
		return terms.every((term) => {
			if (plain.includes(term)) return true;
			if (term.length <= SHORT_WORD) return false;
			words ??= plain.split(/[^\p{L}\p{N}]+/u);
			return words.some((word) => beginsAlike(word, term));
		});
	};
}

/** Whether a word begins with a term, but for one letter that is another, too many or too few. */
function beginsAlike(word: string, term: string): boolean {
	let at = 0;
	while (at < term.length && word[at] === term[at]) at++;
	const rest = term.slice(at + 1);
	return (
		word.startsWith(rest, at + 1) || word.startsWith(rest, at) || word.startsWith(term.slice(at), at + 1)
	);
}
