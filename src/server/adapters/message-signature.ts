/**
 * HTTP Message Signatures (RFC 9421) with hmac-sha256, and Content-Digest (RFC 9530), as far as notifications need them:
 * one signature over the method, the path, the digest of the body and the time it was made.
 */
import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import type { SignedMessage, Verified } from '../ports/signatures';

export interface SignatureHeaders {
	'content-digest': string;
	'signature-input': string;
	signature: string;
}

const LABEL = 'stile';
const COMPONENTS = '("@method" "@path" "content-digest")';

/** A notification made longer ago than this is not taken: it may be a copy. */
export const MAX_AGE_SECONDS = 300;

export function signMessage(
	message: { method: string; path: string; body: Uint8Array },
	secret: string,
	createdSeconds: number,
	signer = 'till'
): SignatureHeaders {
	const digest = contentDigest(message.body);
	const parameters = `${COMPONENTS};created=${createdSeconds};keyid="${signer}";alg="hmac-sha256"`;
	const base = signatureBase(message.method, message.path, digest, parameters);
	return {
		'content-digest': digest,
		'signature-input': `${LABEL}=${parameters}`,
		signature: `${LABEL}=:${hmacSha256(Buffer.from(secret), base)}:`
	};
}

/** Who says to have signed it: to be believed once the signature is verified. */
export function signerOf({ header }: Pick<SignedMessage, 'header'>): string | null {
	return /;keyid="([\w-]{1,64})"/.exec(header('signature-input') ?? '')?.[1] ?? null;
}

export function verifyMessage(message: SignedMessage, secret: string, nowSeconds: number): Verified {
	const digest = message.header('content-digest');
	const parameters = message.header('signature-input')?.replace(`${LABEL}=`, '');
	const given = new RegExp(`^${LABEL}=:([A-Za-z0-9+/=]+):$`).exec(message.header('signature') ?? '')?.[1];
	if (!digest || !parameters || !given) return { ok: false, code: 'unsigned' };
	const created = Number(/;created=(\d{1,12});/.exec(parameters)?.[1] ?? NaN);
	if (!parameters.startsWith(COMPONENTS + ';')) return { ok: false, code: 'unsigned' };
	const expected = hmacSha256(
		Buffer.from(secret),
		signatureBase(message.method, message.path, digest, parameters)
	);
	if (!isSame(given, expected) || digest !== contentDigest(message.body))
		return { ok: false, code: 'forged' };
	if (!(Math.abs(nowSeconds - created) <= MAX_AGE_SECONDS)) return { ok: false, code: 'stale' };
	return { ok: true };
}

/** RFC 9530 §2. */
export function contentDigest(body: Uint8Array): string {
	return `sha-256=:${createHash('sha256').update(body).digest('base64')}:`;
}

/** RFC 9421 §3.3.3. */
export function hmacSha256(secret: Uint8Array, base: string): string {
	return createHmac('sha256', secret).update(base).digest('base64');
}

/** RFC 9421 §2.5: one component a line, the parameters last. */
function signatureBase(method: string, path: string, digest: string, parameters: string): string {
	return [
		`"@method": ${method}`,
		`"@path": ${path}`,
		`"content-digest": ${digest}`,
		`"@signature-params": ${parameters}`
	].join('\n');
}

function isSame(a: string, b: string): boolean {
	const left = Buffer.from(a);
	const right = Buffer.from(b);
	return left.length === right.length && timingSafeEqual(left, right);
}
