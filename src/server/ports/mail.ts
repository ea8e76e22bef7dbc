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

export interface Mailer {
	send(from: { name: string; email: string }, mail: Mail): Promise<void>;
}
