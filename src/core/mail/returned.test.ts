import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	FATES,
	isWorse,
	mailIdOf,
	readRefusal,
	readReport,
	readToldReport,
	whyHeld,
	type Fate
} from './returned';

const ID = '0190b5e2-7c1a-7000-8000-0123456789ab';
const ORIGINAL = `Received: from a by b\r\nMessage-ID: <${ID}@clock.example>\r\nSubject: Your gift\r\n\r\nA body\r\nMessage-ID: <other>\r\n`;

const status = (recipient: string) =>
	readReport({
		status: `Reporting-MTA: dns; mx.mail.example\r\n\r\nFinal-Recipient: rfc822; wren@mail.example\r\n${recipient}\r\n`,
		feedback: null,
		original: ORIGINAL
	});

/** The example of RFC 3464, appendix E.1, with a Message-ID of ours (from memory). */
const RFC3464 = `Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;louisl@larry.slip.umd.edu
Final-Recipient: rfc822;louisl@larry.slip.umd.edu
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400
`;

/** The example of RFC 5965, appendix B.1 (from memory). */
const RFC5965 = `Feedback-Type: abuse\r\nUser-Agent: SomeGenerator/1.0\r\nVersion: 1\r\n`;

describe('a report of a mail', () => {
	it('reads the example of RFC 3464', () => {
		expect(readReport({ status: RFC3464, feedback: null, original: ORIGINAL })).toEqual({
			...{ mailId: ID, fate: 'refused', code: '4.0.0', words: '426 connection timed out' }
		});
	});

	it('reads the example of RFC 5965', () => {
		expect(readReport({ status: null, feedback: RFC5965, original: ORIGINAL })).toEqual({
			...{ mailId: ID, fate: 'complaint', code: null, words: 'abuse' }
		});
	});

	// The codes are those of RFC 3463, RFC 6710 and RFC 7505.
	it.each([
		['5.1.1', 'gone'],
		['5.1.2', 'gone'],
		['5.1.3', 'gone'],
		['5.1.6', 'gone'],
		['5.1.10', 'gone'],
		['5.2.1', 'gone'],
		['5.2.2', 'refused'],
		['5.1.8', 'refused'],
		['5.7.1', 'refused'],
		['5.1.11', 'refused'],
		['4.4.7', 'refused']
	])('takes a failed delivery of %s for %s', (code, fate) => {
		expect(status(`Action: failed\r\nStatus: ${code}`)).toMatchObject({ fate, code });
	});

	it('tells what is still tried from what is not, and what arrived from both', () => {
		expect(status('Action: delayed\r\nStatus: 4.4.1')).toMatchObject({ fate: 'late', code: '4.4.1' });
		for (const action of ['delivered', 'relayed', 'expanded', ''])
			expect(status(`Action: ${action}\r\nStatus: 2.0.0`)).toBeNull();
	});

	it('reads names in any case, comments, and what goes on in the next line', () => {
		const said = status(
			'ACTION: Failed (after 5 days)\r\nstatus: 5.1.1 (no such mailbox)\r\nDiagnostic-Code: smtp;\r\n 550 5.1.1\r\n\t<wren@mail.example>: unknown'
		);
		expect(said).toEqual({
			...{ mailId: ID, fate: 'gone', code: '5.1.1', words: '550 5.1.1 <wren@mail.example>: unknown' }
		});
	});

	it('takes the worst of several addresses', () => {
		const both = 'Action: delayed\r\nStatus: 4.2.2\r\n\r\nFinal-Recipient: rfc822; b@x\r\nAction: failed\r\n';
		expect(status(`${both}Status: 5.1.1`)).toMatchObject({ fate: 'gone' });
	});

	it('takes what a server says in a mail of its own for no report', () => {
		expect(readReport({ status: null, feedback: null, original: ORIGINAL })).toBeNull();
		expect(readReport({ status: 'Action: failed', feedback: null, original: ORIGINAL })).toBeNull();
	});

	it('says nothing of a mail that is not named, or named as none of ours', () => {
		const failed = RFC3464;
		expect(readReport({ status: failed, feedback: null, original: null })).toBeNull();
		for (const id of ['<1@clock.example>', '', `<${ID}>`, `<x${ID}@a>`, `<${ID}@a b>`])
			expect(
				readReport({ status: failed, feedback: null, original: `Message-ID: ${id}\r\n\r\n` })
			).toBeNull();
	});

	it.each(['not-spam', 'auth-failure', ''])('takes feedback of the type “%s” for no complaint', (type) => {
		expect(readReport({ status: null, feedback: `Feedback-Type: ${type}`, original: ORIGINAL })).toBeNull();
	});

	it('reads the id that stands in a Message-ID, in brackets or without', () => {
		expect(mailIdOf(`<${ID.toUpperCase()}@clock.example>`)).toBe(ID);
		expect(mailIdOf(` ${ID}@clock.example `)).toBe(ID);
	});

	it('never throws and never says more than 300 characters, whatever was sent', () => {
		const text = fc.string({ unit: 'binary', maxLength: 800 });
		fc.assert(
			fc.property(text, text, (a, b) => {
				const said = readReport({
					status: `x: y\n\nAction: failed\nStatus: 5.0.0\nDiagnostic-Code: ${a}`,
					feedback: null,
					original: `Message-ID: <${ID}@a>\n${b}`
				});
				expect((said?.words ?? '').length).toBeLessThanOrEqual(300);
			}),
			{ seed: 3464, numRuns: 500 }
		);
	});
});

