/**
 * Names of uploaded files, for showing only: they are never used as a path.
 *
 * Folders, control characters and marks that turn the writing direction are taken out, and the name is cut to 255
 * characters. Example: `../../a\u202Egpj.mp4` becomes `agpj.mp4`.
 */

const MAX_LENGTH = 255;

/** Control characters, and the direction marks of Unicode Standard Annex 9. */
// eslint-disable-next-line no-control-regex -- control characters are what is taken out
const HIDDEN = /[\u0000-\u001f\u007f-\u009f\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/g;

export function cleanFileName(raw: string): string {
	const last = raw.normalize('NFC').split(/[/\\]/).at(-1) ?? '';
	const clean = last.replace(HIDDEN, '').trim();
	if (clean === '' || /^\.+$/.test(clean)) return 'unnamed';
	return clean.length <= MAX_LENGTH ? clean : shortened(clean);
}

/** A first title for what is in the file: `Truing_a-wheel.final.mp4` becomes `Truing a wheel.final`. */
export function titleOf(fileName: string): string {
	const stem = cleanFileName(fileName).replace(/(?<=.)\.[^.]{1,5}$/, '');
	const title = stem.replace(/[_-]+/g, ' ').trim().slice(0, 200);
	return title.replace(/^\p{Ll}/u, (letter) => letter.toUpperCase()) || 'Untitled';
}

/** Keeps the ending, which says what kind of file it is. */
function shortened(name: string): string {
	const ending = /\.[^.]{1,10}$/.exec(name)?.[0] ?? '';
	return name.slice(0, MAX_LENGTH - ending.length) + ending;
}
