import { describe, expect, it, test } from 'vitest';
import {
	dmarcNames,
	domainOfAddress,
	judgeDkim,
	judgeDmarc,
	judgeSpf,
	wantedDkim,
	wantedDmarc,
	wantedSpf,
	type RecordVerdict
} from './sender-records';

const GOOD: RecordVerdict = { state: 'good' };
const MISSING: RecordVerdict = { state: 'missing' };

describe('SPF', () => {
	// RFC 7208, appendix A.1 to A.4, and its §4.5 (which text it is), §4.6.4 (lookups), §5.1 (all), §12 (grammar).
	test.each<[string, string[], RecordVerdict]>([
		['A.1 +all', ['v=spf1 +all'], { state: 'lets-anybody' }],
		['A.1 a -all', ['v=spf1 a -all'], GOOD],
		['A.1 a:example.org', ['v=spf1 a:example.org -all'], GOOD],
		['A.1 mx', ['v=spf1 mx -all'], GOOD],
		['A.1 mx mx:example.org', ['v=spf1 mx mx:example.org -all'], GOOD],
		['A.1 mx/30', ['v=spf1 mx/30 mx:example.org/30 -all'], GOOD],
		['A.1 ptr', ['v=spf1 ptr -all'], GOOD],
		['A.1 ip4', ['v=spf1 ip4:192.0.2.128/28 -all'], GOOD],
		['A.2 include', ['v=spf1 include:example.com include:example.net -all'], GOOD],
		['A.2 redirect', ['v=spf1 redirect=example.com'], GOOD],
		['A.3 exists', ['v=spf1 exists:%{ir}.%{l1r+-}._spf.%{d} -all'], GOOD],
		['6.2 exp', ['v=spf1 mx -all exp=explain._spf.%{d}'], GOOD],
		['none', [], MISSING],
		['other texts', ['site-verification=abc', 'v=spf10 a -all', 'v=spf2.0/pra a'], MISSING],
		['beside other texts', ['site-verification=abc', 'V=SPF1 A -ALL'], GOOD],
		['two', ['v=spf1 a -all', 'v=spf1 mx -all'], { state: 'several', count: 2 }],
		['all alone', ['v=spf1 a all'], { state: 'lets-anybody' }],
		['~all', ['v=spf1 a ~all'], GOOD],
		['no term', ['v=spf1'], GOOD],
		[
			'a mistyped term',
			['v=spf1 inlcude:example.com -all'],
			{ state: 'unreadable', at: 'inlcude:example.com' }
		],
		['an address bare', ['v=spf1 192.0.2.1 -all'], { state: 'unreadable', at: '192.0.2.1' }],
		[
			'ten lookups',
			[`v=spf1 ${Array.from({ length: 9 }, (_, n) => `include:s${n}.example`).join(' ')} mx -all`],
			GOOD
		],
		[
			'eleven lookups',
			[`v=spf1 ${Array.from({ length: 10 }, (_, n) => `include:s${n}.example`).join(' ')} mx -all`],
			{ state: 'too-many-lookups', count: 11 }
		],
		['addresses, which are no lookups', [`v=spf1 ${'ip4:192.0.2.1 '.repeat(20)}ip6:2001:db8::1 -all`], GOOD]
	])('%s', (_name, texts, verdict) => expect(judgeSpf(texts)).toEqual(verdict));

	it('is not known where nobody answers', () => expect(judgeSpf(null)).toEqual({ state: 'no-answer' }));

	it('is wanted with the mail server, beside what stands there', () => {
		expect(wantedSpf('clock.example', 'mail.example', [])).toEqual({
			...{ name: 'clock.example', text: 'v=spf1 a:mail.example ~all' }
		});
		expect(wantedSpf('clock.example', 'mail.example', ['v=spf1 include:news.example +all']).text).toBe(
			'v=spf1 include:news.example a:mail.example ~all'
		);
		expect(wantedSpf('clock.example', '192.0.2.7', []).text).toBe('v=spf1 ip4:192.0.2.7 ~all');
		expect(wantedSpf('clock.example', '2001:db8::7', []).text).toBe('v=spf1 ip6:2001:db8::7 ~all');
		expect(judgeSpf([wantedSpf('clock.example', 'mail.example', null).text])).toEqual(GOOD);
	});
});

