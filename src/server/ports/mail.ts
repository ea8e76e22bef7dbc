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

export interface Mailer {
	/** @param signer `null`: it is sent unsigned */
	send(from: { name: string; email: string }, mail: Mail, signer: MailSigner | null): Promise<void>;
}
