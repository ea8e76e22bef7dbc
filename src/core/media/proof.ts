/**
 * The proof that a stream's addresses carry: who may fetch what, until when.
 *
 * A proof is `<payload>.<tag>`, both base64url without padding (RFC 4648 §5); the payload is JSON, the tag an HMAC over
 * it, made elsewhere. A proof never outlives the decision it was made from. Example: the proof of a member whose grant
 * ends in 10 minutes ends in 10 minutes, though proofs may last 6 hours.
 */
import type { Instant } from '../time/instant';

export interface Proof {
	itemId: string;
	assetId: string;
	/** `null`: a stranger, where anyone may pass. */
	memberId: string | null;
	/** The member's epoch: proofs of an older epoch are void. */
	epoch: number;
	/** `teaser`: only the first seconds, for those who may not see the rest. */
	purpose: 'stream' | 'teaser';
	/** By the wall clock. */
	end: Instant;
	/** Which signing key made the tag. */
	keyId: string;
}

/** Longest life of a stream's proof: a long film with pauses. */
export const STREAM_PROOF_MS = 6 * 3_600_000;

/**
 * The end of a proof by the wall clock.
 * `until` is the decision's, by the business clock, whose present is `businessNow`.
 */
export function proofEnd(until: Instant | null, businessNow: Instant, wallNow: Instant): Instant {
	const longest = wallNow + STREAM_PROOF_MS;
	return until === null ? longest : Math.min(longest, wallNow + (until - businessNow));
}

export function encodeProof(proof: Proof): string {
	const { itemId, assetId, memberId, epoch, purpose, end, keyId } = proof;
	return toBase64Url(JSON.stringify([keyId, purpose, itemId, assetId, memberId, epoch, end]));
}

/** The proof in a payload whose tag was found good; `null` if it is not one of ours. */
export function decodeProof(payload: string): Proof | null {
	let fields: unknown;
	try {
		fields = JSON.parse(fromBase64Url(payload));
	} catch {
		return null;
	}
	if (!Array.isArray(fields) || fields.length !== 7) return null;
	const [keyId, purpose, itemId, assetId, memberId, epoch, end] = fields as unknown[];
	if (typeof keyId !== 'string' || (purpose !== 'stream' && purpose !== 'teaser')) return null;
	if (typeof itemId !== 'string' || typeof assetId !== 'string') return null;
	if (memberId !== null && typeof memberId !== 'string') return null;
	if (!Number.isSafeInteger(epoch) || !Number.isSafeInteger(end)) return null;
	return { keyId, purpose, itemId, assetId, memberId, epoch: epoch as number, end: end as number };
}

export function toBase64Url(text: string): string {
	return btoa(text).replace(/\+/g, '-').replace(/\//g, '_').replace(/=+$/, '');
}

function fromBase64Url(text: string): string {
	if (!/^[A-Za-z0-9_-]*$/.test(text)) throw new SyntaxError('not base64url');
	return atob(text.replace(/-/g, '+').replace(/_/g, '/'));
}
