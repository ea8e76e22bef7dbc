/**
 * Hears what happened to a subscription, works out what has become of it, and carries out what is to be done now.
 *
 * Every fact is kept with the moment at which it happened; the row says what the core made of them last.
 */
import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import {
	answerTo,
	courseOf,
	effectsOf,
	type Answer,
	type Beginning,
	type Charge,
	type Course,
	type Effect
} from '$core/billing/course';
import {
	type SubscriptionCommand,
	type SubscriptionEvent,
	type SubscriptionFact
} from '$core/billing/subscription';
import type { Actor } from '../../app';
import {
	lineById,
	paymentsOfOrder,
	priceVersionById,
	stateOf,
	termsOf,
	type SubscriptionRow
} from '../../db/queries/sales';
import { grants } from '../../db/schema/access';
import { accounts } from '../../db/schema/people';
import { payments, subscriptionFacts, subscriptions } from '../../db/schema/sales';
import { transact, type Work, type Transacting } from '../../transact';

export type Moved = { kind: 'moved' } | Exclude<Answer, { kind: 'possible' }>;

/** What the member says of a cancellation. */
export interface CancelWhy {
	cancelWhy: string;
	cancelWords: string;
}

/** What somebody wants of it, now. Inside a transaction. */
export async function commandSubscription(
	work: Work,
	id: string,
	command: SubscriptionCommand,
	why?: CancelWhy
): Promise<Moved> {
	const known = await behindLock(work, id);
	const answer = answerTo(known.course, command);
	if (answer.kind !== 'possible') return answer;
	await move(work, known, { ...command, at: work.now }, why);
	return { kind: 'moved' };
}

/**
 * What a clock or the processor told. Inside a transaction that has locked the order.
 * @param at when it happened, by the business clock
 */
export async function hearOf(work: Work, id: string, event: SubscriptionEvent, at: number): Promise<boolean> {
	const known = await behindLock(work, id, event);
	return move(work, known, { ...event, at: Math.min(at, work.now) });
}

interface Known {
	row: SubscriptionRow;
	terms: ReturnType<typeof termsOf>;
	beginning: Beginning;
	facts: SubscriptionFact[];
	course: Course;
}

async function behindLock(work: Work, id: string, event: SubscriptionEvent | null = null): Promise<Known> {
	const [row] = await work.tx.select().from(subscriptions).where(eq(subscriptions.id, id)).for('update');
	if (!row) throw new Error(`There is no subscription ${id}`);
	const terms = termsOf(row, await priceVersionById(work.tx, row.priceVersionId));
	let { beginning } = row;
	if (!beginning) {
		beginning = await asItStands(work, row, event);
		await work.tx.update(subscriptions).set({ beginning }).where(eq(subscriptions.id, id));
	}
	const rows = await work.tx
		.select({ fact: subscriptionFacts.fact })
		.from(subscriptionFacts)
		.where(eq(subscriptionFacts.subscriptionId, id))
		.orderBy(asc(subscriptionFacts.id));
	const facts = rows.map(({ fact }) => fact);
	return { row, terms, beginning, facts, course: courseOf(terms, beginning, facts) };
}

/**
 * For rows from before facts were kept: what the row says, and of its payments those that came in.
 * @param event what is just being heard of, and is no part of what was
 */
async function asItStands(
	work: Work,
	row: SubscriptionRow,
	event: SubscriptionEvent | null
): Promise<Beginning> {
	const line = await lineById(work.tx, row.orderLineId);
	const known = line ? await paymentsOfOrder(work.tx, line.orderId) : [];
	const isHeard = ({ period, attempt }: Charge) =>
		event?.kind === 'captured' && event.period === period && event.attempt === attempt;
	const paid = known
		.filter(({ state, settledAt }) => settledAt !== null && state !== 'declined' && state !== 'expired')
		.map(({ period, attempt }) => ({ period, attempt }))
		.filter((charge) => !isHeard(charge));
	return { state: stateOf(row), at: work.now, paid };
}

