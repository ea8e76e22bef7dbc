/** Programs that are told, what they were told, and who holds which plan as they know it. */
import {
	and,
	asc,
	desc,
	eq,
	exists,
	gt,
	inArray,
	isNotNull,
	isNull,
	lt,
	lte,
	min,
	ne,
	notExists,
	or,
	sql
} from 'drizzle-orm';
import type { Listening } from '$core/listeners/listening';
import type { Place } from '$core/listeners/places';
import type { Handle, Tx } from '../connect';
import { grants } from '../schema/access';
import { calls, listeners, placeRounds, toldPlaces, type CallState } from '../schema/listeners';
import { accounts } from '../schema/people';
import { plans } from '../schema/sales';
import { total } from './lists';

export type Listener = typeof listeners.$inferSelect;
export type Call = typeof calls.$inferSelect;
export type NewCall = Omit<typeof calls.$inferInsert, 'createdAt'>;

export async function allListeners(db: Handle): Promise<Listener[]> {
	return db.select().from(listeners).orderBy(asc(listeners.createdAt));
}

/** Those that are told what happens. */
export async function listening(db: Handle): Promise<(Listening & Pick<Listener, 'id' | 'url'>)[]> {
	const { id, url, events, planIds } = listeners;
	return db.select({ id, url, events, planIds }).from(listeners).where(isNull(listeners.endedAt));
}

export async function listenerById(db: Handle, id: string): Promise<Listener | null> {
	if (!/^[0-9a-f-]{36}$/.test(id)) return null;
	const [row] = await db.select().from(listeners).where(eq(listeners.id, id));
	return row ?? null;
}

export async function lockListener(tx: Tx, id: string): Promise<Listener | null> {
	const [row] = await tx.select().from(listeners).where(eq(listeners.id, id)).for('update');
	return row ?? null;
}

const CALLS_AT_ONCE = 500;

export async function keepCalls(tx: Tx, all: readonly NewCall[], at: number): Promise<void> {
	for (let n = 0; n < all.length; n += CALLS_AT_ONCE)
		await tx.insert(calls).values(all.slice(n, n + CALLS_AT_ONCE).map((one) => ({ ...one, createdAt: at })));
}

/** Whoever calls a program does so alone. @returns whether it is this caller's turn */
export async function takeTurn(
	db: Handle,
	id: string,
	token: string,
	now: number,
	until: number
): Promise<boolean> {
	const { endedAt, restsUntil, turnUntil, turnToken } = listeners;
	const [taken] = await db
		.update(listeners)
		.set({ turnToken: token, turnUntil: until })
		.where(
			and(
				eq(listeners.id, id),
				isNull(endedAt),
				isNotNull(listeners.url),
				or(isNull(restsUntil), lte(restsUntil, now)),
				or(isNull(turnUntil), lte(turnUntil, now), eq(turnToken, token))
			)
		);
	return taken.affectedRows === 1;
}

export async function endTurn(
	db: Handle,
	id: string,
	token: string,
	how: { failures: number; restsUntil: number | null }
): Promise<void> {
	await db
		.update(listeners)
		.set({ ...how, turnToken: null, turnUntil: null })
		.where(and(eq(listeners.id, id), eq(listeners.turnToken, token)));
}

/** Programs for which something waits, and whom nobody calls. */
export async function idleListeners(db: Handle, now: number): Promise<string[]> {
	const { id, endedAt, url, restsUntil, turnUntil } = listeners;
	const waiting = db
		.select({ id: calls.id })
		.from(calls)
		.where(and(eq(calls.listenerId, id), eq(calls.state, 'waiting')));
	const rows = await db
		.select({ id })
		.from(listeners)
		.where(
			and(
				isNull(endedAt),
				isNotNull(url),
				or(isNull(restsUntil), lte(restsUntil, now)),
				or(isNull(turnUntil), lte(turnUntil, now)),
				exists(waiting)
			)
		);
	return rows.map((row) => row.id);
}

/** The call that stands first. */
export async function nextCall(db: Handle, listenerId: string): Promise<Call | null> {
	const [row] = await db
		.select()
		.from(calls)
		.where(and(eq(calls.listenerId, listenerId), eq(calls.state, 'waiting')))
		.orderBy(asc(calls.id))
		.limit(1);
	return row ?? null;
}

