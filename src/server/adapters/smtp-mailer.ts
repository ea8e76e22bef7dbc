import { createTransport } from 'nodemailer';
import { MailRefused, type Mailer, type MailSigner } from '../ports/mail';

/** A mail server is not to be overrun. */
const CONNECTIONS = 4;

/** @param returnsTo whom servers write to that could not deliver a mail; `null`: its sender */
export function smtpMailer(smtpUrl: string, returnsTo: string | null): Mailer & { close(): void } {
	const transport = createTransport({ url: smtpUrl, pool: true, maxConnections: CONNECTIONS });
	return {
		async send(from, mail, signer) {
			const sent = transport.sendMail({
				from: { name: from.name, address: from.email },
				to: mail.to,
				envelope: { from: returnsTo ?? from.email, to: mail.to },
				subject: mail.subject,
				text: mail.text,
				html: mail.html,
				headers: { ...AUTOMATIC, ...(mail.endedAt === undefined ? {} : oneClick(mail.endedAt)) },
				messageId: `<${mail.key}@${from.email.split('@')[1]}>`,
				...(signer === null ? {} : { dkim: signed(signer) })
			});
			await sent.catch((error: unknown) => {
				throw refusalIn(error) ?? error;
			});
		},
		close: () => transport.close()
	};
}

/** RFC 3834 §5: no holiday note answers it. */
const AUTOMATIC = { 'Auto-Submitted': 'auto-generated' };

/** What Nodemailer says of an error: the server's answer, and to what. */
interface Replied {
	responseCode?: number;
	response?: string;
	command?: string;
}

/** Where the address was turned down, or what was sent to it; that the server lets nobody in is no matter of this mail. */
const OF_THIS_MAIL: ReadonlySet<unknown> = new Set(['RCPT TO', 'DATA']);

function refusalIn(error: unknown): MailRefused | null {
	const { responseCode, response, command } = error as Replied;
	const isForGood = responseCode !== undefined && responseCode >= 500 && responseCode < 600;
	return isForGood && OF_THIS_MAIL.has(command) ? new MailRefused(response ?? String(responseCode)) : null;
}

/** What says where to end such mails has to be signed, or nobody offers the press (RFC 8058 §4). */
const SIGNED_HEADERS = [
	...['From', 'To', 'Subject', 'Date', 'Message-ID', 'MIME-Version', 'Content-Type'],
	...['Content-Transfer-Encoding', 'List-Unsubscribe', 'List-Unsubscribe-Post']
].join(':');

function signed({ domain, selector, privateKey }: MailSigner) {
	return { domainName: domain, keySelector: selector, privateKey, headerFieldNames: SIGNED_HEADERS };
}

/** RFC 2369 §3.2, RFC 8058 §3.1: both, and the address alone between the brackets, in one line. */
function oneClick(url: string) {
	return {
		'List-Unsubscribe': { prepared: true, value: `<${url}>` },
		'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click'
	};
}
