/** What was mailed to members. */
import { desc, eq } from 'drizzle-orm';
import type { Handle } from '../connect';
import { sentMails } from '../schema/running';
import { accountByEmail } from './members';

const LONGEST_SUBJECT = 300;

/** Of addresses that belong to nobody nothing is kept. */
export async function keepSent(
	db: Handle,
	{ id, to, subject, at }: { id: string; to: string; subject: string; at: number }
): Promise<void> {
	const account = await accountByEmail(db, to);
	if (!account) return;
	const row = { id, memberId: account.id, address: to, subject: subject.slice(0, LONGEST_SUBJECT), at };
	await db.insert(sentMails).ignore().values(row);
}

/** The newest first. */
export async function mailsTo(db: Handle, memberId: string, limit: number) {
	return db
		.select()
		.from(sentMails)
		.where(eq(sentMails.memberId, memberId))
		.orderBy(desc(sentMails.at), desc(sentMails.id))
		.limit(limit);
}
