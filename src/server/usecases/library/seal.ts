import { createCipheriv } from 'node:crypto';

/** AES-128-CBC with PKCS#7 padding, as RFC 8216 §4.3.2.4 wants segments encrypted. */
export function seal(clear: Uint8Array, key: Uint8Array, iv: Uint8Array): Buffer {
	const cipher = createCipheriv('aes-128-cbc', key, iv);
	return Buffer.concat([cipher.update(clear), cipher.final()]);
}
