/** What members see of seats: those that they give, and those that wait for them. */
import { seatsFree } from '$core/billing/seats';
import type { Using } from '../../app';
import { ownAgreement } from '../../db/queries/agreements';
import { accountById } from '../../db/queries/members';
import { seatById, seatsFor, seatsOf } from '../../db/queries/seats';
import { planById, priceVersionById } from '../../db/queries/sales';

/** Of what a member has bought for several; `null`: it is none of theirs. */
export async function seatsPage(app: Using<'db'>, memberId: string, agreementId: string) {
	const row = await ownAgreement(app.db, memberId, agreementId);
	const plan = row && row.seats > 1 ? await planById(app.db, row.planId) : null;
	if (!row || !plan) return null;
	const given = await seatsOf(app.db, row.id);
	const isGoingOn = row.state === 'running' || row.state === 'first';
	return {
		...{ id: row.id, plan: plan.name, count: row.seats, hasEnded: row.state === 'ended' },
		free: seatsFree(row.seats, given.length),
		/** At which price more of them are bought; `null`: none are. */
		morePriceId:
			isGoingOn && plan.sellsSeats ? (await priceVersionById(app.db, row.priceVersionId)).priceId : null,
		given: given.map(({ id, email, name, invitedAt, joinedAt }) => ({
			...{ id, email: email ?? '', name: name ?? '', invitedAt, joinedAt }
		}))
	};
}

export type SeatPage =
	| { kind: 'waits'; plan: string; giver: string }
	| { kind: 'taken'; planId: string }
	/** `unproved`: it may be theirs, once they have shown that the mailbox is. Nobody else learns whether there is one. */
	| { kind: 'not-here' | 'unproved' };

export async function seatPage(app: Using<'db' | 'site'>, memberId: string, id: string): Promise<SeatPage> {
	const account = await accountById(app.db, memberId);
	if (!account) return { kind: 'not-here' };
	const seat = await seatById(app.db, id);
	if (seat?.memberId === memberId && seat.endedAt === null) return { kind: 'taken', planId: seat.planId };
	if (account.provedAt === null) return { kind: 'unproved' };
	const isTheirs = seat?.memberId === null && seat.email !== null && seat.email === account.email;
	if (!isTheirs || seat.endedAt !== null) return { kind: 'not-here' };
	return { kind: 'waits', plan: seat.planName, giver: seat.giver || (await app.site()).siteName };
}

/** What waits for a mailbox is told to whoever has proved it. */
export async function seatsWaiting(app: Using<'db' | 'site'>, memberId: string) {
	const account = await accountById(app.db, memberId);
	if (account?.provedAt == null || account.email === null) return [];
	const { siteName } = await app.site();
	return (await seatsFor(app.db, account.email)).map(({ id, planName: plan, giver }) => ({
		...{ id, plan, giver: giver || siteName }
	}));
}
