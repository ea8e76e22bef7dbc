/**
 * Which bytes of a representation a `Range` header asks for (RFC 9110 §14).
 *
 * What cannot be read, other units and far too many ranges are ignored, as the RFC allows: the whole is sent. Ranges that
 * overlap or almost touch are joined. Example: of 10,000 bytes, `bytes=-500` is bytes 9500 to 9999.
 */

/** First and last byte, both included. */
export interface ByteRange {
	first: number;
	last: number;
}

export type AskedBytes =
	| { kind: 'whole' }
	| { kind: 'part'; range: ByteRange }
	| { kind: 'parts'; ranges: ByteRange[] }
	/** 416: none of what is asked for exists. */
	| { kind: 'unsatisfiable' };

/** RFC 9110 §14.2 lets a server ignore many small ranges: they ask for more work than bytes. */
const MAX_SPECS = 64;
const MAX_PARTS = 8;
/** RFC 9110 §15.3.7.2: parts that are nearer than the headers between them may be joined. */
const JOIN_GAP = 80;

const WHOLE: AskedBytes = { kind: 'whole' };

/**
 * @param header the field as it came; `undefined` without one
 * @param size of the whole, in bytes
 */
export function askedBytes(header: string | undefined, size: number): AskedBytes {
	if (header === undefined) return WHOLE;
	const specs = specsOf(header);
	if (!specs) return WHOLE;
	const ranges: ByteRange[] = [];
	for (const spec of specs) {
		const range = within(spec, size);
		if (range) ranges.push(range);
	}
	if (ranges.length === 0) return { kind: 'unsatisfiable' };
	const joined = ranges.length === 1 ? ranges : joinedRanges(ranges);
	const [range] = joined;
	if (range && joined.length === 1) return { kind: 'part', range };
	return joined.length > MAX_PARTS ? WHOLE : { kind: 'parts', ranges: joined };
}

export function lengthOf({ first, last }: ByteRange): number {
	return last - first + 1;
}

/** `bytes 0-499/10000` */
export function contentRange({ first, last }: ByteRange, size: number): string {
	return `bytes ${first}-${last}/${size}`;
}

interface Spec {
	first: number | null;
	/** The last byte, or without a first one, how many from the end. */
	last: number | null;
}

/** `null`: not bytes, or not as RFC 9110 §14.1.1 writes it. */
function specsOf(header: string): Spec[] | null {
	const match = /^bytes=(.*)$/i.exec(header.trim());
	if (!match) return null;
	const texts = (match[1] ?? '').split(',').map((text) => text.trim());
	// Empty list elements are allowed (RFC 9110 §5.6.1.2).
	const given = texts.filter((text) => text !== '');
	if (given.length === 0 || given.length > MAX_SPECS) return null;
	const specs: Spec[] = [];
	for (const text of given) {
		const parts = /^(\d*)-(\d*)$/.exec(text);
		if (!parts || (parts[1] === '' && parts[2] === '')) return null;
		const first = numberOf(parts[1]);
		const last = numberOf(parts[2]);
		// "A recipient of an int-range whose last-pos is less than first-pos is invalid" (§14.1.1).
		if (first !== null && last !== null && last < first) return null;
		specs.push({ first, last });
	}
	return specs;
}

/** Numbers past the largest safe integer are past the end of every file. */
function numberOf(digits: string | undefined): number | null {
	return digits ? Math.min(Number(digits), Number.MAX_SAFE_INTEGER) : null;
}

function within({ first, last }: Spec, size: number): ByteRange | null {
	if (first === null) {
		const length = Math.min(last ?? 0, size);
		return length === 0 ? null : { first: size - length, last: size - 1 };
	}
	return first >= size ? null : { first, last: Math.min(last ?? size - 1, size - 1) };
}

/**
 * Overlapping and almost touching ones are joined. They are given in the order in which they were asked for (RFC 9110
 * §15.3.7.2); what was joined stands where its first part was asked for.
 */
function joinedRanges(ranges: readonly ByteRange[]): ByteRange[] {
	const ascending = ranges.map((range, asked) => ({ ...range, asked })).sort((a, b) => a.first - b.first);
	const joined: typeof ascending = [];
	for (const range of ascending) {
		const before = joined.at(-1);
		if (before && range.first <= before.last + JOIN_GAP) {
			before.last = Math.max(before.last, range.last);
			before.asked = Math.min(before.asked, range.asked);
		} else joined.push(range);
	}
	return joined.sort((a, b) => a.asked - b.asked).map(({ first, last }) => ({ first, last }));
}
