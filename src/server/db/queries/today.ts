import { and, desc, eq, gte, inArray, isNotNull, ne, or, sql } from 'drizzle-orm';
import { TOLD_ACTIONS } from '$core/staff/telling';
import type { Handle } from '../connect';
import { fences } from '../schema/access';
import { assets, items, placements } from '../schema/library';
import { audit, jobs } from '../schema/running';
import { accounts } from '../schema/people';
import { ledgerEntries, ledgerPostings, orders, plans } from '../schema/sales';
import { ofTitle, titles } from './items';

/** What is really there, for the list of first steps. */
export async function stepsDone(db: Handle) {
	const id = items.id;
	const [item] = await db.select({ id }).from(items).limit(1);
	const [published] = await db.select({ id }).from(items).where(eq(items.state, 'published')).limit(1);
	const [plan] = await db.select({ id: plans.id }).from(plans).where(eq(plans.isLabel, false)).limit(1);
	const [fence] = await db.select({ id: fences.id }).from(fences).where(eq(fences.isOn, true)).limit(1);
	const paid = await db.select({ id: orders.id }).from(orders).where(eq(orders.state, 'paid')).limit(2);
	return {
		hasItem: item !== undefined,
		hasPlan: plan !== undefined,
		hasFence: fence !== undefined,
		hasPublished: published !== undefined,
		hasSold: paid.length > 0,
		/** The first sale was made, and no other yet. */
		hasJustBegun: paid.length === 1
	};
}

const PREPARATIONS_SHOWN = 20;

/** Preparations that run, wait or have failed. */
export async function preparations(db: Handle) {
	const found = await db
		.select({ id: jobs.id, state: jobs.state, progress: jobs.progress, assetId: jobs.subjectId })
		.from(jobs)
		.where(and(eq(jobs.kind, 'prepare'), inArray(jobs.state, ['waiting', 'running', 'failed'])))
		.orderBy(desc(jobs.createdAt))
		.limit(3 * PREPARATIONS_SHOWN);
	const assetIds = found.flatMap(({ assetId }) => assetId ?? []);
	if (assetIds.length === 0) return [];
	const shown = await db
		.select({ assetId: assets.id, problem: assets.problem, itemId: items.id, title: titles.plain })
		.from(placements)
		.innerJoin(assets, eq(assets.id, placements.assetId))
		.innerJoin(items, eq(items.id, placements.itemId))
		.innerJoin(titles, ofTitle)
		.where(and(inArray(placements.assetId, assetIds), inArray(placements.state, ['shown', 'coming'])))
		.orderBy(placements.id);
	// A film that lessons show, too, is prepared once, and belongs to where it was brought in.
	return found
		.flatMap(({ assetId, ...job }) => {
			const place = shown.find((one) => one.assetId === assetId);
			return place ? [{ ...job, problem: place.problem, itemId: place.itemId, title: place.title }] : [];
		})
		.slice(0, PREPARATIONS_SHOWN);
}

/** Films and recordings among some items that are prepared by now, or could not be. */
export async function endedPreparations(db: Handle, itemIds: readonly string[]) {
	if (itemIds.length === 0) return [];
	const rows = await db
		.select({ itemId: items.id, title: titles.plain, problem: assets.problem, stream: assets.stream })
		.from(placements)
		.innerJoin(assets, eq(assets.id, placements.assetId))
		.innerJoin(items, eq(items.id, placements.itemId))
		.innerJoin(titles, ofTitle)
		.where(and(inArray(placements.itemId, [...itemIds]), ne(assets.kind, 'file')));
	return rows.flatMap(({ itemId, title, problem, stream }) =>
		stream === null && problem === null ? [] : [{ itemId, title, problem }]
	);
}

/** New content that could be shown, and is not until somebody says yes to whom its ending lets in. */
export async function waitingForYes(db: Handle) {
	return db
		.select({ itemId: items.id, title: titles.plain, fileName: assets.fileName })
		.from(placements)
		.innerJoin(assets, eq(assets.id, placements.assetId))
		.innerJoin(items, eq(items.id, placements.itemId))
		.innerJoin(titles, ofTitle)
		.where(and(eq(placements.state, 'coming'), or(eq(assets.kind, 'file'), isNotNull(assets.stream))))
		.orderBy(titles.plain, items.id)
		.limit(50);
}

const TROUBLED_AFTER_TRIES = 3;
const TROUBLES_SHOWN = 50;

/** Jobs that have failed, and those that are tried again and again; files that are prepared stand in a list of their own. */
export async function troubledJobs(db: Handle) {
	const isTroubled = or(
		eq(jobs.state, 'failed'),
		and(eq(jobs.state, 'waiting'), gte(jobs.attempts, TROUBLED_AFTER_TRIES))
	);
	return db
		.select({
			id: jobs.id,
			kind: jobs.kind,
			state: jobs.state,
			problem: jobs.problem,
			attempts: jobs.attempts,
			memberId: jobs.memberId,
			name: accounts.name,
			at: jobs.createdAt
		})
		.from(jobs)
		.leftJoin(accounts, eq(accounts.id, jobs.memberId))
		.where(and(isTroubled, inArray(jobs.state, ['failed', 'waiting']), ne(jobs.kind, 'prepare')))
		.orderBy(desc(jobs.createdAt))
		.limit(TROUBLES_SHOWN);
}

/** Objects that are being taken in, or could not be, newest first. */
export async function takeInJobs(db: Handle) {
	const rows = await db
		.select({
			id: jobs.id,
			state: jobs.state,
			progress: jobs.progress,
			problem: jobs.problem,
			payload: jobs.payload
		})
		.from(jobs)
		.where(and(eq(jobs.kind, 'take-in'), inArray(jobs.state, ['waiting', 'running', 'failed'])))
		.orderBy(desc(jobs.createdAt))
		.limit(20);
	return rows.map(({ payload, ...job }) => ({ ...job, key: String(payload.key ?? '') }));
}

/** Who came and who went, newest first. */
export async function recentEvents(db: Handle, limit: number) {
	return db
		.select({
			id: audit.id,
			at: audit.businessAt,
			action: audit.action,
			after: audit.after,
			why: audit.why,
			memberId: audit.memberId,
			name: accounts.name
		})
		.from(audit)
		.leftJoin(accounts, eq(accounts.id, audit.memberId))
		.where(inArray(audit.action, TOLD_ACTIONS))
		.orderBy(desc(audit.businessAt), desc(audit.id))
		.limit(limit);
}

const QUARTER_MS = 900_000;

/** What came in and went back since a moment, by the quarter of an hour and the currency. */
export async function moneySince(db: Handle, from: number) {
	const quarter = sql<number>`floor(unix_timestamp(${ledgerEntries.at}) / 900)`.mapWith(Number);
	const rows = await db
		.select({
			quarter,
			currency: ledgerPostings.currency,
			minor: sql<string>`sum(${ledgerPostings.amountMinor})`.mapWith(Number)
		})
		.from(ledgerEntries)
		.innerJoin(ledgerPostings, eq(ledgerPostings.entryId, ledgerEntries.id))
		.where(and(gte(ledgerEntries.at, from), inArray(ledgerPostings.account, ['processor', 'cash'])))
		.groupBy(quarter, ledgerPostings.currency);
	return rows.map(({ quarter: of, ...row }) => ({ ...row, at: of * QUARTER_MS }));
}
