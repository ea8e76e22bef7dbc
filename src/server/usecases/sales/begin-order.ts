/** From the checkout form to the processor's page. Nothing is granted here. */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { sellsAt } from '$core/billing/plan-access';
import { linesOf, orderTotal } from '$core/billing/order';
import type { Using } from '../../app';
import { lockAccount } from '../../db/queries/members';
import { livingAgreements } from '../../db/queries/agreements';
import {
	lineOf,
	nextNumber,
	orderById,
	paymentsOfOrder,
	planBySlug,
	type OfferedPlan,
	type Order,
	type Payment
} from '../../db/queries/sales';
import { orderLines, orders, payments } from '../../db/schema/sales';
import { allows } from '../../people/rate-limit';
import { hashOf } from '../../people/sessions';
import { transact, type Work } from '../../transact';
import { hashPassword } from '../accounts/passwords';
import { normaliseEmail } from '../accounts/sign-in';
import { endOrder } from './end-pay-page';
import { payPage } from './pay-page';
import type { Selling } from './selling';

export interface OrderWish {
	planSlug: string;
	/** The signed-in member; then the address, name and password are not asked. */
	memberId: string | null;
	email: string;
	name: string;
	password: string;
	/** From the cookie that the checkout page set: the same device goes on with the same order. */
	deviceToken: string;
	next: string | null;
	client: string;
}

export type BegunOrder =
	| { ok: true; orderId: string; payUrl: string }
	/** `has-plan` is said to members of themselves only: nobody learns what another address holds. */
	| { ok: false; code: 'unknown-plan' | 'not-on-sale' | 'has-plan' | 'too-many' | 'busy' };

export async function beginOrder(app: Selling & Using<'settings'>, wish: OrderWish): Promise<BegunOrder> {
	if (!(await allows(app, 'orderByClient', wish.client))) return { ok: false, code: 'too-many' };
	const plan = await planBySlug(app.db, wish.planSlug);
	if (!plan) return { ok: false, code: 'unknown-plan' };
	if (!sellsAt(plan, app.clock.business())) return { ok: false, code: 'not-on-sale' };
	const hashed =
		wish.memberId === null && wish.password !== ''
			? await hashPassword(wish.password)
			: { ok: true as const, hash: null };
	if (!hashed.ok) return { ok: false, code: 'busy' };
	const placed = await transact(app, wish.memberId ? { id: wish.memberId } : null, (work) =>
		placeOrder(work, wish, plan, hashed.hash)
	);
	if (!placed) return { ok: false, code: 'has-plan' };
	const to = { planName: plan.name, returnPath: `/checkout/return/${placed.orderId}` };
	return { ok: true, orderId: placed.orderId, payUrl: await payPage(app, placed, to) };
}

async function placeOrder(
	work: Work,
	wish: OrderWish,
	plan: OfferedPlan,
	passwordHash: string | null
): Promise<Payment | null> {
	const { memberId } = wish;
	if (memberId !== null) {
		await lockAccount(work.tx, memberId);
		const living = await livingAgreements(work.tx, memberId, work.now);
		if (living.some((agreement) => agreement.planId === plan.id)) return null;
	}
	const deviceHash = hashOf(wish.deviceToken);
	const email = memberId === null ? normaliseEmail(wish.email) : null;
	// Strangers' orders are told apart by their device: nobody ends what another has begun on the same address.
	const openKey =
		memberId !== null ? `${memberId}:${plan.id}` : hashOf(JSON.stringify([deviceHash, email, plan.id]));
	const [open] = await work.tx.select().from(orders).where(eq(orders.openKey, openKey)).for('update');
	const typed = { typedName: wish.name || null, typedPasswordHash: passwordHash, next: wish.next };
	if (open && open.deviceHash === deviceHash && (await isAtPrice(work, open, plan))) {
		await work.tx.update(orders).set(typed).where(eq(orders.id, open.id));
		return currentPayment(work, open);
	}
	// Begun elsewhere or at an older price. If it is paid all the same, settling decides what becomes of it.
	if (open) await endOrder(work, open, 'replaced');
	const orderId = uuidv7();
	const lines = linesOf(plan.price.terms);
	await work.tx.insert(orders).values({
		id: orderId,
		number: `S-${10_000 + (await nextNumber(work.tx, 'order'))}`,
		memberId,
		email,
		state: 'open',
		totalMinor: orderTotal(lines),
		currency: plan.price.terms.currency,
		openKey,
		deviceHash,
		...typed,
		createdAt: work.now
	});
	await work.tx.insert(orderLines).values(
		lines.map((line) => ({
			...line,
			orderId,
			text: plan.name,
			planId: plan.id,
			priceVersionId: plan.price.id
		}))
	);
	await work.note({
		action: 'began-order',
		subject: { kind: 'order', id: orderId },
		...(memberId === null ? {} : { memberId }),
		after: { plan: plan.name }
	});
	const order = await orderById(work.tx, orderId);
	if (!order) throw new Error('The order was not written');
	return currentPayment(work, order);
}

async function isAtPrice({ tx }: Work, order: Order, plan: OfferedPlan): Promise<boolean> {
	return (await lineOf(tx, order.id)).priceVersionId === plan.price.id;
}

/** The order's payment under way, or a new attempt where the last one was declined. */
async function currentPayment({ tx, now }: Work, order: Order): Promise<Payment> {
	const [last] = await paymentsOfOrder(tx, order.id);
	if (last && last.state !== 'declined' && last.state !== 'expired') return last;
	const attempt = (last?.attempt ?? 0) + 1;
	const row = {
		id: uuidv7(),
		memberId: order.memberId,
		orderId: order.id,
		period: 0,
		attempt,
		idempotencyKey: `order:${order.id}:${attempt}`,
		state: 'pending' as const,
		amountMinor: order.totalMinor,
		currency: order.currency,
		createdAt: now
	};
	await tx.insert(payments).values(row);
	return {
		...row,
		agreementId: null,
		processorRef: null,
		payUrl: null,
		settledAt: null,
		refundedMinor: 0,
		dispute: null
	};
}
