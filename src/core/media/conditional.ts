/**
 * Conditional requests (RFC 9110 §13): whether to send, and whether a range still fits what the reader has.
 *
 * Preconditions are evaluated in the order of §13.2.2. Example: `If-None-Match: "a"` on a representation tagged `"a"` is
 * answered 304.
 */

export interface Representation {
	/** A strong entity tag, with its quotes. */
	etag: string;
	/** Milliseconds; compared by the second, as HTTP dates are. */
	changedAt: number;
}

/** Fields of the request, as they came. */
export interface Preconditions {
	ifMatch?: string | undefined;
	ifNoneMatch?: string | undefined;
	ifModifiedSince?: string | undefined;
	ifUnmodifiedSince?: string | undefined;
	ifRange?: string | undefined;
}

/** For GET and HEAD. */
export function precondition(asked: Preconditions, { etag, changedAt }: Representation): 'go-on' | 304 | 412 {
	if (asked.ifMatch !== undefined) {
		if (!matches(asked.ifMatch, etag, 'strong')) return 412;
	} else if (asked.ifUnmodifiedSince !== undefined) {
		const since = dateOf(asked.ifUnmodifiedSince);
		if (since !== null && wholeSeconds(changedAt) > since) return 412;
	}
	if (asked.ifNoneMatch !== undefined) return matches(asked.ifNoneMatch, etag, 'weak') ? 304 : 'go-on';
	if (asked.ifModifiedSince !== undefined) {
		const since = dateOf(asked.ifModifiedSince);
		if (since !== null && wholeSeconds(changedAt) <= since) return 304;
	}
	return 'go-on';
}

/**
 * Whether a `Range` is to be heeded (§13.1.5): only if what the reader holds a part of is what we have. A date is a weak
 * validator unless it is exactly ours; a weak tag never counts.
 */
export function heedsRange(ifRange: string | undefined, { etag, changedAt }: Representation): boolean {
	if (ifRange === undefined) return true;
	const given = ifRange.trim();
	if (given.startsWith('"')) return given === etag;
	if (given.startsWith('W/')) return false;
	return dateOf(given) === wholeSeconds(changedAt);
}

/** A list of entity tags, or `*`. */
function matches(list: string, etag: string, how: 'strong' | 'weak'): boolean {
	if (list.trim() === '*') return true;
	const tags = list.match(/(?:W\/)?"[^"]*"/g) ?? [];
	return tags.some((tag) => (how === 'weak' ? tag.replace(/^W\//, '') === etag : tag === etag));
}

/** Of the three forms of §5.6.7 the first is what everybody sends; others are ignored, as they may be. */
function dateOf(text: string): number | null {
	if (!/^(?:Mon|Tue|Wed|Thu|Fri|Sat|Sun), \d{2} \w{3} \d{4} \d{2}:\d{2}:\d{2} GMT$/.test(text.trim()))
		return null;
	const at = Date.parse(text);
	return Number.isNaN(at) ? null : at;
}

function wholeSeconds(at: number): number {
	return Math.floor(at / 1000) * 1000;
}
