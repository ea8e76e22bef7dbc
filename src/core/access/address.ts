/**
 * The one spelling of an address.
 *
 * A path is percent-decoded once, brought to Unicode NFC, freed of empty and dot segments and of a trailing slash, and
 * encoded again (RFC 3986 §5.2.4, §6.2.2; a path starts with a slash and the shortest is `/`, RFC 9112 §3.2.1). Letter
 * case is kept. Example: `/Videos//a%2F..%2Fb/` becomes `/Videos/b`.
 */

/** First segments that belong to Stile and can be neither fenced nor given to an item. */
export const RESERVED_SEGMENTS: ReadonlySet<string> = new Set([
	'_app',
	'_looks',
	'account',
	'api',
	'checkout',
	'code',
	'desk',
	'embed',
	'enter',
	'favicon.ico',
	'favicon.svg',
	'feeds',
	'gifts',
	'healthz',
	'mails',
	'media',
	'other-side',
	'plans',
	'readyz',
	'robots.txt',
	'sign-in',
	'sign-out',
	'sign-up',
	'sitemap.xml',
	'thanks'
]);

/** First segments of lists that Stile makes: they can be fenced, but not given to an item. */
export const LIST_SEGMENTS: ReadonlySet<string> = new Set(['categories', 'tags']);

/** Longest path that is taken, in characters after decoding. */
export const MAX_PATH_LENGTH = 700;

export type NormalisedPath =
	| { ok: true; path: string }
	| { ok: false; code: 'bad-escape' | 'control-character' | 'no-slash' | 'too-long' };

/** Segments of unreserved characters that do not begin with a dot. */
const PLAIN = /^(?:\/[A-Za-z0-9_~-][A-Za-z0-9._~-]*)+$/;

/** @param raw the path as it came, percent-encoded, without query or fragment */
export function normalisePath(raw: string): NormalisedPath {
	if (!raw.startsWith('/')) return { ok: false, code: 'no-slash' };
	// Most addresses are plain, and then they are normal as they stand.
	if (PLAIN.test(raw) && raw.length <= MAX_PATH_LENGTH) return { ok: true, path: raw };
	let decoded: string;
	try {
		decoded = decodeURIComponent(raw).normalize('NFC');
	} catch {
		return { ok: false, code: 'bad-escape' };
	}
	// Half of a character cannot be encoded.
	if (/\p{Surrogate}/u.test(decoded)) return { ok: false, code: 'bad-escape' };
	if (decoded.length > MAX_PATH_LENGTH) return { ok: false, code: 'too-long' };
	// Backslashes are refused too: browsers read them as slashes, servers do not.
	// eslint-disable-next-line no-control-regex -- control characters are what is looked for
	if (/[\u0000-\u001f\u007f\\]/.test(decoded)) return { ok: false, code: 'control-character' };

	const kept: string[] = [];
	for (const segment of decoded.split('/')) {
		if (segment === '..') kept.pop();
		else if (segment !== '' && segment !== '.') kept.push(segment);
	}
	return { ok: true, path: '/' + kept.map(encodeSegment).join('/') };
}

/** A normalised path as people read it: `/f%C3%BCr` is `/für`. Not an address: what is escaped may be anything. */
export function readable(path: string): string {
	return path.includes('%') ? decodeURIComponent(path) : path;
}

/** Whether the first segment of a normalised path is Stile's own. By segment, not by prefix: `/plans-for-spring` is free. */
export function isReserved(path: string): boolean {
	return RESERVED_SEGMENTS.has(path.split('/', 2)[1] ?? '');
}

/** Whether a normalised path is that of a page that Stile makes and fences may close: the front page, a label's list. */
export function isList(path: string): boolean {
	const [, first = '', ...rest] = path.split('/');
	return path === '/' || (LIST_SEGMENTS.has(first) && rest.length === 1);
}

/** Whether an item may have this normalised path. */
export function isFree(path: string): boolean {
	return path !== '/' && !isReserved(path) && !LIST_SEGMENTS.has(path.split('/', 2)[1] ?? '');
}

/** Words for an address, from a title: `Truing a Wheel – Part 2` becomes `truing-a-wheel-part-2`. May be empty. */
export function slugOf(title: string): string {
	const words = title
		.normalize('NFKD')
		.replace(/\p{M}/gu, '')
		.toLowerCase()
		.replace(/[^\p{L}\p{N}]+/gu, '-')
		.replace(/^-+|-+$/g, '');
	return shortened(words).replace(/-+$/, '');
}

const MAX_SLUG_CHARACTERS = 80;
/** As it is written in an address: letters of some scripts take nine characters each. */
const MAX_SLUG_ENCODED = 270;

function shortened(words: string): string {
	let short = '';
	let encoded = 0;
	for (const character of words) {
		encoded += encodeURIComponent(character).length;
		if (encoded > MAX_SLUG_ENCODED || short.length + character.length > MAX_SLUG_CHARACTERS) break;
		short += character;
	}
	return short;
}

/** Encodes what RFC 3986 does not allow as `pchar` in a segment. */
function encodeSegment(segment: string): string {
	return encodeURIComponent(segment).replace(/%(?:24|26|2B|2C|3A|3B|3D|40)/g, (escape) =>
		decodeURIComponent(escape)
	);
}
