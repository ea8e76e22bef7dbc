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
		const since = dateOf(asked.ifUnmodifiedSince, changedAt);
		if (since !== null && wholeSeconds(changedAt) > since) return 412;
	}
	if (asked.ifNoneMatch !== undefined) return matches(asked.ifNoneMatch, etag, 'weak') ? 304 : 'go-on';
	if (asked.ifModifiedSince !== undefined) {
		const since = dateOf(asked.ifModifiedSince, changedAt);
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
	return dateOf(given, changedAt) === wholeSeconds(changedAt);
}

/** A list of entity tags, or `*`. */
function matches(list: string, etag: string, how: 'strong' | 'weak'): boolean {
	if (list.trim() === '*') return true;
	const tags = list.match(/(?:W\/)?"[^"]*"/g) ?? [];
	return tags.some((tag) => (how === 'weak' ? tag.replace(/^W\//, '') === etag : tag === etag));
}

const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');
const DAY = '(?:Mon|Tue|Wed|Thu|Fri|Sat|Sun)';
const CLOCK = '(?<h>\\d{2}):(?<m>\\d{2}):(?<s>\\d{2})';
/** The three forms of §5.6.7: as everybody sends it, RFC 850's, and that of C's asctime. */
const DATES = [
	`^${DAY}, (?<day>\\d{2}) (?<month>\\w{3}) (?<year>\\d{4}) ${CLOCK} GMT$`,
	`^(?:Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day, (?<day>\\d{2})-(?<month>\\w{3})-(?<year>\\d{2}) ${CLOCK} GMT$`,
	`^${DAY} (?<month>\\w{3}) (?<day>[ \\d]\\d) ${CLOCK} (?<year>\\d{4})$`
].map((form) => new RegExp(form));

/**
 * An HTTP date as an instant; `null` for what is none. §5.6.7: two digits of a year mean the last such year that is not
 * more than 50 years ahead, here of what we have: the core is told no time.
 */
function dateOf(text: string, changedAt: number): number | null {
	const found = DATES.map((form) => form.exec(text.trim())?.groups).find((groups) => groups !== undefined);
	if (!found) return null;
	const month = MONTHS.indexOf(found.month ?? '');
	const [day, hours, minutes, seconds] = [found.day, found.h, found.m, found.s].map(Number) as [
		number,
		number,
		number,
		number
	];
	let year = Number(found.year);
	if (found.year?.length === 2) {
		const ours = new Date(changedAt).getUTCFullYear();
		year += Math.floor(ours / 100) * 100 + 100;
		while (year > ours + 50) year -= 100;
	}
	const at = Date.UTC(year, month, day, hours, minutes, seconds);
	// A thirtieth of February is none; a leap second counts as the second after it.
	const isThere = month >= 0 && hours < 24 && minutes < 60 && seconds <= 60;
	return isThere && day >= 1 && new Date(Date.UTC(year, month, day)).getUTCDate() === day ? at : null;
}

function wholeSeconds(at: number): number {
	return Math.floor(at / 1000) * 1000;
}
