/** Members, found by what they hold and held, when they came and when something of theirs ended. */
import { and, asc, eq, inArray, isNull, like, or, sql, type SQL } from 'drizzle-orm';
import type { Handle } from '../connect';
import { RENEWING } from './members';
import { accounts } from '../schema/people';
import { plans } from '../schema/sales';
import { containing } from './library';
import { ordering, PAGE_SIZE, total, type ListAsk } from './lists';

/** Of plans, labels aside: holds one · holds none that goes on · held one before · never held one. */
export const MEMBER_STATES = ['holds', 'runs-out', 'lapsed', 'never'] as const;
export type MemberState = (typeof MEMBER_STATES)[number];

export interface MemberAsk extends ListAsk {
	/** Plans are looked at as if there were only this one. */
	planId: string | null;
	labelId: string | null;
	state: MemberState | null;
	/** Came in `[from, to)`; `null`: whenever. */
	joined: Span;
	/** A plan of theirs ended in `[from, to)`. */
	ended: Span;
}

export interface Span {
	from: number | null;
	to: number | null;
}

/** With its table: of a single table, columns are written without. */
const ID = sql`accounts.id`;
const ENDS = sql`coalesce(g.revoked_at, g.until_at)`;

/** As many ids as are asked for in one statement. */
const AT_ONCE = 1000;

export async function memberList(db: Handle, ask: MemberAsk, now: number) {
	const where = wanted(ask, now);
	const rows = await shown(db, now)
		.where(where)
		.orderBy(
			...ordering(
				ask.order,
				{ name: accounts.name, email: accounts.email, joined: accounts.createdAt },
				'joined',
				accounts.id
			)
		)
		.limit(PAGE_SIZE)
		.offset((ask.page - 1) * PAGE_SIZE);
	const [count] = await db.select({ total }).from(accounts).where(where);
	return { rows, total: count?.total ?? 0 };
}

/** Everybody whom a list is of, in the order in which they came. */
export async function memberIds(db: Handle, ask: MemberAsk, now: number): Promise<string[]> {
	const rows = await db
		.select({ id: accounts.id })
		.from(accounts)
		.where(wanted(ask, now))
		.orderBy(accounts.createdAt, accounts.id);
	return rows.map(({ id }) => id);
}

/** Members whose name or address has a text in it, so many of them at most. */
export async function idsNamed(db: Handle, text: string, atMost: number): Promise<string[]> {
	const wanted = containing(text);
	const rows = await db
		.select({ id: accounts.id })
		.from(accounts)
		.where(and(isNull(accounts.deletedAt), or(like(accounts.name, wanted), like(accounts.email, wanted))))
		.limit(atMost);
	return rows.map(({ id }) => id);
}

/** The rows of some members, in the order of their ids. */
export async function memberRows(db: Handle, ids: readonly string[], now: number) {
	const rows = [];
	for (let n = 0; n < ids.length; n += AT_ONCE)
		rows.push(
			...(await shown(db, now)
				.where(and(inArray(accounts.id, ids.slice(n, n + AT_ONCE)), isNull(accounts.deletedAt)))
				.orderBy(asc(accounts.id)))
		);
	return rows;
}

export async function allLabels(db: Handle): Promise<{ id: string; name: string }[]> {
	return db
		.select({ id: plans.id, name: plans.name })
		.from(plans)
		.where(eq(plans.isLabel, true))
		.orderBy(plans.name, plans.id);
}

/** Labels with how many have each now. */
export async function countedLabels(db: Handle, now: number) {
	const members = sql<number>`(select count(distinct g.member_id) from grants g join accounts a on a.id = g.member_id and a.deleted_at is null where g.plan_id = plans.id and ${runs(now)})`;
	return db
		.select({ id: plans.id, name: plans.name, members: members.mapWith(Number) })
		.from(plans)
		.where(eq(plans.isLabel, true))
		.orderBy(plans.name, plans.id);
}

function shown(db: Handle, now: number) {
	const names = (isLabel: boolean) =>
		sql<
			string | null
		>`(select group_concat(distinct p.name order by p.name separator ', ') from grants g join plans p on p.id = g.plan_id and p.is_label = ${isLabel} where g.member_id = ${ID} and ${runs(now)})`;
	return db
		.select({
			id: accounts.id,
			name: accounts.name,
			email: accounts.email,
			createdAt: accounts.createdAt,
			plans: names(false),
			labels: names(true),
			/** Whether one of their plans is paid for by and by, and goes on. */
			renews:
				sql<number>`exists(select 1 from grants g join agreements s on s.grant_id = g.id and s.state in ${RENEWING} where g.member_id = ${ID} and ${runs(now)})`.mapWith(
					Boolean
				),
			/** When the last of their plans ended, or will; `null`: none does, or there is none. */
			endsAt: sql<
				number | null
			>`(select if(sum(g.revoked_at is null and g.until_at is null) > 0, null, max(coalesce(g.revoked_at, g.until_at))) from grants g join plans p on p.id = g.plan_id and p.is_label = false where g.member_id = ${ID})`.mapWith(
				accounts.deletedAt
			)
		})
		.from(accounts)
		.$dynamic();
}

function wanted(ask: MemberAsk, now: number): SQL | undefined {
	const text = containing(ask.search);
	return and(
		isNull(accounts.deletedAt),
		eq(accounts.role, 'member'),
		ask.search === '' ? undefined : or(like(accounts.name, text), like(accounts.email, text)),
		ask.labelId === null ? undefined : granted(ask.labelId, true, runs(now)),
		held(ask, now),
		within(sql`accounts.created_at`, ask.joined),
		ask.ended.from === null && ask.ended.to === null
			? undefined
			: granted(ask.planId, false, sql`${ENDS} <= ${at(now)} and ${within(ENDS, ask.ended)}`)
	);
}

function held({ state, planId, ended }: MemberAsk, now: number): SQL | undefined {
	const holds = granted(planId, false, runs(now));
	switch (state) {
		case 'holds':
			return holds;
		case 'runs-out':
			return sql`${holds} and not ${granted(planId, false, sql`${runs(now)} and (g.until_at is null or exists(select 1 from agreements s where s.grant_id = g.id and s.state in ${RENEWING}))`)}`;
		case 'lapsed':
			return sql`${granted(planId, false, sql`g.from_at <= ${at(now)}`)} and not ${holds}`;
		case 'never':
			return sql`not ${granted(planId, false, sql`g.from_at <= ${at(now)}`)}`;
		case null:
			return planId !== null && ended.from === null && ended.to === null ? holds : undefined;
	}
}

/** Whether they have a grant of which something is so: to a plan, or to a label; to one of them, or to any. */
function granted(id: string | null, isLabel: boolean, so: SQL): SQL {
	const of = id === null ? sql`p.is_label = ${isLabel}` : sql`g.plan_id = ${id}`;
	return sql`exists(select 1 from grants g join plans p on p.id = g.plan_id where g.member_id = ${ID} and ${of} and ${so})`;
}

/** Whether a grant is in force. */
function runs(now: number): SQL {
	return sql`g.from_at <= ${at(now)} and (g.until_at is null or g.until_at > ${at(now)}) and (g.revoked_at is null or g.revoked_at > ${at(now)})`;
}

function within(moment: SQL, { from, to }: Span): SQL | undefined {
	return and(
		from === null ? undefined : sql`${moment} >= ${at(from)}`,
		to === null ? undefined : sql`${moment} < ${at(to)}`
	);
}

/** As the database writes it. */
function at(moment: number): SQL {
	return sql`${sql.param(moment, accounts.createdAt)}`;
}
