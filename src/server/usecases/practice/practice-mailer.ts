/** Where somebody practises, mails go nowhere: they are kept as they would have arrived, for whoever practises to read. */
import type { Using } from '../../app';
import { practiceMails } from '../../db/schema/practice';
import type { Mailer } from '../../ports/mail';

export function practiceMailer({ db, clock }: Using<'clock' | 'db'>): Mailer {
	return {
		async send(_from, { key, to, subject, text, html }) {
			await db.insert(practiceMails).ignore().values({ key, to, subject, text, html, at: clock.business() });
		}
	};
}
