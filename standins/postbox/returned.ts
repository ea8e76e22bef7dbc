/** What mail servers write back, as they write it: RFC 3464 for what was not delivered, RFC 5965 for a complaint. */
import { randomUUID } from 'node:crypto';

export const STORIES = {
	gone: 'Nobody has the address',
	full: 'The mailbox is full',
	late: 'It is still being tried',
	complaint: 'The reader complains'
} as const;
export type Story = keyof typeof STORIES;

const DELIVERY: Record<Exclude<Story, 'complaint'>, { action: string; status: string; words: string }> = {
	gone: { action: 'failed', status: '5.1.1', words: '550 5.1.1 No such user here' },
	full: { action: 'failed', status: '5.2.2', words: '552 5.2.2 Mailbox full' },
	late: { action: 'delayed', status: '4.4.1', words: '451 4.4.1 No answer from the host' }
};

export interface Returned {
	to: string;
	from: string;
	subject: string;
	messageId: string;
}

/** The report, as a whole mail. */
export function reportOf(mail: Returned, story: Story): string {
	const boundary = `postbox-${randomUUID()}`;
	const kind = story === 'complaint' ? 'feedback-report' : 'delivery-status';
	return [
		'From: Mail Delivery <mailer-daemon@postbox.example>',
		'To: returns@postbox.example',
		`Date: ${new Date().toUTCString().replace('GMT', '+0000')}`,
		`Message-ID: <${randomUUID()}@postbox.example>`,
		`Subject: ${story === 'complaint' ? 'A reader complains' : 'About your mail'}`,
		'Auto-Submitted: auto-replied',
		'MIME-Version: 1.0',
		`Content-Type: multipart/report; report-type=${kind};`,
		`\tboundary="${boundary}"`,
		'',
		`--${boundary}`,
		'Content-Type: text/plain; charset=utf-8',
		'',
		`${STORIES[story]}: ${mail.to}`,
		`--${boundary}`,
		`Content-Type: message/${kind}`,
		'',
		...(story === 'complaint' ? complaint() : delivery(mail, story)),
		'',
		`--${boundary}`,
		'Content-Type: text/rfc822-headers',
		'',
		`From: ${mail.from}`,
		`To: ${mail.to}`,
		`Message-ID: ${mail.messageId}`,
		`--${boundary}--`,
		''
	].join('\r\n');
}

function complaint(): string[] {
	return ['Feedback-Type: abuse', 'User-Agent: Postbox/1', 'Version: 1'];
}

function delivery({ to }: Returned, story: Exclude<Story, 'complaint'>): string[] {
	const { action, status, words } = DELIVERY[story];
	return [
		'Reporting-MTA: dns; postbox.example',
		'',
		`Final-Recipient: rfc822; ${to}`,
		`Action: ${action}`,
		`Status: ${status}`,
		`Diagnostic-Code: smtp; ${words}`
	];
}
