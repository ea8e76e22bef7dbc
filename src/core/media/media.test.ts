import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import {
	decodeProof,
	memberOf,
	subjectOf,
	encodeProof,
	FILE_PROOF_MS,
	proofEnd,
	STREAM_PROOF_MS,
	toBase64Url,
	type Proof
} from './proof';
import { keyContext, keyGroupOf, sequenceIv } from './stream';

const proof: Proof = {
	itemId: 'item',
	assetId: 'asset',
	subject: { kind: 'member', id: 'member' },
	epoch: 3,
	purpose: 'stream',
	end: 1_800_000_000_000,
	keyId: 'k1',
	useId: null,
	network: null
};

describe('proofs', () => {
	it('are read back as they were', () => {
		expect(decodeProof(encodeProof(proof))).toEqual(proof);
		const stranger: Proof = { ...proof, subject: { kind: 'stranger' } };
		expect(decodeProof(encodeProof(stranger))).toEqual(stranger);
		expect([proof, stranger].map(({ subject }) => subjectOf(memberOf(subject)))).toEqual([
			proof.subject,
			stranger.subject
		]);
		// Whatever characters the encoding has, those beyond letters and digits included.
		for (const itemId of ['~~~???', 'aa??>>', '>>>', '???', '~']) {
			const payload = encodeProof({ ...proof, itemId });
			expect(payload).toMatch(/^[A-Za-z0-9_-]+$/);
			expect(decodeProof(payload)?.itemId).toBe(itemId);
		}
	});

	test.each([
		['nothing', ''],
		['not base64url', '###'],
		['not JSON', toBase64Url('{')],
		['too few fields', toBase64Url('["k","stream","i","a","stranger",null,1,2,null]')],
		['another purpose', toBase64Url('["k","upload","i","a","stranger",null,1,2,null,null]')],
		['an end that is no number', toBase64Url('["k","stream","i","a","stranger",null,1,null,null,null]')],
		['an epoch that is a fraction', toBase64Url('["k","stream","i","a","stranger",null,1.5,2,null,null]')],
		['no list', toBase64Url('{"length":10}')],
		['too many fields', toBase64Url('["k","stream","i","a","stranger",null,1,2,null,null,null]')],
		['a key that is no text', toBase64Url('[7,"stream","i","a","stranger",null,1,2,null,null]')],
		['an item that is no text', toBase64Url('["k","stream",7,"a","stranger",null,1,2,null,null]')],
		['content that is no text', toBase64Url('["k","stream","i",7,"stranger",null,1,2,null,null]')],
		['a good one with a sign too many', `${encodeProof(proof)}=`],
		['a good one with a sign before it', `.${encodeProof(proof)}`],
		['a member without an id', toBase64Url('["k","stream","i","a","member",null,1,2,null,null]')],
		['a stranger with one', toBase64Url('["k","stream","i","a","stranger","m",1,2,null,null]')],
		['somebody of another kind', toBase64Url('["k","stream","i","a","owner","m",1,2,null,null]')],
		['a use that is no text', toBase64Url('["k","file","i","a","stranger",null,1,2,7,null]')]
	])('are refused: %s', (_, payload) => {
		expect(decodeProof(payload)).toBeNull();
	});

	it('never outlive the decision', () => {
		const wall = 1_000_000;
		const business = 5_000_000;
		expect(proofEnd(null, business, wall)).toBe(wall + STREAM_PROOF_MS);
		expect(proofEnd(business + 60_000, business, wall)).toBe(wall + 60_000);
		expect(proofEnd(business + STREAM_PROOF_MS * 2, business, wall)).toBe(wall + STREAM_PROOF_MS);
		// Six hours for a film, a day for a file.
		expect(proofEnd(null, business, wall)).toBe(wall + 21_600_000);
		expect(proofEnd(null, business, wall, FILE_PROOF_MS)).toBe(wall + 86_400_000);
	});

	// RFC 4648 §10, in base64url without padding
	test.each([
		['', ''],
		['f', 'Zg'],
		['fo', 'Zm8'],
		['foo', 'Zm9v'],
		['foob', 'Zm9vYg'],
		['fooba', 'Zm9vYmE'],
		['foobar', 'Zm9vYmFy'],
		// §5: the letters 62 and 63.
		['>>>???', 'Pj4-Pz8_'],
		['~~~~', 'fn5-fg']
	])('base64url of "%s"', (text, encoded) => {
		expect(toBase64Url(text)).toBe(encoded);
	});
});

describe('stream keys', () => {
	it('change every three segments', () => {
		expect([0, 1, 2, 3, 5, 6, 7].map(keyGroupOf)).toEqual([0, 0, 0, 1, 1, 2, 2]);
	});

	it('have contexts that no other list of fields shares', () => {
		const lists = fc.array(fc.string(), { minLength: 1, maxLength: 4 });
		fc.assert(
			fc.property(lists, lists, (a, b) => {
				fc.pre(JSON.stringify(a) !== JSON.stringify(b));
				expect(Buffer.from(keyContext('key', a)).equals(Buffer.from(keyContext('key', b)))).toBe(false);
			}),
			{ seed: 20261124 }
		);
		expect(keyContext('key', ['ab', 'c'])).not.toEqual(keyContext('key', ['a', 'bc']));
	});

	it('count the IV as a big-endian number', () => {
		expect(Buffer.from(sequenceIv(258)).toString('hex')).toBe('00000000000000000000000000000102');
	});
});