describe('what a server answers', () => {
	it.each([
		['550 5.1.1 No such user', 'gone', '5.1.1'],
		['550-5.1.1 The account\n550 5.1.1 does not exist', 'gone', '5.1.1'],
		['550 No such user here', 'refused', null],
		['553 Sender not allowed', 'refused', null],
		['550 5.7.1 Relaying denied', 'refused', '5.7.1'],
		['552 5.2.2 Mailbox full', 'refused', '5.2.2'],
		['554 5.7.1 Spam', 'refused', '5.7.1'],
		['nonsense', 'refused', null]
	])('reads “%s” as %s', (reply, fate, code) => {
		expect(readRefusal(reply)).toMatchObject({ fate, code, words: reply.replace(/\s+/g, ' ') });
	});
});

describe('what a program tells', () => {
	const told = { mail: `<${ID}@clock.example>`, fate: 'gone' };

	it('is a report', () => {
		expect(readToldReport({ ...told, code: '5.1.1', words: 'no\nsuch user' })).toEqual({
			ok: true,
			report: { mailId: ID, fate: 'gone', code: '5.1.1', words: 'no such user' }
		});
		expect(readToldReport({ ...told, code: null })).toEqual({
			ok: true,
			report: { mailId: ID, fate: 'gone', code: null, words: '' }
		});
	});

	it.each([
		[{ fate: 'gone' }, 'mail'],
		[{ ...told, mail: ID }, 'mail'],
		[{ ...told, mail: 7 }, 'mail'],
		[{ ...told, fate: 'sent' }, 'fate'],
		[{ ...told, fate: 'bounced' }, 'fate'],
		[{ ...told, code: '550' }, 'code'],
		[{ ...told, code: '5.1.1 x' }, 'code'],
		[{ ...told, words: 7 }, 'words'],
		[null, 'mail'],
		['text', 'mail'],
		[[], 'mail']
	])('refuses %j', (wrong, field) => {
		expect(readToldReport(wrong)).toEqual({ ok: false, field });
	});
});

describe('whether an address is written to', () => {
	const DAY = 86_400_000;
	const NOW = 100 * DAY;
	const fates = (...list: [Fate, number][]) => list.map(([fate, day]) => ({ fate, at: day * DAY }));

	it.each([
		['nothing came back', fates(['sent', 99]), null],
		['nobody has it', fates(['gone', 1]), 'gone'],
		['two mails were not taken', fates(['refused', 98], ['refused', 99]), null],
		['three were not', fates(['refused', 98], ['refused', 99], ['refused', 99]), 'refused'],
		['three were not, one long ago', fates(['refused', 70], ['refused', 98], ['refused', 99]), null],
		['many were late', fates(['late', 97], ['late', 98], ['late', 99], ['late', 99]), null],
		['somebody complains', fates(['complaint', 99]), null]
	])('%s', (_name, list, held) => {
		expect(whyHeld(list, NOW)).toBe(held);
	});

	it('is held no less for more that came back', () => {
		const one = fc.record({ fate: fc.constantFrom(...FATES), at: fc.integer({ min: 0, max: NOW }) });
		fc.assert(
			fc.property(fc.array(one, { maxLength: 8 }), one, (list, more) => {
				const before = whyHeld(list, NOW);
				if (before !== null) expect(whyHeld([...list, more], NOW)).not.toBeNull();
			}),
			{ seed: 5965 }
		);
	});
});

it('knows which fate is worse', () => {
	expect(isWorse('gone', 'late')).toBe(true);
	expect(isWorse('late', 'gone')).toBe(false);
	expect(isWorse('gone', 'gone')).toBe(false);
	// An address that nobody has is not written to again because somebody complained of the same mail.
	expect(isWorse('complaint', 'gone')).toBe(false);
});
