/** A call as it came. */
export interface SignedMessage {
	method: string;
	path: string;
	header: (name: string) => string | null;
	body: Uint8Array;
}

export type Verified = { ok: true } | { ok: false; code: 'unsigned' | 'forged' | 'stale' };

/** Calls that carry their own proof (RFC 9421). */
export interface Signatures {
	/** Who says to have signed it: to be believed once the signature is verified. */
	signerOf(message: Pick<SignedMessage, 'header'>): string | null;
	verify(message: SignedMessage, secret: string, nowSeconds: number): Verified;
	/** The headers that prove a call of ours. */
	sign(
		message: Pick<SignedMessage, 'method' | 'path' | 'body'>,
		secret: string,
		nowSeconds: number,
		signer: string
	): Record<string, string>;
}
