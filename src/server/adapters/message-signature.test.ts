import { describe, expect, it, test } from 'vitest';
import { contentDigest, hmacSha256, MAX_AGE_SECONDS, signMessage, verifyMessage } from './message-signature';

const body = new TextEncoder().encode('{"event":"e1"}');
const NOW = 1_800_000_000;
const message = { method: 'POST', path: '/api/payments/notifications', body };

function received(
	over: Partial<{ method: string; path: string; body: Uint8Array }> = {},
	headers: Record<string, string> = {}
) {
	const all: Record<string, string> = { ...signMessage(message, 'secret', NOW), ...headers };
	return { ...message, ...over, header: (name: string) => all[name] ?? null };
}

describe('message signatures', () => {
	// RFC 9421 appendix B.2.5, the example and its shared secret of B.1.5, from memory (a wrong digit would not match).
	it('makes the tag of the RFC’s own example', () => {
		const secret = Buffer.from(
			'uzvJfB4u3N0Jy4T7NZ75MDVcr8zSTInedJtkgcu46YW4XByzNJjxBdtjUkdJPBtbmHhIDi6pcl8jsasjlTMtDQ==',
			'base64'
		);
		const base = [
			'"date": Tue, 20 Apr 2021 02:07:55 GMT',
			'"@authority": example.com',
			'"content-type": application/json',
			'"@signature-params": ("date" "@authority" "content-type");created=1618884473;keyid="test-shared-secret"'
		].join('\n');
		expect(hmacSha256(secret, base)).toBe('pxcQw6G3AjtMBQjwo8XzkZf/bws5LelbaMk5rGIGtE8=');
	});

	// RFC 9530 appendix D / RFC 9421 appendix B.2: the SHA-256 digest of {"hello": "world"}, from memory.
	it('makes the digest of the RFC’s own example', () => {
		expect(contentDigest(new TextEncoder().encode('{"hello": "world"}'))).toBe(
			'sha-256=:X48E9qOokqqrvdts8nOJRJN3OWDUoyWxBf7kbu9DBPE=:'
		);
	});

	it('takes what it signed, to the last second of its life', () => {
		expect(verifyMessage(received(), 'secret', NOW)).toEqual({ ok: true });
		expect(verifyMessage(received(), 'secret', NOW + MAX_AGE_SECONDS)).toEqual({ ok: true });
		expect(verifyMessage(received(), 'secret', NOW + MAX_AGE_SECONDS + 1)).toEqual({
			ok: false,
			code: 'stale'
		});
	});

	test.each([
		['another secret', received(), 'other', 'forged'],
		['another body', received({ body: new TextEncoder().encode('{}') }), 'secret', 'forged'],
		['another path', received({ path: '/api/other' }), 'secret', 'forged'],
		['another method', received({ method: 'PUT' }), 'secret', 'forged'],
		['no signature', received({}, { signature: '' }), 'secret', 'unsigned'],
		['a tag of nothing', received({}, { signature: 'stile=::' }), 'secret', 'unsigned'],
		[
			'fewer components',
			received({}, { 'signature-input': `stile=("@method");created=${NOW};keyid="till"` }),
			'secret',
			'unsigned'
		]
	] as const)('refuses %s', (_, given, secret, code) => {
		expect(verifyMessage(given, secret, NOW)).toEqual({ ok: false, code });
	});
});
