import {
	createCipheriv,
	createDecipheriv,
	createHmac,
	hkdfSync,
	randomBytes,
	timingSafeEqual
} from 'node:crypto';
import { decodeProof, encodeProof } from '$core/media/proof';
import { keyContext } from '$core/media/stream';
import type { Keys } from '../ports/keys';

const NONCE_BYTES = 12;
const TAG_BYTES = 16;

/** Keys derived in this process (HKDF-SHA-256, RFC 5869); secrets wrapped with AES-256-GCM. */
export function localKeys(masterKey: Buffer, keyId: string): Keys {
	const derive = (label: string) =>
		Buffer.from(hkdfSync('sha256', masterKey, '', keyContext(label, [keyId]), 32));
	const signingKey = derive('stile proof');
	const wrappingKey = derive('stile wrap');
	const tagOf = (payload: string) => createHmac('sha256', signingKey).update(payload).digest();

	function unwrap(wrapped: string): Buffer {
		const bytes = Buffer.from(wrapped, 'base64');
		const decipher = createDecipheriv('aes-256-gcm', wrappingKey, bytes.subarray(0, NONCE_BYTES));
		decipher.setAuthTag(bytes.subarray(-TAG_BYTES));
		return Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES, -TAG_BYTES)), decipher.final()]);
	}

	return {
		sign(proof) {
			const payload = encodeProof({ ...proof, keyId });
			return `${payload}.${tagOf(payload).toString('base64url')}`;
		},
		verify(signed) {
			const [payload = '', tag = '', ...rest] = signed.split('.');
			const given = Buffer.from(tag, 'base64url');
			const expected = tagOf(payload);
			if (rest.length > 0 || given.length !== expected.length || !timingSafeEqual(given, expected))
				return null;
			const proof = decodeProof(payload);
			return proof?.keyId === keyId ? proof : null;
		},
		signText(purpose, text) {
			const payload = Buffer.from(text).toString('base64url');
			return `${payload}.${tagOf(`${purpose}.${payload}`).toString('base64url')}`;
		},
		readText(purpose, signed) {
			const [payload = '', tag = '', ...rest] = signed.split('.');
			const given = Buffer.from(tag, 'base64url');
			const expected = tagOf(`${purpose}.${payload}`);
			if (rest.length > 0 || given.length !== expected.length || !timingSafeEqual(given, expected))
				return null;
			return Buffer.from(payload, 'base64url').toString('utf8');
		},
		newSecret() {
			const nonce = randomBytes(NONCE_BYTES);
			const cipher = createCipheriv('aes-256-gcm', wrappingKey, nonce);
			const sealed = Buffer.concat([cipher.update(randomBytes(32)), cipher.final()]);
			return { keyId, wrapped: Buffer.concat([nonce, sealed, cipher.getAuthTag()]).toString('base64') };
		},
		streamKey(secret, variantId, group) {
			if (secret.keyId !== keyId)
				throw new Error(`The stream was prepared under key ${secret.keyId}, which is not loaded`);
			const info = keyContext('stile stream', [variantId, String(group)]);
			return Buffer.from(hkdfSync('sha256', unwrap(secret.wrapped), '', info, 16));
		}
	};
}
