/**
 * Practising: buying from one's own site as somebody made up, with cards that no bank knows. All of it stands in the practice
 * book (db/practice-book.ts), and only what stands there can be deleted.
 */
import { v7 as uuidv7 } from 'uuid';
import type { Using } from '../../app';
import { paymentByRef } from '../../db/queries/sales';
import { accountById } from '../../db/queries/members';
import { practiceCounts } from '../../db/queries/practice';
import { emptyPracticeBook } from '../../db/practice-book';
import { accounts } from '../../db/schema/people';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting } from '../../transact';
import { cardChangeByRef, settleCard } from '../sales/change-card';
import type { Selling } from '../sales/selling';
import { settlePayment } from '../sales/settle-payment';
import { doAtBank, payPractised, type BankDeed, type Paying } from './practice-processor';

export { NoPracticeBook } from '../../db/practice-book';

/** Whoever practises is known in the practice book, too, so that what they do at its Desk bears their name. */
export async function beginPractice(app: Using<'db'>, book: Using<'db'>, actor: Staff): Promise<void> {
	need(actor, 'members');
	const account = actor && (await accountById(app.db, actor.id));
	if (!account?.email) return;
	const { id, email, name, role, roleId, claimedAt, provedAt, createdAt } = account;
	const known = { email, name, role, roleId };
	await book.db
		.insert(accounts)
		.values({ id, ...known, claimedAt, provedAt, createdAt })
		.onDuplicateKeyUpdate({ set: known });
}

/** Pays on the page of the practice book's processor. @returns where it goes on; `null`: there is no such page */
export async function payInPractice(
	book: Selling,
	actor: Staff,
	ref: string,
	paying: Paying
): Promise<string | null> {
	need(actor, 'members');
	const next = await payPractised(book, ref, paying);
	await settleRef(book, ref);
	return next;
}

/** What a buyer's bank does. @returns whether it could be done */
export async function bankInPractice(
	book: Selling,
	actor: Staff,
	ref: string,
	deed: BankDeed
): Promise<boolean> {
	need(actor, 'members');
	const isDone = await doAtBank(book, ref, deed);
	await settleRef(book, ref);
	return isDone;
}

async function settleRef(book: Selling, ref: string): Promise<void> {
	const payment = await paymentByRef(book.db, ref);
	if (payment) return void (await settlePayment(book, payment));
	const change = await cardChangeByRef(book, ref);
	if (change) await settleCard(book, change);
}

/** All that was ever bought in it, in one step. The site's own log says who did that. */
export async function deletePractice(
	app: Transacting & Using<'settings'>,
	book: Transacting,
	actor: Staff
): Promise<{ buyers: number; orders: number }> {
	need(actor, 'members');
	const { buyers, orders } = await practiceCounts(book.db);
	const known = await book.db.select({ id: accounts.id }).from(accounts);
	await emptyPracticeBook(app.settings.databaseUrl);
	// Nodes forget who is signed in there.
	await transact(book, null, async (work) => {
		for (const { id } of known) work.standingChanged(id);
	});
	await transact(app, actor, (work) =>
		work.note({
			action: 'deleted-practice',
			subject: { kind: 'practice', id: uuidv7() },
			before: { buyers, orders }
		})
	);
	return { buyers, orders };
}
