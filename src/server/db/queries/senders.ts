import { and, desc, eq } from 'drizzle-orm';
import type { Handle } from '../connect';
import { senderKeys, senderLooks } from '../schema/senders';

export type SenderKey = typeof senderKeys.$inferSelect;
export type SenderLook = typeof senderLooks.$inferSelect;

/** The newest first. */
export async function senderKeysOf(db: Handle, domain: string): Promise<SenderKey[]> {
	return db.select().from(senderKeys).where(eq(senderKeys.domain, domain)).orderBy(desc(senderKeys.number));
}

/** What mails of a domain are signed with; `null`: they are not. */
export async function signingKey(db: Handle, domain: string): Promise<SenderKey | null> {
	const [key] = await db
		.select()
		.from(senderKeys)
		.where(and(eq(senderKeys.domain, domain), eq(senderKeys.signs, true)))
		.orderBy(desc(senderKeys.number))
		.limit(1);
	return key ?? null;
}

export async function senderLookAt(db: Handle, domain: string): Promise<SenderLook | null> {
	const [look] = await db.select().from(senderLooks).where(eq(senderLooks.domain, domain));
	return look ?? null;
}
