/** Mails in the publisher's own words. */
import { eq } from 'drizzle-orm';
import { MAIL_NAMES, type MailKey, type MailText } from '$words/en/mail';
import { languageOf } from '$words/languages';
import { problemOf, type PatternProblem } from '$words/say';
import type { Using } from '../../app';
import { ownMailText } from '../../db/queries/mail-texts';
import { lockSite } from '../../db/queries/settings';
import { mailTexts } from '../../db/schema/running';
import { need, type Staff } from '../../people/need';
import { ChangedMeanwhile, expectRevision, revisionOf } from '../../revision';
import { transact, type Transacting } from '../../transact';

const SUBJECT = { kind: 'site', id: '00000000-0000-7000-8000-000000000002' };

export type MailTextSaved =
	| { kind: 'saved' }
	| { kind: 'changed'; theirs: MailText }
	| { kind: 'refused'; field: 'subject' | 'text' | 'button'; problem: PatternProblem };

export function mailTextRevision(own: MailText | null): string {
	return revisionOf(own);
}

/** @param wish `null`: the words that Stile came with @param revision of what the editor began with */
export async function saveMailText(
	app: Transacting & Using<'site'>,
	actor: Staff,
	key: MailKey,
	wish: MailText | null,
	revision: string | null
): Promise<MailTextSaved> {
	need(actor, 'settings');
	const language = languageOf((await app.site()).language);
	for (const field of ['subject', 'text', 'button'] as const) {
		const pattern = wish?.[field];
		const problem = pattern ? problemOf(pattern, MAIL_NAMES[key], language.locale) : null;
		if (problem) return { kind: 'refused', field, problem };
	}
	// What says the same as Stile does is no text of one's own.
	const own = wish !== null && revisionOf(wish) === revisionOf({ ...language.mail[key] }) ? null : wish;
	try {
		await transact(app, actor, async (work) => {
			await lockSite(work.tx);
			const before = await ownMailText(work.tx, key);
			expectRevision(revision, before);
			if (own === null) await work.tx.delete(mailTexts).where(eq(mailTexts.occasion, key));
			else
				await work.tx
					.insert(mailTexts)
					.values({ occasion: key, ...own, changedAt: work.now })
					.onDuplicateKeyUpdate({ set: { ...own, changedAt: work.now } });
			await work.note({
				action: 'changed-mail-text',
				subject: SUBJECT,
				before: before && { occasion: key, ...before },
				after: own && { occasion: key, ...own }
			});
		});
		return { kind: 'saved' };
	} catch (error) {
		if (!(error instanceof ChangedMeanwhile)) throw error;
		return { kind: 'changed', theirs: (await ownMailText(app.db, key)) ?? language.mail[key] };
	}
}
