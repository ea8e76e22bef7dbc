/** Puts an event to a subscription and carries out what the core answers. */
import { and, eq, isNull, sql } from 'drizzle-orm';
import { transition, type Effect, type SubscriptionEvent, type Transition } from '$core/billing/subscription';
import type { Actor, App } from '../../app';
import { priceVersionById, toSubscription, type SubscriptionRow } from '../../db/queries/sales';
import { grants } from '../../db/schema/access';
import { accounts } from '../../db/schema/people';
import { payments, subscriptions } from '../../db/schema/sales';
import { transact, type Work } from '../../transact';

/** Inside a transaction that has locked the order, or begins it. */
export async function moveSubscription(
	work: Work,
	id: string,
	event: SubscriptionEvent,
	why?: { cancelWhy: string; cancelWords: string }
): Promise<Transition> {
	const [locked] = await work.tx.select().from(subscriptions).where(eq(subscriptions.id, id)).for('update');
	if (!locked) throw new Error(`There is no subscription ${id}`);
	const price = await priceVersionById(work.tx, locked.priceVersionId);
	const before = toSubscription(locked, price);
	const result = transition(before, event);
	if (result.kind !== 'moved') return result;
	const { state } = result;
	await work.tx
		.update(subscriptions)
		.set({
			state: state.kind,
			period: state.period,
			attempt: state.kind === 'renewing' ? state.attempt : 0,
			endReason: state.kind === 'ended' ? state.why : null,
			endedAt: state.kind === 'ended' ? (locked.endedAt ?? work.now) : null,
			...(event.kind === 'cancel' ? { cancelledAt: work.now, ...why } : {}),
			...(event.kind === 'resume' ? { cancelledAt: null, cancelWhy: null, cancelWords: null } : {})
		})
		.where(eq(subscriptions.id, id));
	await work.note({
		action: `subscription-${event.kind}`,
		subject: { kind: 'subscription', id },
		memberId: locked.memberId,
		before: before.state,
		after: state,
		...(why ? { why: [why.cancelWhy, why.cancelWords].filter(Boolean).join(': ') } : {})
	});
	await carryOut(work, { ...locked, period: state.period }, result.effects, state.kind === 'ended');
	return result;
}

/** One event in a transaction of its own. */
export async function handleSubscriptionEvent(
	app: App,
	actor: Actor,
	id: string,
	event: SubscriptionEvent,
	why?: { cancelWhy: string; cancelWords: string }
): Promise<Transition> {
	return transact(app, actor, (work) => moveSubscription(work, id, event, why));
}

export async function carryOut(
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
			case 'grant-until':
				await work.tx.update(grants).set({ until: effect.until }).where(eq(grants.id, row.grantId));
				work.standingChanged(row.memberId);
				break;
			case 'end-grant':
				await endGrant(work, row);
				break;
			case 'give-back':
				await giveBack(work, row, effect.period);
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

async function giveBack(work: Work, row: SubscriptionRow, period: number): Promise<void> {
	const paid = await work.tx
		.select({ id: payments.id })
		.from(payments)
		.where(
			and(eq(payments.subscriptionId, row.id), eq(payments.period, period), eq(payments.state, 'captured'))
		);
	for (const { id } of paid) {
		await work.queue('give-back', { paymentId: id }, { key: `give-back:${id}` });
	}
}
