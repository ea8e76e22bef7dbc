/** How mails are known to be the publisher's: what the names of the domain said, and what is to be written there. */
import {
	domainOfAddress,
	RECORD_KINDS,
	selectorOf,
	wantedDkim,
	type RecordKind
} from '$core/mail/sender-records';
import type { Using } from '../../app';
import { senderKeysOf, senderLookAt } from '../../db/queries/senders';

export async function senderPage(app: Using<'db' | 'site'>) {
	const { senderEmail } = await app.site();
	const domain = domainOfAddress(senderEmail);
	if (domain === null) return { senderEmail, domain: null, look: null, key: null, signsWith: null };
	const [keys, look] = await Promise.all([senderKeysOf(app.db, domain), senderLookAt(app.db, domain)]);
	const [newest] = keys;
	const signing = keys.find(({ signs }) => signs);
	return {
		...{ senderEmail, domain, look },
		/** The newest; what it wants is known before anything was looked at. */
		key: newest
			? {
					...wantedDkim(domain, selectorOf(newest), newest.publicKey),
					...{ signs: newest.signs, createdAt: newest.createdAt }
				}
			: null,
		signsWith: signing ? selectorOf(signing) : null
	};
}

/** What did not stand there as it should when it was looked at last; nobody who has never looked is told. */
export async function senderInTrouble(app: Using<'db' | 'site'>): Promise<RecordKind[]> {
	const domain = domainOfAddress((await app.site()).senderEmail);
	const look = domain === null ? null : await senderLookAt(app.db, domain);
	return RECORD_KINDS.filter((kind) => {
		const state = look?.[kind]?.verdict.state ?? 'good';
		return state !== 'good' && state !== 'no-answer';
	});
}
