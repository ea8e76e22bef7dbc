import { Secret, URI } from 'otpauth';
import { describe, expect, it, test } from 'vitest';
import {
	appAddress,
	codeAt,
	newFactorSecret,
	newRecoveryCode,
	RECOVERY_CODES,
	readTypedCode,
	stepOf
} from './second-factor';

/** The key of RFC 6238, appendix B: the digits 1 to 0, twice. */
const RFC_SECRET = Secret.fromUTF8('12345678901234567890').base32;

// RFC 6238, appendix B, SHA1. It writes eight digits; a code of six is the last six of them (RFC 4226 §5.3).
test.each([
	[59, '94287082'],
	[1_111_111_109, '07081804'],
	[1_111_111_111, '14050471'],
	[1_234_567_890, '89005924'],
	[2_000_000_000, '69279037'],
	[20_000_000_000, '65353130']
])('has the code of RFC 6238 at second %i', (second, eight) => {
	expect(codeAt(RFC_SECRET, second * 1000)).toBe(eight.slice(2));
});

// RFC 4226, appendix D: the codes of the counters 0 to 9 for the same key; a step of RFC 6238 is such a counter.
test.each(
	'755224 287082 359152 969429 338314 254676 287922 162583 399871 520489'
		.split(' ')
		.map((code, counter) => [counter, code] as const)
)('has the code of RFC 4226 for counter %i', (counter, code) => {
	expect(codeAt(RFC_SECRET, counter * 30_000)).toBe(code);
	expect(codeAt(RFC_SECRET, counter * 30_000 + 29_999)).toBe(code);
});

describe('a code that is typed', () => {
	const at = (step: number) => step * 30_000;
	const code = (step: number) => codeAt(RFC_SECRET, at(step));

	it.each([
		['of now', 1000, at(1000), 1000],
		['of the step before', 999, at(1000), 999],
		['of the step after', 1001, at(1000), 1001],
		['of two steps before', 998, at(1000), null],
		['of two steps after', 1002, at(1000), null],
		['at the last millisecond of the step after its own', 999, at(1001) - 1, 999],
		['a millisecond later', 999, at(1001), null]
	])('%s', (_, step, now, expected) => {
		expect(stepOf(RFC_SECRET, code(step), now, 0)).toBe(expected);
	});

	it('counts once, and none before it counts any more', () => {
		expect(stepOf(RFC_SECRET, code(1000), at(1000), 999)).toBe(1000);
		expect(stepOf(RFC_SECRET, code(1000), at(1000), 1000)).toBeNull();
		expect(stepOf(RFC_SECRET, code(999), at(1000), 1000)).toBeNull();
		expect(stepOf(RFC_SECRET, code(1001), at(1000), 1000)).toBe(1001);
	});

	it('is read as people group it, and told from a recovery code', () => {
		expect(readTypedCode(' 123 456 ')).toEqual({ kind: 'app', code: '123456' });
		const recovery = newRecoveryCode();
		const read = readTypedCode(recovery);
		expect(read?.kind).toBe('recovery');
		expect(readTypedCode(recovery.toLowerCase().replaceAll('-', ' '))).toEqual(read);
	});

	it.each([
		'',
		'12345',
		'1234567',
		'12345a',
		'１２３４５６',
		'ABCD-EFGH-JKLM-NPQ',
		'ABCD-EFGH-JKLM-NPQ0',
		'x'.repeat(5000)
	])('is none: %s', (typed) => {
		expect(readTypedCode(typed)).toBeNull();
	});
});

it('names the site and the member to the app, whatever stands in their names', () => {
	const secret = newFactorSecret();
	const address = appAddress(secret, { site: 'Clocks: & more?', email: 'wren+x@mail.example' });
	const read = URI.parse(address);
	expect(read).toMatchObject({ issuer: 'Clocks  & more?', label: 'wren+x@mail.example', digits: 6 });
	expect(read.secret.base32).toBe(secret);
	expect(read.secret.bytes).toHaveLength(20);
});

it('makes recovery codes of which none is like another', () => {
	const codes = Array.from({ length: 100 * RECOVERY_CODES }, newRecoveryCode);
	expect(new Set(codes).size).toBe(codes.length);
	for (const code of codes) expect(code).toMatch(/^(?:[A-HJ-NP-Z2-9]{4}-){3}[A-HJ-NP-Z2-9]{4}$/);
});
