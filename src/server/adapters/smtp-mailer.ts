import { createTransport } from 'nodemailer';
import type { Mailer, MailSigner } from '../ports/mail';

/** A mail server is not to be overrun. */
const CONNECTIONS = 4;

export function smtpMailer(smtpUrl: string): Mailer & { close(): void } {
	const transport = createTransport({ url: smtpUrl, pool: true, maxConnections: CONNECTIONS });
	return {
		async send(from, mail, signer) {
			await transport.sendMail({
				from: { name: from.name, address: from.email },
				to: mail.to,
				subject: mail.subject,
				text: mail.text,
				html: mail.html,
				...(mail.endedAt === undefined ? {} : { headers: oneClick(mail.endedAt) }),
				messageId: `<${mail.key}@${from.email.split('@')[1]}>`,
				...(signer === null ? {} : { dkim: signed(signer) })
			});
		},
		close: () => transport.close()
	};
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
