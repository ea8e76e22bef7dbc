/**
 * The proof that a signed link carries: who may fetch what, for which purpose, until when.
 *
 * A proof is `<payload>.<tag>`, both base64url without padding (RFC 4648 §5); the payload is JSON, the tag an HMAC over
 * it, made elsewhere. A proof never outlives the decision it was made from. Example: the proof of a member whose grant
 * ends in 10 minutes ends in 10 minutes, though proofs may last 6 hours.
 */
import type { Instant } from '../time/instant';

/** `teaser`: only the first seconds, for those who may not see the rest. `file`: the bytes as they were brought in. */
export const PURPOSES = ['stream', 'teaser', 'file'] as const;
export type Purpose = (typeof PURPOSES)[number];

/** For whom a proof was made. A stranger is nobody in particular, where anyone may pass. */
export type Subject = { kind: 'stranger' } | { kind: 'member'; id: string };

export function subjectOf(memberId: string | null): Subject {
	return memberId === null ? { kind: 'stranger' } : { kind: 'member', id: memberId };
}

export function memberOf(subject: Subject): string | null {
	return subject.kind === 'member' ? subject.id : null;
}

export interface Proof {
	itemId: string;
	assetId: string;
	subject: Subject;
	/** The subject's epoch, 0 where it has none: proofs of an older epoch are void. */
	epoch: number;
	purpose: Purpose;
	/** By the wall clock. */
	end: Instant;
	/** Which signing key made the tag. */
	keyId: string;
	/** The use that a press made: all requests for it are one. `null` where nothing is counted. */
	useId: string | null;
	/** The network that the link is tied to, as `networkOf` writes it; `null`: it may be opened from anywhere. */
	network: string | null;
}

/** Longest life of a stream's proof: a long film with pauses. */
export const STREAM_PROOF_MS = 6 * 3_600_000;
/** Longest life of a link to a file: as long as a use goes on, so that a broken download can be resumed. */
export const FILE_PROOF_MS = 24 * 3_600_000;

/**
 * The end of a proof by the wall clock.
 * `until` is the decision's, by the business clock, whose present is `businessNow`.
 */
export function proofEnd(
	until: Instant | null,
	businessNow: Instant,
	wallNow: Instant,
	longestMs = STREAM_PROOF_MS
): Instant {
	const longest = wallNow + longestMs;
	return until === null ? longest : Math.min(longest, wallNow + (until - businessNow));
}

export function encodeProof(proof: Proof): string {
	const { itemId, assetId, subject, epoch, purpose, end, keyId, useId, network } = proof;
	const who = [subject.kind, memberOf(subject)];
	return toBase64Url(JSON.stringify([keyId, purpose, itemId, assetId, ...who, epoch, end, useId, network]));
}

/** The proof in a payload whose tag was found good; `null` if it is not one of ours. */
export function decodeProof(payload: string): Proof | null {
	let fields: unknown;
	try {
		fields = JSON.parse(fromBase64Url(payload));
	} catch {
		return null;
	}
	if (!Array.isArray(fields) || fields.length !== 10) return null;
	const [keyId, rawPurpose, itemId, assetId, who, whoId, epoch, end, useId, network] = fields as unknown[];
	const purpose = PURPOSES.find((one) => one === rawPurpose);
	if (!purpose || typeof keyId !== 'string') return null;
	if (typeof itemId !== 'string' || typeof assetId !== 'string') return null;
	const subject = readSubject(who, whoId);
	if (!subject || !isTextOrNull(useId) || !isTextOrNull(network)) return null;
	if (!Number.isSafeInteger(epoch) || !Number.isSafeInteger(end)) return null;
	return {
		keyId,
		purpose,
		itemId,
		assetId,
		subject,
		epoch: epoch as number,
		end: end as number,
		useId,
		network
	};
}

function readSubject(kind: unknown, id: unknown): Subject | null {
	if (kind === 'stranger') return id === null ? { kind } : null;
	return kind === 'member' && typeof id === 'string' ? { kind, id } : null;
}

function isTextOrNull(value: unknown): value is string | null {
	return value === null || typeof value === 'string';
}

export function toBase64Url(text: string): string {
	return btoa(text).replace(/\+/g, '-').replace(/\//g, '_').replace(/=+$/, '');
}

function fromBase64Url(text: string): string {
	if (!/^[A-Za-z0-9_-]*$/.test(text)) throw new SyntaxError('not base64url');
	return atob(text.replace(/-/g, '+').replace(/_/g, '/'));
}
