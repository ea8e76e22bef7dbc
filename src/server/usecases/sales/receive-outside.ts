/**
 * What a checkout elsewhere tells, in a signed call: a purchase grants a plan, or takes it away. The same event twice changes
 * nothing; what is heard late counts by when it happened.
 */
import { createHash } from 'node:crypto';
import { and, eq, isNull } from 'drizzle-orm';
import { lastOf, type OutsideDeed, type OutsideMessage } from '$core/billing/outside';
import { accessEnd } from '$core/billing/plan-access';
import type { Using } from '../../app';
import { accountByEmail, accountById, lockAccount } from '../../db/queries/members';
import { planById, planBySlug, type OfferedPlan } from '../../db/queries/sales';
import { grants } from '../../db/schema/access';
import { outsideCheckouts, outsideEvents, outsidePurchases } from '../../db/schema/sales';
import { transact, type Transacting, type Work } from '../../transact';
import { grantTo, revokeGrants } from '../access/granting';
import { makeAccount } from '../accounts/make-account';
import { endUnproved } from '../accounts/proving';
import { normaliseEmail } from '../accounts/sign-in';

export type HeardOutside =
	/** `known`: it was told before. `late`: something that happened after it counts. `gone`: its member was deleted since. */
	| { ok: true; outcome: 'granted' | 'withdrawn' | 'known' | 'late' | 'gone' }
	/**
	 * `too-early`: it has not happened yet, and would count before all that happens until then. `other-message`: an event of this
	 * name said something else. `ended`: this checkout is not listened to any more.
	 */
	| { ok: false; code: 'unknown-plan' | 'too-early' | 'other-message' | 'ended' };

/** So far may clocks differ. */
const CLOCKS_DIFFER_MS = 10 * 60_000;

type Receiving = Transacting & Using<'site'>;

export async function receiveOutside(
	app: Receiving,
	checkoutId: string,
	message: OutsideMessage
): Promise<HeardOutside> {
	const { does } = message;
	if (message.at > app.clock.business() + CLOCKS_DIFFER_MS) return { ok: false, code: 'too-early' };
	const plan = does.kind === 'grant' ? await planNamed(app, does.plan) : null;
	if (does.kind === 'grant' && !plan) return { ok: false, code: 'unknown-plan' };
	const deed: OutsideDeed =
		does.kind === 'grant' ? { kind: 'grant', planId: plan?.id ?? '', until: does.until } : does;
	const { zone } = await app.site();
	return transact<HeardOutside>(app, null, async (work) => {
		const [checkout] = await work.tx
			.select()
			.from(outsideCheckouts)
			.where(eq(outsideCheckouts.id, checkoutId));
		if (!checkout || checkout.endedAt !== null) return { ok: false, code: 'ended' };
		const purchase = await lockPurchase(work, checkoutId, message.purchase);
		const digest = createHash('sha256').update(JSON.stringify(message)).digest('hex');
		const isEvent = and(eq(outsideEvents.checkoutId, checkoutId), eq(outsideEvents.eventId, message.id));
		const [known] = await work.tx.select().from(outsideEvents).where(isEvent).for('update');
		if (known)
			return known.digest === digest ? { ok: true, outcome: 'known' } : { ok: false, code: 'other-message' };
		await work.tx.insert(outsideEvents).values({
			...{ checkoutId, eventId: message.id, purchaseId: purchase.id },
			...{ at: message.at, heardAt: work.now, does: deed, digest }
		});
		const all = await work.tx.select().from(outsideEvents).where(eq(outsideEvents.purchaseId, purchase.id));
		const last = lastOf(all.map(({ eventId: id, at, does: done }) => ({ id, at, does: done })));
		if (!last || last.id !== message.id) return { ok: true, outcome: 'late' };
		if (last.does.kind === 'withdraw' || !plan) {
			await withdraw(work, purchase.grantId);
			return { ok: true, outcome: 'withdrawn' };
		}
		const giving = { purchase, message, plan, until: last.does.until, zone, by: checkout.name };
		return { ok: true, outcome: (await give(work, giving)) ? 'granted' : 'gone' };
	});
}

