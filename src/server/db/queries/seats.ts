/** Who has a seat of what somebody else has bought for several. */
import { and, asc, count, eq, isNotNull, isNull } from 'drizzle-orm';
import type { Handle } from '../connect';
import { accounts } from '../schema/people';
import { agreements, plans, seats } from '../schema/sales';

export type Seat = typeof seats.$inferSelect;

/** Those that stand, in the order in which they were given, with who came. */
export async function seatsOf(db: Handle, agreementId: string) {
	const { id, email, invitedAt, joinedAt, memberId } = seats;
	return db
		.select({ id, email, invitedAt, joinedAt, memberId, name: accounts.name })
		.from(seats)
		.leftJoin(accounts, eq(accounts.id, seats.memberId))
		.where(and(eq(seats.agreementId, agreementId), isNull(seats.endedAt)))
		.orderBy(asc(seats.invitedAt), asc(seats.id));
}

export async function countSeats(db: Handle, agreementId: string): Promise<{ given: number; came: number }> {
	const [row] = await db
		.select({ given: count(), came: count(seats.memberId) })
		.from(seats)
		.where(and(eq(seats.agreementId, agreementId), isNull(seats.endedAt)));
	return row ?? { given: 0, came: 0 };
}

/** Seats that somebody has taken, each with whose it is. */
export async function takenSeats(
	db: Handle,
	agreementId: string
): Promise<{ id: string; memberId: string }[]> {
	const rows = await db
		.select({ id: seats.id, memberId: seats.memberId })
		.from(seats)
		.where(and(eq(seats.agreementId, agreementId), isNotNull(seats.memberId), isNull(seats.endedAt)))
		.orderBy(asc(seats.id));
	return rows.flatMap(({ id, memberId }) => (memberId === null ? [] : [{ id, memberId }]));
}

/** With what it is of, and who keeps it for them. */
export interface StandingSeat extends Seat {
	planId: string;
	planName: string;
	giverId: string;
	giver: string;
}

const standing = (db: Handle) =>
	db
		.select({
			seat: seats,
			planId: plans.id,
			planName: plans.name,
			giverId: accounts.id,
			giver: accounts.name
		})
		.from(seats)
		.innerJoin(agreements, eq(agreements.id, seats.agreementId))
		.innerJoin(plans, eq(plans.id, agreements.planId))
		.innerJoin(accounts, eq(accounts.id, agreements.memberId))
		.$dynamic();

export async function seatById(db: Handle, id: string): Promise<StandingSeat | null> {
	if (!/^[0-9a-f-]{36}$/.test(id)) return null;
	const [row] = await standing(db).where(eq(seats.id, id));
	return row ? { ...row.seat, ...row } : null;
}

/** What waits for a mailbox. */
export async function seatsFor(db: Handle, email: string): Promise<StandingSeat[]> {
	const rows = await standing(db)
		.where(and(eq(seats.email, email), isNull(seats.memberId), isNull(seats.endedAt)))
		.orderBy(asc(seats.id));
	return rows.map((row) => ({ ...row.seat, ...row }));
}
