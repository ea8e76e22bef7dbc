import type { Proof } from '$core/media/proof';

/** Everything that is made from the master key. */
export interface Keys {
	/** A signed proof, for a path. */
	sign(proof: Omit<Proof, 'keyId'>): string;
	/** The proof, if its tag is good; its end and epoch are still to be checked. */
	verify(signed: string): Proof | null;
	/** A text that carries its own tag, for an address; `purpose` keeps one kind from being taken for another. */
	signText(purpose: string, text: string): string;
	/** The text, if its tag is good for the purpose. */
	readText(purpose: string, signed: string): string | null;
	/** A new random secret for an asset's version, wrapped for the database. */
	newSecret(): { keyId: string; wrapped: string };
	/** A text for the database; whoever reads it names the same purpose, so that rows cannot be exchanged. */
	seal(purpose: string, text: string): { keyId: string; wrapped: string };
	/** What was sealed; `null` where its master key is not loaded, or it is for another purpose. */
	unseal(purpose: string, secret: { keyId: string; wrapped: string }): string | null;
	/** `unknown`: its master key is not loaded; `wrong`: the one of that name does not open it. */
	canOpen(secret: { keyId: string; wrapped: string }): 'yes' | 'unknown' | 'wrong';
	/** The AES-128 key of one key group. */
	streamKey(secret: { keyId: string; wrapped: string }, variantId: string, group: number): Buffer;
}