/** What came of a call, if it still waits: it may have gone with whom it was about, or been let go. */
export async function keepAnswer(
	db: Handle,
	id: string,
	came: { state: CallState; status: number | null; answer: string; at: number }
): Promise<void> {
	const { at, ...rest } = came;
	await db
		.update(calls)
		.set({ ...rest, lastTryAt: at, tries: sql`${calls.tries} + 1` })
		.where(and(eq(calls.id, id), eq(calls.state, 'waiting')));
}

export interface CallsAsk {
	listenerId: string;
	/** `null`: all. */
	state: CallState | null;
	page: number;
	pageSize: number;
}

export async function callsOf(db: Handle, { listenerId, state, page, pageSize }: CallsAsk): Promise<Call[]> {
	return db
		.select()
		.from(calls)
		.where(and(eq(calls.listenerId, listenerId), state === null ? undefined : eq(calls.state, state)))
		.orderBy(desc(calls.id))
		.limit(pageSize)
		.offset((page - 1) * pageSize);
}

/** The oldest first, some after another. */
export async function callsAfter(
	db: Handle,
	listenerId: string,
	after: string | null,
	limit: number
): Promise<Call[]> {
	return db
		.select()
		.from(calls)
		.where(and(eq(calls.listenerId, listenerId), after === null ? undefined : gt(calls.id, after)))
		.orderBy(asc(calls.id))
		.limit(limit);
}

export type CallCounts = Record<CallState, number>;

export const NO_CALLS: CallCounts = { waiting: 0, taken: 0, refused: 0, 'let-go': 0 };

/** How many there are of each state, by program: by the index alone, for there may be many. */
export async function callCounts(db: Handle, listenerId?: string): Promise<Map<string, CallCounts>> {
	const rows = await db
		.select({ listenerId: calls.listenerId, state: calls.state, count: total })
		.from(calls)
		.where(listenerId === undefined ? undefined : eq(calls.listenerId, listenerId))
		.groupBy(calls.listenerId, calls.state);
	const found = new Map<string, CallCounts>();
	for (const { listenerId: id, state, count } of rows)
		found.set(id, { ...(found.get(id) ?? NO_CALLS), [state]: count });
	return found;
}

/** When the newest of those that were taken was; `null`: none was. */
export async function lastTaken(db: Handle, listenerId: string): Promise<number | null> {
	const [row] = await db
		.select({ at: calls.lastTryAt })
		.from(calls)
		.where(and(eq(calls.listenerId, listenerId), eq(calls.state, 'taken')))
		.orderBy(desc(calls.id))
		.limit(1);
	return row?.at ?? null;
}

const ROUND = 1;

/** Locks the places, whoever is second waiting for whoever is first. @returns whether they are kept */
export async function lockPlaces(tx: Tx): Promise<boolean> {
	await tx.insert(placeRounds).ignore().values({ id: ROUND, isKept: false });
	const [row] = await tx.select().from(placeRounds).where(eq(placeRounds.id, ROUND)).for('update');
	return row?.isKept ?? false;
}

export async function keepsPlaces(tx: Tx, isKept: boolean): Promise<void> {
	await tx.update(placeRounds).set({ isKept }).where(eq(placeRounds.id, ROUND));
}

function inForce(now: number) {
	return and(
		lte(grants.from, now),
		or(isNull(grants.until), gt(grants.until, now)),
		or(isNull(grants.revokedAt), gt(grants.revokedAt, now))
	);
}

/** Everybody's plans as they are held now are what is known from now on; nobody is told of them. */
export async function takePlaces(tx: Tx, now: number): Promise<void> {
	await tx.delete(toldPlaces);
	await tx.insert(toldPlaces).select(
		tx
			.selectDistinct({
				memberId: grants.memberId,
				planId: grants.planId,
				email: sql<string>`${accounts.email}`.as('email')
			})
			.from(grants)
			.innerJoin(accounts, eq(accounts.id, grants.memberId))
			.innerJoin(plans, eq(plans.id, grants.planId))
			.where(and(inForce(now), isNotNull(accounts.email), eq(plans.isLabel, false)))
	);
}

export async function forgetPlaces(tx: Tx): Promise<void> {
	await tx.delete(toldPlaces);
}

