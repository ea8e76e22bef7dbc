export interface Mail {
	to: string;
	subject: string;
	text: string;
	html: string;
	/** Where one press ends mails like it (RFC 8058); left out: it is about something that was done. */
	endedAt?: string;
	/** The same key in a repeated attempt lets the receiver see that it is the same mail. */
	key: string;
}

/** What a mail is signed with (DKIM, RFC 6376). */
export interface MailSigner {
	domain: string;
	selector: string;
	/** PKCS #8, PEM. */
	privateKey: string;
}

/** The server will never take it, it says: another try would be told the same. */
export class MailRefused extends Error {
	readonly code = 'mail-refused';

	/** @param reply the server's answer, with its number */
	constructor(readonly reply: string) {
		super('The mail server does not take this mail.');
	}
}

export interface Mailer {
	/** @param signer `null`: it is sent unsigned. Throws `MailRefused` where no other try helps. */
	send(from: { name: string; email: string }, mail: Mail, signer: MailSigner | null): Promise<void>;
}
