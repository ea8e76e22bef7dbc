import { expect, it } from 'vitest';
import { readReport } from '$core/mail/returned';
import { reportParts } from './report-parts';

const ID = '0190b5e2-7c1a-7000-8000-0123456789ab';
const bytes = (text: string) => new TextEncoder().encode(text.replace(/\r?\n/g, '\r\n'));

/** The example of RFC 3464, appendix E.1 (from memory), with a mail of ours in it. */
const REPORT = `Date: Thu, 7 Jul 1994 17:16:05 -0400
From: Mail Delivery Subsystem <MAILER-DAEMON@CS.UTK.EDU>
Message-Id: <199407072116.RAA14128@CS.UTK.EDU>
Subject: Returned mail: Cannot send message for 5 days
To: <owner-info-mime@cs.utk.edu>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status;
      boundary="RAA14128.773615765/CS.UTK.EDU"

--RAA14128.773615765/CS.UTK.EDU

The original message was received at Sat, 2 Jul 1994 17:10:28 -0400
from root@localhost

   ----- The following addresses had delivery problems -----
<louisl@larry.slip.umd.edu>  (unrecoverable error)

--RAA14128.773615765/CS.UTK.EDU
content-type: message/delivery-status

Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;louisl@larry.slip.umd.edu
Final-Recipient: rfc822;louisl@larry.slip.umd.edu
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400

--RAA14128.773615765/CS.UTK.EDU
content-type: message/rfc822

From: clock@clock.example
Message-ID: <${ID}@clock.example>
Subject: Your gift

A gift.
--RAA14128.773615765/CS.UTK.EDU--
`;

it('takes the example of RFC 3464 apart', async () => {
	const read = readReport(await reportParts(bytes(REPORT)));
	expect(read).toEqual({
		...{ mailId: ID, fate: 'refused', code: '4.0.0', words: '426 connection timed out' }
	});
});

it('takes the header alone for the mail, and what is coded for what it says', async () => {
	const coded = Buffer.from(`Feedback-Type: abuse\r\nVersion: 1\r\n`).toString('base64');
	const report = `MIME-Version: 1.0
Content-Type: multipart/report; report-type=feedback-report; boundary=b

--b
Content-Type: text/plain

A complaint.
--b
Content-Type: message/feedback-report
Content-Transfer-Encoding: base64

${coded}
--b
Content-Type: text/rfc822-headers

Message-ID: <${ID}@clock.example>
--b--
`;
	expect(readReport(await reportParts(bytes(report)))).toMatchObject({ mailId: ID, fate: 'complaint' });
});

it.each([
	['an answer of a person', 'Subject: Re: Your gift\n\nThank you.'],
	['nothing', ''],
	['bytes that are no mail', '\u0000\u0001--\n\n--'],
	['a report that ends in the middle', REPORT.slice(0, 900)]
])('finds no report in %s', async (_name, text) => {
	expect(readReport(await reportParts(bytes(text)))).toBeNull();
});

it('does not go down into parts without end', async () => {
	const deep = Array.from(
		{ length: 300 },
		(_, n) => `Content-Type: multipart/mixed; boundary=b${n}\n\n--b${n}\n`
	).join('');
	expect(await reportParts(bytes(deep))).toEqual({ status: null, feedback: null, original: null });
});