/** Members who may hold another plan, or have another address, than was told last: at most so many, and whoever is left comes next. */
export async function membersMoved(tx: Tx, now: number, limit: number): Promise<string[]> {
	const told = and(eq(toldPlaces.memberId, grants.memberId), eq(toldPlaces.planId, grants.planId));
	const came = tx
		.selectDistinct({ memberId: grants.memberId })
		.from(grants)
		.innerJoin(accounts, eq(accounts.id, grants.memberId))
		.innerJoin(plans, eq(plans.id, grants.planId))
		.leftJoin(toldPlaces, told)
		.where(
			and(inForce(now), isNotNull(accounts.email), eq(plans.isLabel, false), isNull(toldPlaces.memberId))
		)
		.limit(limit);
	const went = tx
		.select({ memberId: toldPlaces.memberId })
		.from(toldPlaces)
		.where(
			notExists(
				tx
					.select({ id: grants.id })
					.from(grants)
					.where(and(told, inForce(now)))
			)
		)
		.limit(limit);
	const moved = tx
		.select({ memberId: toldPlaces.memberId })
		.from(toldPlaces)
		.innerJoin(accounts, eq(accounts.id, toldPlaces.memberId))
		.where(or(isNull(accounts.email), ne(accounts.email, toldPlaces.email)))
		.limit(limit);
	const found = [...(await came), ...(await went), ...(await moved)];
	return [...new Set(found.map(({ memberId }) => memberId))].slice(0, limit);
}

export async function placesOf(tx: Tx, memberIds: readonly string[]): Promise<Place[]> {
	if (memberIds.length === 0) return [];
	return tx
		.select()
		.from(toldPlaces)
		.where(inArray(toldPlaces.memberId, [...memberIds]));
}

export interface HeldPlace extends Place {
	name: string;
	isProved: boolean;
}

export async function heldPlaces(tx: Tx, memberIds: readonly string[], now: number): Promise<HeldPlace[]> {
	if (memberIds.length === 0) return [];
	const rows = await tx
		.selectDistinct({
			memberId: grants.memberId,
			planId: grants.planId,
			email: accounts.email,
			name: accounts.name,
			provedAt: accounts.provedAt
		})
		.from(grants)
		.innerJoin(accounts, eq(accounts.id, grants.memberId))
		.innerJoin(plans, eq(plans.id, grants.planId))
		.where(and(inArray(grants.memberId, [...memberIds]), inForce(now), eq(plans.isLabel, false)));
	return rows.flatMap(({ email, provedAt, ...row }) =>
		email === null ? [] : [{ ...row, email, isProved: provedAt !== null }]
	);
}

export async function writePlaces(tx: Tx, left: readonly Place[], joined: readonly Place[]): Promise<void> {
	for (const { memberId, planId } of left)
		await tx.delete(toldPlaces).where(and(eq(toldPlaces.memberId, memberId), eq(toldPlaces.planId, planId)));
	for (let n = 0; n < joined.length; n += CALLS_AT_ONCE)
		await tx
			.insert(toldPlaces)
			.values(
				joined.slice(n, n + CALLS_AT_ONCE).map(({ memberId, planId, email }) => ({ memberId, planId, email }))
			);
}

/** What was told of somebody, and to which programs. */
export async function callsAbout(db: Handle, memberId: string) {
	return db
		.select({ program: listeners.name, event: calls.event, at: calls.createdAt })
		.from(calls)
		.innerJoin(listeners, eq(listeners.id, calls.listenerId))
		.where(and(eq(calls.memberId, memberId), eq(calls.state, 'taken')))
		.orderBy(asc(calls.id));
}

/** Calls that came to an end, made before a moment; what waits is kept. */
export async function forgetCalls(db: Handle, before: number): Promise<void> {
	await db.delete(calls).where(and(ne(calls.state, 'waiting'), lt(calls.createdAt, before)));
}

/** What was told of somebody, or is to be: but for what says that they left. */
export async function forgetCallsAbout(tx: Tx, memberId: string): Promise<void> {
	await tx.delete(calls).where(eq(calls.memberId, memberId));
}

const WAITS_LONG_MS = 10 * 60_000;

/** Programs that have not answered for some time, or have refused what nobody has seen yet. */
export async function troubledListeners(db: Handle, now: number) {
	const { id, name } = listeners;
	const rows = await db
		.select({
			id,
			name,
			state: calls.state,
			count: total,
			since: min(calls.dueAt)
		})
		.from(listeners)
		.innerJoin(calls, eq(calls.listenerId, id))
		.where(
			and(
				isNull(listeners.endedAt),
				or(
					eq(calls.state, 'refused'),
					and(eq(calls.state, 'waiting'), isNotNull(calls.dueAt), lt(calls.dueAt, now - WAITS_LONG_MS))
				)
			)
		)
		.groupBy(id, calls.state)
		.orderBy(asc(name));
	return rows.map((row) => ({ ...row, isAway: row.state === 'waiting' }));
}
