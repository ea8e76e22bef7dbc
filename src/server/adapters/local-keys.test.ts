import { describe, expect, it, test } from 'vitest';
import type { Proof } from '$core/media/proof';
import { localKeys, tagOf } from './local-keys';

const old = { id: 'k1', bytes: Buffer.alloc(32, 1) };
const fresh = { id: 'k2', bytes: Buffer.alloc(32, 2) };
const proof: Omit<Proof, 'keyId'> = {
	itemId: 'item',
	assetId: 'asset',
	subject: { kind: 'member', id: 'member' },
	epoch: 3,
	purpose: 'file',
	end: 1_800_000_000_000,
	useId: 'use',
	network: '192.0.2.0/24'
};

// RFC 4231 §4.2, §4.3 and §4.7.
test.each([
	[Buffer.alloc(20, 0x0b), 'Hi There', 'b0344c61d8db38535ca8afceaf0bf12b881dc200c9833da726e9376c2e32cff7'],
	[
		Buffer.from('Jefe'),
		'what do ya want for nothing?',
		'5bdcc146bf60754e6a042426089575c75a003f089d2739839dec58b964ec3843'
	],
	[
		Buffer.alloc(131, 0xaa),
		'Test Using Larger Than Block-Size Key - Hash Key First',
		'60e431591ee0b67f0d8a26aacbf5b77f8e0bc6213728c5140546040f0ee37f54'
	]
])('the tag of a link is HMAC-SHA-256 (%#)', (key, data, tag) => {
	expect(tagOf(key, data).toString('hex')).toBe(tag);
});

describe('keys', () => {
	it('read back what they signed', () => {
		const keys = localKeys([old]);
		expect(keys.verify(keys.sign(proof))).toEqual({ ...proof, keyId: 'k1' });
		expect(keys.readText('look', keys.signText('look', 'as Wren'))).toBe('as Wren');
	});

	it('refuse whatever was changed, and what was signed for another purpose', () => {
		const keys = localKeys([old]);
		const signed = keys.sign(proof);
		for (let at = 0; at < signed.length - 1; at += 7) {
			const changed = signed.slice(0, at) + (signed[at] === 'A' ? 'B' : 'A') + signed.slice(at + 1);
			expect(keys.verify(changed), String(at)).toBeNull();
		}
		for (const wrong of ['', '.', '..', signed.split('.')[0] ?? '', `${signed}.x`])
			expect(keys.verify(wrong)).toBeNull();
		expect(keys.readText('enter', keys.signText('look', 'as Wren'))).toBeNull();
	});

	it('rotate: the new one signs, the old one is read until it is taken out', () => {
		const before = localKeys([old]);
		const [link, text, secret] = [before.sign(proof), before.signText('look', 'x'), before.newSecret()];
		const during = localKeys([fresh, old]);
		expect(during.verify(link)?.keyId).toBe('k1');
		expect(during.readText('look', text)).toBe('x');
		expect(during.streamKey(secret, 'v0', 0)).toEqual(before.streamKey(secret, 'v0', 0));
		expect(during.verify(during.sign(proof))?.keyId).toBe('k2');
		const after = localKeys([fresh]);
		expect(after.verify(link)).toBeNull();
		expect(after.readText('look', text)).toBeNull();
		expect(() => after.streamKey(secret, 'v0', 0)).toThrow(/STILE_OLD_MASTER_KEYS/);
	});

	it('of a stream differ by variant and group', () => {
		const keys = localKeys([old]);
		const secret = keys.newSecret();
		const made = [
			keys.streamKey(secret, 'v0', 0),
			keys.streamKey(secret, 'v0', 1),
			keys.streamKey(secret, 'v1', 0),
			keys.streamKey(keys.newSecret(), 'v0', 0)
		].map((key) => key.toString('hex'));
		expect(new Set(made).size).toBe(4);
	});
});
