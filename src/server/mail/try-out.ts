import { v7 as uuidv7 } from 'uuid';
import type { Using } from '../app';
import { MailRefused } from '../ports/mail';
import { signerOfMails } from '../usecases/running/senders';
import { drawMail, type Draft } from './preview';

const PATIENCE_MS = 15_000;

export type TriedOut =
	| { ok: true }
	/** `reply`: what the mail server says. */
	| { ok: false; code: 'refused'; reply: string }
	| { ok: false; code: 'no-answer' };

/** Sends a mail whose words are still being written, and says what the mail server says. @param to of whoever writes them */
export async function tryMailOut(
	app: Using<'clock' | 'db' | 'keys' | 'log' | 'mailer' | 'rights' | 'settings' | 'site'>,
	draft: Draft,
	to: string
): Promise<TriedOut> {
	const { siteName: name, senderEmail: email } = await app.site();
	const mail = { ...(await drawMail(app, draft)), to, key: uuidv7() };
	try {
		await within(app.mailer.send({ name, email }, mail, await signerOfMails(app, email)), PATIENCE_MS);
		return { ok: true };
	} catch (error) {
		if (error instanceof MailRefused) return { ok: false, code: 'refused', reply: error.reply };
		app.log.warn({ err: error }, 'a mail could not be tried out');
		return { ok: false, code: 'no-answer' };
	}
}

async function within<T>(work: Promise<T>, ms: number): Promise<T> {
	let timer: NodeJS.Timeout | undefined;
	const late = new Promise<never>((_, reject) => {
		timer = setTimeout(() => reject(new Error('The mail server does not answer')), ms);
	});
	return Promise.race([work, late]).finally(() => clearTimeout(timer));
}
