import { and, eq } from 'drizzle-orm';
import type { MailKey, MailText } from '$words/en/mail';
import type { LanguageCode } from '$words/languages';
import type { Handle } from '../connect';
import { mailTexts } from '../schema/running';

/** The publisher's own words for an occasion, if there are any. */
export async function ownMailText(
	db: Handle,
	key: MailKey,
	language: LanguageCode
): Promise<MailText | null> {
	const [row] = await db
		.select()
		.from(mailTexts)
		.where(and(eq(mailTexts.occasion, key), eq(mailTexts.language, language)));
	return row ? { subject: row.subject, text: row.text, button: row.button } : null;
}

/** By occasion, those of one language. */
export async function ownMailTexts(db: Handle, language: LanguageCode): Promise<Map<string, MailText>> {
	const rows = await db.select().from(mailTexts).where(eq(mailTexts.language, language));
	return new Map(rows.map(({ occasion, subject, text, button }) => [occasion, { subject, text, button }]));
}