/** Whether it changes anything. */
async function move(work: Work, known: Known, fact: SubscriptionFact, why?: CancelWhy): Promise<boolean> {
	const { row, terms, beginning, facts, course: before } = known;
	const course = courseOf(terms, beginning, [...facts, fact]);
	const hasChanged = JSON.stringify(spread(course)) !== JSON.stringify(spread(before));
	const isToldOnce = 'attempt' in fact && fact.kind !== 'retry-due';
	// What a clock says and changes nothing is of no use later.
	if (!hasChanged && !isToldOnce) return false;
	const [written] = await work.tx
		.insert(subscriptionFacts)
		.ignore()
		.values({
			subscriptionId: row.id,
			at: fact.at,
			heardAt: work.now,
			fact,
			onceKey: isToldOnce ? `${fact.kind}:${fact.period}:${fact.attempt}` : null
		});
	if (written.affectedRows === 0 || !hasChanged) return false;
	const { state } = course;
	await work.tx
		.update(subscriptions)
		.set({
			state: state.kind,
			period: state.period,
			attempt: state.kind === 'renewing' ? state.attempt : 0,
			endReason: state.kind === 'ended' ? state.why : null,
			endedAt: state.kind === 'ended' ? (row.endedAt ?? work.now) : null,
			...(fact.kind === 'cancel' ? { cancelledAt: work.now, ...why } : {}),
			...(fact.kind === 'resume' ? { cancelledAt: null, cancelWhy: null, cancelWords: null } : {})
		})
		.where(eq(subscriptions.id, row.id));
	await work.note({
		action: `subscription-${fact.kind}`,
		subject: { kind: 'subscription', id: row.id },
		memberId: row.memberId,
		before: before.state,
		after: state,
		...(why ? { why: [why.cancelWhy, why.cancelWords].filter(Boolean).join(': ') } : {})
	});
	await carryOut(work, { ...row, period: state.period }, effectsOf(before, course), state.kind === 'ended');
	return true;
}

/** A course with its maps and sets as lists, to be compared. */
function spread({ paid, refunded, disputed, ...rest }: Course) {
	return { ...rest, paid: [...paid], refunded: [...refunded], disputed: [...disputed] };
}

/** A subscription whose first period was just paid, with its row written. */
export async function beginSubscription(work: Work, row: SubscriptionRow): Promise<void> {
	if (!row.beginning) throw new Error(`Subscription ${row.id} does not begin`);
	const terms = termsOf(row, await priceVersionById(work.tx, row.priceVersionId));
	await carryOut(work, row, effectsOf(null, courseOf(terms, row.beginning, [])));
}

/** One event that a clock told, in a transaction of its own. */
export async function handleSubscriptionEvent(
	app: Transacting,
	actor: Actor,
	id: string,
	event: SubscriptionEvent
): Promise<boolean> {
	return transact(app, actor, (work) => hearOf(work, id, event, work.now));
}

async function carryOut(
	work: Work,
	row: SubscriptionRow,
	effects: readonly Effect[],
	hasEnded = false
): Promise<void> {
	for (const effect of effects) {
		switch (effect.kind) {
			case 'charge': {
				const { period, attempt } = effect;
				await work.queue(
					'charge',
					{ subscriptionId: row.id, period, attempt },
					{ key: `charge:${row.id}:${period}:${attempt}`, subjectId: row.id }
				);
				break;
			}
			case 'schedule':
				await work.queue(
					'subscription-event',
					{ subscriptionId: row.id, event: effect.event },
					{
						key: `event:${row.id}:${effect.event.kind}:${JSON.stringify(effect.event)}`.slice(0, 160),
						runAt: effect.at,
						subjectId: row.id
					}
				);
				break;
			case 'open-until':
				await openUntil(work, row, effect.until, effect.wasShut);
				break;
			case 'shut':
				await endGrant(work, row);
				break;
			case 'give-back':
				await giveBack(work, row, effect);
				break;
			case 'tell':
				await work.queue(
					'mail',
					{
						occasion: 'subscription',
						subscriptionId: row.id,
						message: effect.message,
						period: row.period,
						hasEnded
					},
					{ memberId: row.memberId }
				);
				break;
		}
	}
}

/** A grant that was revoked stays so, because it was: what opens again is another one. */
async function openUntil(work: Work, row: SubscriptionRow, until: number, wasShut: boolean): Promise<void> {
	if (wasShut) {
		const { memberId, planId } = row;
		const id = uuidv7();
		await work.tx
			.insert(grants)
			.values({ id, memberId, planId, from: work.now, until, source: 'subscription' });
		await work.tx.update(subscriptions).set({ grantId: id }).where(eq(subscriptions.id, row.id));
	} else await work.tx.update(grants).set({ until }).where(eq(grants.id, row.grantId));
	work.standingChanged(row.memberId);
}

/** Proofs made before are void from now on. */
async function endGrant(work: Work, row: SubscriptionRow): Promise<void> {
	await work.tx
		.update(grants)
		.set({ revokedAt: work.now })
		.where(and(eq(grants.id, row.grantId), isNull(grants.revokedAt)));
	await work.tx
		.update(accounts)
		.set({ epoch: sql`${accounts.epoch} + 1` })
		.where(eq(accounts.id, row.memberId));
	work.standingChanged(row.memberId);
}

async function giveBack(work: Work, row: SubscriptionRow, { period, attempt }: Charge): Promise<void> {
	const line = await lineById(work.tx, row.orderLineId);
	const paid = await work.tx
		.select({ id: payments.id })
		.from(payments)
		.where(
			and(
				line ? eq(payments.orderId, line.orderId) : eq(payments.subscriptionId, row.id),
				eq(payments.period, period),
				eq(payments.attempt, attempt),
				eq(payments.state, 'captured')
			)
		);
	for (const { id } of paid) {
		await work.queue('give-back', { paymentId: id }, { key: `give-back:${id}` });
	}
}
