import { createTransport } from 'nodemailer';
import type { Mailer } from '../ports/mail';

export function smtpMailer(smtpUrl: string): Mailer & { close(): void } {
	const transport = createTransport(smtpUrl, { from: undefined });
	return {
		async send(from, mail) {
			await transport.sendMail({
				from: { name: from.name, address: from.email },
				to: mail.to,
				subject: mail.subject,
				text: mail.text,
				html: mail.html,
				messageId: `<${mail.key}@${from.email.split('@')[1]}>`
			});
		},
		close: () => transport.close()
	};
}
