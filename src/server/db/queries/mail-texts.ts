import { eq } from 'drizzle-orm';
import type { MailKey, MailText } from '$words/en/mail';
import type { Handle } from '../connect';
import { mailTexts } from '../schema/running';

/** The publisher's own words for an occasion, if there are any. */
export async function ownMailText(db: Handle, key: MailKey): Promise<MailText | null> {
	const [row] = await db.select().from(mailTexts).where(eq(mailTexts.occasion, key));
	return row ? { subject: row.subject, text: row.text, button: row.button } : null;
}

export async function ownMailTexts(db: Handle): Promise<Map<string, MailText>> {
	const rows = await db.select().from(mailTexts);
	return new Map(rows.map(({ occasion, subject, text, button }) => [occasion, { subject, text, button }]));
}
