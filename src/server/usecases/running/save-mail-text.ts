/** Mails in the publisher's own words. */
import { and, eq } from 'drizzle-orm';
import { MAIL_NAMES, type MailKey, type MailText } from '$words/en/mail';
import { languageOf, type LanguageCode } from '$words/languages';
import { problemOf, type PatternProblem } from '$words/say';
import { ownMailText } from '../../db/queries/mail-texts';
import { lockSite } from '../../db/queries/settings';
import { mailTexts } from '../../db/schema/running';
import { need, type Staff } from '../../people/need';
import { ChangedMeanwhile, expectRevision, revisionOf } from '../../revision';
import { transact, type Transacting } from '../../transact';

const SUBJECT = { kind: 'site', id: '00000000-0000-7000-8000-000000000002' };

export type MailTextSaved =
	{ kind: 'saved' } | { kind: 'changed'; theirs: MailText } | ({ kind: 'refused' } & MailTextProblem);

export interface MailOf {
	key: MailKey;
	language: LanguageCode;
}

export interface MailTextProblem {
	field: 'subject' | 'text' | 'button';
	problem: PatternProblem;
}

/** What is wrong with words for a mail, the first of it. */
export function mailTextProblem(
	key: MailKey,
	language: LanguageCode,
	wish: MailText
): MailTextProblem | null {
	for (const field of ['subject', 'text', 'button'] as const) {
		const pattern = wish[field];
		const problem = pattern ? problemOf(pattern, MAIL_NAMES[key], languageOf(language).locale) : null;
		if (problem) return { field, problem };
	}
	return null;
}

export function mailTextRevision(own: MailText | null): string {
	return revisionOf(own);
}

/** @param wish `null`: the words that Stile came with @param revision of what the editor began with */
export async function saveMailText(
	app: Transacting,
	actor: Staff,
	{ key, language: code }: MailOf,
	wish: MailText | null,
	revision: string | null
): Promise<MailTextSaved> {
	need(actor, 'settings');
	const language = languageOf(code);
	const wrong = wish && mailTextProblem(key, code, wish);
	if (wrong) return { kind: 'refused', ...wrong };
	// What says the same as Stile does is no text of one's own.
	const own = wish !== null && revisionOf(wish) === revisionOf({ ...language.mail[key] }) ? null : wish;
	try {
		await transact(app, actor, async (work) => {
			await lockSite(work.tx);
			const before = await ownMailText(work.tx, key, code);
			expectRevision(revision, before);
			if (own === null)
				await work.tx.delete(mailTexts).where(and(eq(mailTexts.occasion, key), eq(mailTexts.language, code)));
			else
				await work.tx
					.insert(mailTexts)
					.values({ occasion: key, language: code, ...own, changedAt: work.now })
					.onDuplicateKeyUpdate({ set: { ...own, changedAt: work.now } });
			await work.note({
				action: 'changed-mail-text',
				subject: SUBJECT,
				before: before && { occasion: key, language: code, ...before },
				after: own && { occasion: key, language: code, ...own }
			});
		});
		return { kind: 'saved' };
	} catch (error) {
		if (!(error instanceof ChangedMeanwhile)) throw error;
		return { kind: 'changed', theirs: (await ownMailText(app.db, key, code)) ?? language.mail[key] };
	}
}
