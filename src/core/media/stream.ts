/**
 * What a prepared stream consists of, and which key belongs to which segment.
 *
 * A stream has variants (pictures in several sizes, and the sound), each cut into segments; a key group is a run of
 * segments under one AES-128 key. Example: with 3 segments of 2 s to a group, segment 7 belongs to group 2, whose key
 * covers seconds 12 to 18.
 */

export interface Variant {
	/** `v0`, `v1` … for pictures, `a` for sound: also the folder that its segments lie in. */
	id: string;
	kind: 'video' | 'audio';
	/** RFC 6381 codec string. */
	codecs: string;
	/** Peak of the encrypted segments. */
	bitsPerSecond: number;
	width: number | null;
	height: number | null;
	/** Length of each segment, in order. */
	segmentSeconds: number[];
}

export interface PreparedStream {
	variants: Variant[];
}

/** 3 segments of 2 s: the revoked see at most one group more than was fetched. */
export const SEGMENTS_PER_KEY = 3;

export const SEGMENT_SECONDS = 2;

export function keyGroupOf(segment: number): number {
	return Math.floor(segment / SEGMENTS_PER_KEY);
}

/** The part of a variant that begins within the first seconds: what a teaser shows. */
export function firstSeconds(variant: Variant, seconds: number): Variant {
	let start = 0;
	const kept = variant.segmentSeconds.filter((length) => {
		const isWithin = start < seconds;
		start += length;
		return isWithin;
	});
	return { ...variant, segmentSeconds: kept };
}

/**
 * The context that a stream key is derived for (HKDF's `info`, RFC 5869): a label and fields, each with its length in
 * front as 4 bytes, so that no two different lists of fields give the same bytes.
 */
export function keyContext(label: string, fields: readonly string[]): Uint8Array {
	const encoder = new TextEncoder();
	const parts = [label, ...fields].map((field) => encoder.encode(field));
	const out = new Uint8Array(parts.reduce((sum, part) => sum + 4 + part.length, 0));
	const view = new DataView(out.buffer);
	let at = 0;
	for (const part of parts) {
		view.setUint32(at, part.length);
		out.set(part, at + 4);
		at += 4 + part.length;
	}
	return out;
}

/** RFC 8216 §5.2: without an IV attribute, the IV is the media sequence number as a 128-bit big-endian integer. */
export function sequenceIv(segment: number): Uint8Array {
	const iv = new Uint8Array(16);
	new DataView(iv.buffer).setBigUint64(8, BigInt(segment));
	return iv;
}