async function planNamed(app: Using<'db'>, name: string): Promise<OfferedPlan | null> {
	const slug = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(name)
		? ((await planById(app.db, name))?.slug ?? name)
		: name;
	return planBySlug(app.db, slug);
}

type Purchase = typeof outsidePurchases.$inferSelect;

/** Until the transaction ends, nobody else hears of it. */
async function lockPurchase({ tx }: Work, checkoutId: string, purchase: string): Promise<Purchase> {
	await tx.insert(outsidePurchases).ignore().values({ checkoutId, purchase });
	const [row] = await tx
		.select()
		.from(outsidePurchases)
		.where(and(eq(outsidePurchases.checkoutId, checkoutId), eq(outsidePurchases.purchase, purchase)))
		.for('update');
	if (!row) throw new Error('The purchase was not written');
	return row;
}

async function withdraw(work: Work, grantId: string | null): Promise<void> {
	if (grantId === null) return;
	for (const { id, memberId, planId } of await revokeGrants(work, eq(grants.id, grantId)))
		await work.note({
			action: 'ended-grant',
			subject: { kind: 'grant', id },
			...{ memberId, after: { planId, by: 'outside' } }
		});
}

interface Giving {
	purchase: Purchase;
	message: OutsideMessage;
	plan: OfferedPlan;
	/** As they sold it; `null`: as the plan says. */
	until: number | null;
	zone: string;
	/** What the checkout is called. */
	by: string;
}

/** `false`: there is nobody any more to give it to. */
async function give(work: Work, { purchase, message, plan, zone, by, ...sold }: Giving): Promise<boolean> {
	const memberId = await memberOf(work, purchase, message);
	if (memberId === null) return false;
	const from = Math.min(message.at, work.now);
	const until = sold.until ?? accessEnd(plan.access, from, zone);
	const [held] =
		purchase.grantId === null
			? []
			: await work.tx
					.select()
					.from(grants)
					.where(and(eq(grants.id, purchase.grantId), isNull(grants.revokedAt)))
					.for('update');
	if (held?.planId === plan.id) {
		await work.tx.update(grants).set({ until }).where(eq(grants.id, held.id));
		const about = { subject: { kind: 'grant', id: held.id }, memberId };
		await work.note({ action: 'prolonged-grant', ...about, before: held.until, after: until });
		work.standingChanged(memberId);
		return true;
	}
	if (held) await withdraw(work, held.id);
	const source = 'outside' as const;
	const [grantId = ''] = await grantTo(work, [{ memberId, planId: plan.id, from, until, source, by }]);
	await work.tx
		.update(outsidePurchases)
		.set({ memberId, grantId })
		.where(eq(outsidePurchases.id, purchase.id));
	await work.queue('mail', { occasion: 'invitation', memberId, planId: plan.id }, { memberId });
	return true;
}

/** Whose it is: of the address that they told first, which gets an account where it has none. `null`: it was deleted since. */
async function memberOf(
	work: Work,
	purchase: Purchase,
	{ email: typed, name }: OutsideMessage
): Promise<string | null> {
	if (purchase.memberId !== null) {
		await lockAccount(work.tx, purchase.memberId);
		return (await accountById(work.tx, purchase.memberId))?.id ?? null;
	}
	const email = normaliseEmail(typed);
	const id = await makeAccount(work, { email, name });
	if (id !== null)
		await work.note({ action: 'added-member', subject: { kind: 'account', id }, memberId: id });
	const known = await accountByEmail(work.tx, email);
	if (!known) return null;
	await lockAccount(work.tx, known.id);
	const account = await accountById(work.tx, known.id);
	if (!account) return null;
	// Whoever typed or paid on the address before gets nothing of it: it opens by the mailed link.
	await endUnproved(work, account);
	return account.id;
}
