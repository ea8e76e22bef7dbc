/** What was mailed to members, and what became of it. */
import { and, count, desc, eq, gte, inArray, isNull, lte, sql } from 'drizzle-orm';
import { whyHeld, type Fate, type Report } from '$core/mail/returned';
import type { Handle, Tx } from '../connect';
import { accounts } from '../schema/people';
import { sentMails } from '../schema/running';
import { total } from './lists';
import { accountByEmail } from './members';

const LONGEST_SUBJECT = 300;
const LONGEST_CODE = 12;
/** Of one address: who has had that many refused is not written to any more. */
const FATES_READ = 50;

export type SentMail = typeof sentMails.$inferSelect;
type Told = Omit<Report, 'mailId'>;

interface Kept {
	id: string;
	to: string;
	subject: string;
	at: number;
	/** It was not sent, for mails to the address come back. */
	isHeld?: boolean;
	/** What the server said that would not have it. */
	told?: Told;
}

/** Of addresses that belong to nobody nothing is kept. */
export async function keepSent(
	db: Handle,
	{ id, to, subject, at, isHeld = false, told }: Kept
): Promise<void> {
	const account = await accountByEmail(db, to);
	if (!account) return;
	const fate = isHeld ? { fate: 'held' as const } : told ? { ...columnsOf(told), fateAt: at } : {};
	const row = { id, memberId: account.id, address: to, subject: subject.slice(0, LONGEST_SUBJECT), at };
	await db
		.insert(sentMails)
		.ignore()
		.values({ ...row, ...fate });
}

function columnsOf({ fate, code, words }: Told) {
	return { fate, fateCode: code?.slice(0, LONGEST_CODE) ?? null, fateWords: words };
}

export async function lockSent(tx: Tx, id: string): Promise<SentMail | null> {
	const [row] = await tx.select().from(sentMails).where(eq(sentMails.id, id)).for('update');
	return row ?? null;
}

export async function keepFate(tx: Tx, id: string, told: Told, at: number): Promise<void> {
	await tx
		.update(sentMails)
		.set({ ...columnsOf(told), fateAt: at })
		.where(eq(sentMails.id, id));
}

/** Nothing that was sent to the address up to now says anything against it any more. Gives how many mails had come back. */
export async function clearAddress(tx: Tx, address: string, now: number): Promise<number> {
	const [cleared] = await tx
		.update(sentMails)
		.set({ clearedAt: now })
		.where(
			and(eq(sentMails.address, address), inArray(sentMails.fate, [...AGAINST]), isNull(sentMails.clearedAt))
		);
	return cleared.affectedRows;
}

/** What says something against an address. */
const AGAINST = ['refused', 'gone'] as const satisfies readonly Fate[];
/** What came back, or did not go. */
export const BACK = ['late', 'refused', 'gone', 'complaint', 'held'] as const;

/** Why an address is not written to; `null`: it is. */
export async function whyAddressHeld(
	db: Handle,
	address: string,
	now: number
): Promise<'gone' | 'refused' | null> {
	const rows = await db
		.select({ fate: sentMails.fate, at: sentMails.at })
		.from(sentMails)
		.where(
			and(eq(sentMails.address, address), inArray(sentMails.fate, [...AGAINST]), isNull(sentMails.clearedAt))
		)
		.orderBy(desc(sentMails.at))
		.limit(FATES_READ);
	return whyHeld(
		rows.flatMap(({ fate, at }) => (fate === 'held' ? [] : [{ fate, at }])),
		now
	);
}

/** Members that nothing is written to where they are, with the last that was heard, newest first. */
export async function membersHeld(db: Handle, now: number) {
	const rows = await db
		.select({
			...{ memberId: accounts.id, name: accounts.name, address: sentMails.address },
			...{ fate: sentMails.fate, at: sentMails.at, fateAt: sentMails.fateAt },
			...{ code: sentMails.fateCode, words: sentMails.fateWords, subject: sentMails.subject }
		})
		.from(sentMails)
		.innerJoin(accounts, and(eq(accounts.id, sentMails.memberId), eq(accounts.email, sentMails.address)))
		.where(and(inArray(sentMails.fate, [...AGAINST]), isNull(sentMails.clearedAt)))
		.orderBy(desc(sentMails.fateAt))
		.limit(HELD_READ);
	const byMember = new Map<string, typeof rows>();
	for (const row of rows) byMember.set(row.memberId, [...(byMember.get(row.memberId) ?? []), row]);
	return [...byMember.values()].flatMap((own) => {
		const [last] = own;
		const why = whyHeld(
			own.flatMap(({ fate, at }) => (fate === 'held' ? [] : [{ fate, at }])),
			now
		);
		return last && why !== null ? [{ ...last, why, mails: own.length }] : [];
	});
}

const HELD_READ = 5000;

/** The newest first. */
export async function mailsTo(db: Handle, memberId: string, limit: number) {
	return db
		.select()
		.from(sentMails)
		.where(eq(sentMails.memberId, memberId))
		.orderBy(desc(sentMails.at), desc(sentMails.id))
		.limit(limit);
}

export type MailFate = 'sent' | (typeof BACK)[number];

/** A part of what was mailed, newest first. @param to since when to whomever, or to whom whenever */
export async function mailList(
	db: Handle,
	{
		shown,
		to
	}: { shown: MailFate | 'back' | null; to: { since: number } | { memberIds: readonly string[] } },
	limit: number,
	offset: number
) {
	if ('memberIds' in to && to.memberIds.length === 0) return { rows: [], total: 0 };
	const fates = shown === null ? null : shown === 'back' ? [...BACK] : [shown];
	const where = and(
		'since' in to ? gte(sentMails.at, to.since) : inArray(sentMails.memberId, [...to.memberIds]),
		fates === null ? undefined : inArray(sentMails.fate, fates)
	);
	const [counted] = await db.select({ total }).from(sentMails).where(where);
	const rows = await db
		.select()
		.from(sentMails)
		.where(where)
		.orderBy(desc(sentMails.at), desc(sentMails.id))
		.limit(limit)
		.offset(offset);
	return { rows, total: counted?.total ?? 0 };
}

const SPAN_S = 900;

/** How many mails, and how many of them came back, in each quarter of an hour in which there were any. */
export async function mailsByQuarter(db: Handle, from: number, to: number) {
	const span = sql<number>`floor(unix_timestamp(${sentMails.at}) / ${sql.raw(String(SPAN_S))})`;
	const rows = await db
		.select({ span: span.mapWith(Number), fate: sentMails.fate, count: count() })
		.from(sentMails)
		.where(and(gte(sentMails.at, from), lte(sentMails.at, to)))
		.groupBy(span, sentMails.fate);
	return rows.map(({ span: n, ...row }) => ({ ...row, at: n * SPAN_S * 1000 }));
}
