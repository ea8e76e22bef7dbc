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

export interface MasterKey {
	id: string;
	bytes: Buffer;
}

interface Derived {
	id: string;
	signing: Buffer;
	wrapping: Buffer;
}

/**
 * Keys derived in this process (HKDF-SHA-256, RFC 5869); secrets wrapped with AES-256-GCM. The first master key makes what
 * is new; the older ones still read what they made, until they are taken out.
 */
export function localKeys(masterKeys: readonly MasterKey[]): Keys {
	const ring = new Map(masterKeys.map(({ id, bytes }) => [id, derived(id, bytes)]));
	const current = ring.get(masterKeys[0]?.id ?? '');
	if (!current) throw new Error('There is no master key');
	const { id: currentId, signing } = current;

	return {
		sign(proof) {
			const payload = encodeProof({ ...proof, keyId: currentId });
			return `${payload}.${tagOf(signing, payload).toString('base64url')}`;
		},
		verify(signed) {
			const [payload = '', tag = '', ...rest] = signed.split('.');
			const proof = rest.length > 0 ? null : decodeProof(payload);
			// The key is looked up by what the link says of itself; nothing else of it counts before its tag is good.
			const key = proof && ring.get(proof.keyId);
			return key && isTag(tag, tagOf(key.signing, payload)) ? proof : null;
		},
		signText(purpose, text) {
			const payload = Buffer.from(text).toString('base64url');
			return `${payload}.${currentId}.${tagOf(signing, `${purpose}.${payload}`).toString('base64url')}`;
		},
		readText(purpose, signed) {
			const [payload = '', keyId = '', tag = '', ...rest] = signed.split('.');
			const key = rest.length > 0 ? undefined : ring.get(keyId);
			if (!key || !isTag(tag, tagOf(key.signing, `${purpose}.${payload}`))) return null;
			return Buffer.from(payload, 'base64url').toString('utf8');
		},
		newSecret() {
			return { keyId: currentId, wrapped: wrap(current, randomBytes(32)) };
		},
		seal(purpose, text) {
			return { keyId: currentId, wrapped: wrap(current, Buffer.from(text), purpose) };
		},
		unseal(purpose, { keyId, wrapped }) {
			const key = ring.get(keyId);
			if (!key) return null;
			try {
				return unwrap(key, wrapped, purpose).toString('utf8');
			} catch {
				return null;
			}
		},
		canOpen(secret) {
			const key = ring.get(secret.keyId);
			if (!key) return 'unknown';
			try {
				unwrap(key, secret.wrapped);
				return 'yes';
			} catch {
				return 'wrong';
			}
		},
		streamKey(secret, variantId, group) {
			const key = ring.get(secret.keyId);
			if (!key)
				throw new Error(
					`The stream was prepared under key ${secret.keyId}, which is not loaded: add it to STILE_OLD_MASTER_KEYS`
				);
			const info = keyContext('stile stream', [variantId, String(group)]);
			return Buffer.from(hkdfSync('sha256', unwrap(key, secret.wrapped), '', info, 16));
		}
	};
}

function derived(id: string, bytes: Buffer): Derived {
	const derive = (label: string) => Buffer.from(hkdfSync('sha256', bytes, '', keyContext(label, [id]), 32));
	return { id, signing: derive('stile proof'), wrapping: derive('stile wrap') };
}

/** HMAC-SHA-256 (RFC 2104), checked against RFC 4231. */
export function tagOf(key: Buffer, payload: string): Buffer {
	return createHmac('sha256', key).update(payload).digest();
}

function isTag(given: string, expected: Buffer): boolean {
	const bytes = Buffer.from(given, 'base64url');
	return bytes.length === expected.length && timingSafeEqual(bytes, expected);
}

/** @param purpose nothing else opens it */
function wrap({ wrapping }: Derived, bytes: Buffer, purpose = ''): string {
	const nonce = randomBytes(NONCE_BYTES);
	const cipher = createCipheriv('aes-256-gcm', wrapping, nonce).setAAD(Buffer.from(purpose));
	const sealed = Buffer.concat([cipher.update(bytes), cipher.final()]);
	return Buffer.concat([nonce, sealed, cipher.getAuthTag()]).toString('base64');
}

function unwrap({ wrapping }: Derived, wrapped: string, purpose = ''): Buffer {
	const bytes = Buffer.from(wrapped, 'base64');
	const decipher = createDecipheriv('aes-256-gcm', wrapping, bytes.subarray(0, NONCE_BYTES));
	decipher.setAAD(Buffer.from(purpose));
	decipher.setAuthTag(bytes.subarray(-TAG_BYTES));
	return Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES, -TAG_BYTES)), decipher.final()]);
}