describe('DKIM', () => {
	const key = 'MIIBIjANBgkqhkiG9w0BAQEFAAOCAQ8A';
	// RFC 6376 §3.2 (tags), §3.6.1 (of a key).
	test.each<[string, string[], RecordVerdict]>([
		['as wanted', [wantedDkim('clock.example', 'stile1', key).text], GOOD],
		['the key alone', [`p=${key}`], GOOD],
		['with white space folded in', [` v = DKIM1 ;\tp = ${key.slice(0, 9)}\r\n ${key.slice(9)} ; `], GOOD],
		['with tags that nobody knows', [`v=DKIM1; n=a note; p=${key}; x=1`], GOOD],
		['none', [], MISSING],
		['another key', ['v=DKIM1; p=AAAA'], { state: 'another-key' }],
		['taken back', ['v=DKIM1; p='], { state: 'taken-back' }],
		['two', [`p=${key}`, 'p=AAAA'], { state: 'several', count: 2 }],
		['a version that is not first', [`p=${key}; v=DKIM1`], { state: 'unreadable', at: 'v=DKIM1' }],
		['another version', [`v=DKIM2; p=${key}`], { state: 'unreadable', at: 'v=DKIM2' }],
		['another kind of key', [`v=DKIM1; k=ed25519; p=${key}`], { state: 'unreadable', at: 'k=ed25519' }],
		['a tag twice', [`p=${key}; p=${key}`], { state: 'unreadable', at: `p=${key}` }],
		['no key', ['v=DKIM1; k=rsa'], { state: 'unreadable', at: 'v=DKIM1; k=rsa' }],
		['no list of tags', ['hello'], { state: 'unreadable', at: 'hello' }]
	])('%s', (_name, texts, verdict) => expect(judgeDkim(texts, key)).toEqual(verdict));

	it('is not known where nobody answers', () => expect(judgeDkim(null, key)).toEqual({ state: 'no-answer' }));
});

describe('DMARC', () => {
	// RFC 7489 §6.3 (tags), §6.6.3 (which record counts), appendix B.2.
	test.each<[string, string[], RecordVerdict]>([
		['B.2.1', ['v=DMARC1; p=none; rua=mailto:dmarc-feedback@example.com'], GOOD],
		[
			'B.2.2',
			['v=DMARC1; p=none; rua=mailto:dmarc-feedback@example.com; ruf=mailto:auth-reports@example.com'],
			GOOD
		],
		['B.2.4', ['v=DMARC1; p=quarantine; rua=mailto:a@example.com,mailto:b@example.net!10m; pct=25'], GOOD],
		['as wanted', [wantedDmarc('clock.example').text], GOOD],
		['none', [], MISSING],
		['other texts', ['v=spf1 -all', 'v=DMARC2; p=none'], MISSING],
		['two', ['v=DMARC1; p=none', 'v=DMARC1; p=reject'], { state: 'several', count: 2 }],
		['no policy, but reports', ['v=DMARC1; rua=mailto:a@example.com'], GOOD],
		['neither', ['v=DMARC1'], { state: 'unreadable', at: 'v=DMARC1' }],
		['another policy', ['v=DMARC1; p=drop'], { state: 'unreadable', at: 'p=drop' }]
	])('%s', (_name, texts, verdict) => expect(judgeDmarc(texts)).toEqual(verdict));

	it('is looked for at the domain, and outward to what it belongs to', () => {
		expect(dmarcNames('mail.clock.example')).toEqual(['_dmarc.mail.clock.example', '_dmarc.clock.example']);
		expect(dmarcNames('clock.example')).toEqual(['_dmarc.clock.example']);
		const deep = dmarcNames('a.b.c.d.e.f.g.h.i.j.mail.clock.example');
		expect(deep[0]).toBe('_dmarc.a.b.c.d.e.f.g.h.i.j.mail.clock.example');
		expect(deep.at(-1)).toBe('_dmarc.clock.example');
		expect(deep.length).toBeLessThanOrEqual(8);
	});
});

test.each([
	['school@fernhollow.example', 'fernhollow.example'],
	['School@Mail.Fernhollow.EXAMPLE', 'mail.fernhollow.example'],
	['uhren@bücher.example', 'xn--bcher-kva.example'],
	['desk@192.0.2.7', null],
	['desk@localhost', null],
	['desk', null],
	['desk@fern hollow.example', null]
])('the domain of %s is %s', (email, domain) => expect(domainOfAddress(email)).toBe(domain));
