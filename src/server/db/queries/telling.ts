/** What staff are mailed of, and who wishes to be. */
import {
	and,
	asc,
	eq,
	gte,
	inArray,
	isNotNull,
	isNull,
	lt,
	ne,
	notExists,
	or,
	sql,
	type SQL
} from 'drizzle-orm';
import { TELL_KINDS, TOLD_ACTIONS, usualHow, type TellHow, type TellKind } from '$core/staff/telling';
import type { Handle, Tx } from '../connect';
import { audit, jobs, tellings, tellRounds, tellWishes } from '../schema/running';

export type Wishes = Record<TellKind, TellHow>;
export type TellRound = typeof tellRounds.$inferSelect;
export type NewTelling = Omit<typeof tellings.$inferInsert, 'id' | 'foundAt' | 'atOnceBatch' | 'dailyBatch'>;

const ROUND = 1;
/** Of one round; the next goes on. */
const MOST_FOUND = 5000;

export async function wishesOf(db: Handle, accountId: string, isOwner: boolean): Promise<Wishes> {
	const rows = await db.select().from(tellWishes).where(eq(tellWishes.accountId, accountId));
	const chosen = new Map(rows.map(({ kind, how }) => [kind, how]));
	return Object.fromEntries(
		TELL_KINDS.map((kind) => [kind, chosen.get(kind) ?? usualHow(kind, isOwner)])
	) as Wishes;
}

export async function writeWishes(tx: Tx, accountId: string, wishes: Wishes): Promise<void> {
	for (const kind of TELL_KINDS) {
		const how = wishes[kind];
		await tx.insert(tellWishes).values({ accountId, kind, how }).onDuplicateKeyUpdate({ set: { how } });
	}
}

/** How far was looked; `null` before the first time. */
export async function tellRound(db: Handle): Promise<TellRound | null> {
	const [row] = await db.select().from(tellRounds).where(eq(tellRounds.id, ROUND));
	return row ?? null;
}

/** Makes the first round where there is none; whoever comes second waits for whoever came first. */
export async function beginRounds(tx: Tx, first: Omit<TellRound, 'id'>): Promise<void> {
	await tx
		.insert(tellRounds)
		.ignore()
		.values({ id: ROUND, ...first });
}

export async function lockRound(tx: Tx): Promise<TellRound | null> {
	const [row] = await tx.select().from(tellRounds).where(eq(tellRounds.id, ROUND)).for('update');
	return row ?? null;
}

export async function endRound(tx: Tx, round: Omit<TellRound, 'id' | 'beganAt'>): Promise<void> {
	await tx.update(tellRounds).set(round).where(eq(tellRounds.id, ROUND));
}

/** What the audit tells of since a moment, by the wall clock. */
export async function toldInAudit(db: Handle, since: number): Promise<NewTelling[]> {
	const rows = await db
		.select()
		.from(audit)
		.where(
			and(
				inArray(audit.action, [...TOLD_ACTIONS]),
				gte(audit.wallAt, since),
				isNew(db, sql`concat('audit ', ${audit.id})`)
			)
		)
		.orderBy(asc(audit.wallAt), asc(audit.id))
		.limit(MOST_FOUND);
	return rows.map(({ id, action, after, memberId, actorId, businessAt }) => ({
		source: `audit ${id}`,
		action,
		hasEnded: textIn(after, 'kind') === 'ended',
		planId: textIn(after, 'planId'),
		memberId,
		actorId,
		at: businessAt
	}));
}

/** Jobs queued since a moment, by the wall clock, that have failed and were not told of. */
export async function failedJobs(db: Handle, since: number, businessNow: number): Promise<NewTelling[]> {
	const rows = await db
		.select({ id: jobs.id, kind: jobs.kind, memberId: jobs.memberId })
		.from(jobs)
		.where(
			and(eq(jobs.state, 'failed'), gte(jobs.createdAt, since), isNew(db, sql`concat('job ', ${jobs.id})`))
		)
		.orderBy(asc(jobs.createdAt))
		.limit(MOST_FOUND);
	return rows.map(({ id, kind, memberId }) => ({
		source: `job ${id}`,
		action: 'failed',
		hasEnded: false,
		jobKind: kind,
		memberId,
		at: businessNow
	}));
}

export async function keepTellings(tx: Tx, found: readonly NewTelling[], foundAt: number): Promise<void> {
	for (let n = 0; n < found.length; n += 500)
		await tx
			.insert(tellings)
			.ignore()
			.values(found.slice(n, n + 500).map((one) => ({ ...one, foundAt })));
}

const BATCH = { 'at-once': tellings.atOnceBatch, daily: tellings.dailyBatch } as const;
const SET = { 'at-once': 'atOnceBatch', daily: 'dailyBatch' } as const;

export type Told = typeof tellings.$inferSelect;

/** Those that no mail of that sort has told of yet are told of by this one. */
export async function takeBatch(tx: Tx, how: 'at-once' | 'daily', batch: string): Promise<Told[]> {
	const [taken] = await tx
		.update(tellings)
		.set({ [SET[how]]: batch })
		.where(isNull(BATCH[how]));
	return taken.affectedRows === 0 ? [] : tellingsOf(tx, how, batch);
}

export async function tellingsOf(db: Handle, how: 'at-once' | 'daily', batch: string): Promise<Told[]> {
	return db.select().from(tellings).where(eq(BATCH[how], batch)).orderBy(asc(tellings.at), asc(tellings.id));
}

/** Forgets what was told of, but for jobs that are failed still: they would be found, and told of, once more. */
export async function forgetTold(db: Handle, before: number): Promise<void> {
	const stillFailed = db
		.select({ id: jobs.id })
		.from(jobs)
		.where(and(eq(jobs.state, 'failed'), eq(tellings.source, sql`concat('job ', ${jobs.id})`)));
	await db
		.delete(tellings)
		.where(
			and(
				lt(tellings.foundAt, before),
				isNotNull(tellings.atOnceBatch),
				isNotNull(tellings.dailyBatch),
				or(ne(tellings.action, 'failed'), notExists(stillFailed))
			)
		);
}

function isNew(db: Handle, source: SQL) {
	const found = db.select({ id: tellings.id }).from(tellings).where(eq(tellings.source, source));
	return notExists(found);
}

function textIn(value: unknown, key: 'kind' | 'planId'): string | null {
	if (typeof value !== 'object' || value === null || !(key in value)) return null;
	const text = (value as Record<string, unknown>)[key];
	return typeof text === 'string' ? text : null;
}
