import { afterAll, beforeAll, beforeEach, afterEach, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { imbalance } from '$core/billing/ledger';
import { standingOf } from '$core/billing/payment';
import { accountById, grantsOf, tenuresOf } from '$server/db/queries/members';
import { agreementsOf, livingAgreements } from '$server/db/queries/agreements';
import { orderById, paymentById, paymentsOf } from '$server/db/queries/sales';
import { grants } from '$server/db/schema/access';
import { accounts } from '$server/db/schema/people';
import { jobs } from '$server/db/schema/running';
import {
	ledgerPostings,
	notifications,
	orders,
	payments,
	priceVersions,
	documents,
	agreementFacts,
	agreements
} from '$server/db/schema/sales';
import { openDisputes } from '$server/reads/desk/disputes';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { editPlan, SOLD_HERE } from '$server/usecases/plans/save-plan';
import { cancelAgreement, resumeAgreement } from '$server/usecases/sales/steer-agreement';
import { settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { receiveNotification } from '$server/usecases/sales/receive-notification';
import { reconcile } from '$server/usecases/sales/reconcile';
import { transact } from '$server/transact';
import {
	buy,
	makeShop,
	makeWorld,
	monthly,
	order,
	passDays,
	refundWhole,
	type FakeProcessor,
	type World
} from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => world.end());

const verdict = async (memberId: string | null) =>
	(await world.app.rights.decide(memberId, shop.itemId)).verdict;
const notify = (eventId: string, ref: string) =>
	receiveNotification(world.app, 'card', {
		method: 'POST',
		path: '/api/payments/notifications',
		header: () => null,
		body: new TextEncoder().encode(`${eventId} ${ref}`)
	});
const isBalanced = async () => imbalance(await world.app.db.select().from(ledgerPostings));

describe('buying', () => {
	it('opens on payment and not before, with one grant, one receipt and balanced books', async () => {
		const begun = await order(world, shop.slug);
		if (!begun.ok) throw new Error(begun.code);
		expect(await world.app.db.select().from(accounts)).toEqual([]);
		const ref = begun.payUrl.split('/').at(-1) ?? '';
		world.processor.becomes(ref, 'captured');
		// The return page, the same notification twice, another one late, and reconciliation: all at once.
		await Promise.all([
			settleReturn(world.app, begun.orderId, 'device', null),
			notify('e1', ref),
			notify('e1', ref),
			notify('e2', ref),
			reconcile(world.app)
		]);
		await world.stile.runner.runDue('payments');
		const [before] = await world.app.db.select().from(orders);
		expect(await verdict(before?.memberId ?? null)).toBe('open');
		expect(await world.app.db.select().from(grants)).toHaveLength(1);
		expect(await world.app.db.select().from(documents)).toHaveLength(1);
		expect(await world.app.db.select().from(ledgerPostings)).toHaveLength(2);
		expect(await isBalanced()).toEqual([]);
		expect(await tenuresOf(world.app.db, before?.memberId ?? '')).toHaveLength(1);
	});

	it('settles by notification alone, and a repeated one is seen as such', async () => {
		const begun = await order(world, shop.slug);
		if (!begun.ok) throw new Error(begun.code);
		const ref = begun.payUrl.split('/').at(-1) ?? '';
		expect(await notify('e0', 'ref-unknown')).toEqual({ ok: true, outcome: 'stored' });
		world.processor.becomes(ref, 'captured');
		expect(await notify('E1', ref)).toEqual({ ok: true, outcome: 'stored' });
		expect(await notify('e1', ref)).toEqual({ ok: true, outcome: 'stored' });
		expect(await notify('e1', ref)).toEqual({ ok: true, outcome: 'seen-before' });
		await world.stile.runner.runDue('payments');
		expect((await orderById(world.app.db, begun.orderId))?.state).toBe('paid');
	});

	it('stores each notification of many that come at once, some of them twice, and asks about each once', async () => {
		const events = Array.from({ length: 60 }, (_, n) => `many-${n}`);
		const told = await Promise.all([...events, ...events, 'many-0'].map((id) => notify(id, 'ref-unknown')));
		const outcomes = told.map((one) => one.ok && one.outcome);
		expect(outcomes.filter((one) => one === 'stored')).toHaveLength(60);
		expect(outcomes.filter((one) => one === 'seen-before')).toHaveLength(61);
		const queued = await world.app.db.select().from(jobs).where(eq(jobs.kind, 'notified'));
		const asked = queued.map(({ payload }) => (payload as { eventId: string }).eventId);
		expect(asked.toSorted()).toEqual(events.toSorted());
		expect(await world.app.db.select().from(notifications)).toHaveLength(60);
	});

	it('takes a double click as one order with one payment', async () => {
		const [a, b] = await Promise.all([order(world, shop.slug), order(world, shop.slug)]);
		expect(a).toEqual(b);
		expect(await world.app.db.select().from(orders)).toHaveLength(1);
		expect(await world.app.db.select().from(payments)).toHaveLength(1);
	});

	it('grants nothing on a declined card, keeps the order, and tries again with a new payment', async () => {
		const first = await order(world, shop.slug);
		if (!first.ok) throw new Error(first.code);
		world.processor.becomes(first.payUrl.split('/').at(-1) ?? '', 'declined');
		expect((await settleReturn(world.app, first.orderId, 'device', null))?.kind).toBe('declined');
		expect(await world.app.db.select().from(grants)).toHaveLength(0);
		const second = await order(world, shop.slug);
		if (!second.ok) throw new Error(second.code);
		expect(second.orderId).toBe(first.orderId);
		expect(second.payUrl).not.toBe(first.payUrl);
	});

	it('gives a second payment for the same plan back by itself', async () => {
		const one = await order(world, shop.slug, { deviceToken: 'one' });
		const two = await order(world, shop.slug, { deviceToken: 'two' });
		if (!one.ok || !two.ok) throw new Error('not begun');
		expect(one.orderId).not.toBe(two.orderId);
		for (const { payUrl } of [one, two]) world.processor.becomes(payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, two.orderId, 'two', null);
		await settleReturn(world.app, one.orderId, 'one', null);
		await world.stile.runner.runDue('billing');
		const states = (await world.app.db.select().from(payments)).map(standingOf).sort();
		expect(states).toEqual(['captured', 'refunded']);
		expect(await world.app.db.select().from(grants)).toHaveLength(1);
		expect(await isBalanced()).toEqual([]);
	});

	it('books a payment that is first heard of as refunded as both, and grants nothing that lasts', async () => {
		const begun = await order(world, shop.slug);
		if (!begun.ok) throw new Error(begun.code);
		const ref = begun.payUrl.split('/').at(-1) ?? '';
		world.processor.becomes(ref, 'captured');
		world.processor.becomes(ref, 'refunded');
		await notify('late', ref);
		await world.stile.runner.runDue('payments');
		const [placed] = await world.app.db.select().from(orders);
		expect(await verdict(placed?.memberId ?? null)).toBe('shut');
		expect(await world.app.db.select().from(documents)).toHaveLength(2);
		expect(await isBalanced()).toEqual([]);
	});

	it('refuses a payment over another amount than was asked', async () => {
		const begun = await order(world, shop.slug);
		if (!begun.ok) throw new Error(begun.code);
		const ref = begun.payUrl.split('/').at(-1) ?? '';
		world.processor.becomes(ref, 'captured');
		world.processor.facts.get(ref)!.amount.minor = 1;
		await expect(settleReturn(world.app, begun.orderId, 'device', null)).rejects.toThrow(/another amount/);
		expect(await world.app.db.select().from(grants)).toHaveLength(0);
	});

	it('signs in the device that paid for a new account, and no other', async () => {
		const { orderId } = await buy(world, shop.slug);
		expect((await thank(world.app, orderId, 'another device', null))?.session).toBeUndefined();
		expect((await thank(world.app, orderId, 'wren@mail.example', null))?.session).not.toBeNull();
	});

	it('does not sign anybody in to an account that is somebody’s already', async () => {
		const { memberId } = await buy(world, shop.slug);
		const [living] = await livingAgreements(world.app.db, memberId, world.app.clock.business());
		await cancelAgreement(world.app, memberId, living!.id, { reason: 'other', words: '' });
		await passDays(world, 40);
		const again = await order(world, shop.slug, {
			deviceToken: 'stranger',
			password: 'a stranger’s password'
		});
		if (!again.ok) throw new Error(again.code);
		world.processor.becomes(again.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, again.orderId, 'stranger', null);
		expect(await thank(world.app, again.orderId, 'stranger', null)).toMatchObject({
			session: null,
			isIn: false
		});
		expect((await accountById(world.app.db, memberId))?.passwordHash).toBeNull();
	});
});

describe('renewing, lapsing, cancelling', () => {
	it('charges each period once, at the price that was bought', async () => {
		const { memberId } = await buy(world, shop.slug);
		await editPlan(world.app, null, shop.planId, {
			name: 'Workshop',
			lines: [],
			note: '',
			lessFor: null,
			priceName: '',
			payBy: null,
			isOpenAtOnce: true,
			...SOLD_HERE,
			terms: monthly(9900),
			access: { kind: 'while-paid' },
			isPublic: true,
			isOnSale: true,
			afterLapse: 'on',
			ladder: null,
			rung: 1
		});
		await passDays(world, 95);
		const paid = await paymentsOf(world.app.db, memberId);
		expect(paid.map(({ period, amountMinor }) => [period, amountMinor])).toEqual([
			[3, 1200],
			[2, 1200],
			[1, 1200],
			[0, 1200]
		]);
		expect(await verdict(memberId)).toBe('open');
		expect(await world.app.db.select().from(priceVersions)).toHaveLength(2);
	});

	it('lapses after its retries, and is shut from then on', async () => {
		const { memberId } = await buy(world, shop.slug);
		world.processor.renewalsWork = false;
		await passDays(world, 32);
		expect(await verdict(memberId)).toBe('open');
		await passDays(world, 6);
		expect(await verdict(memberId)).toBe('shut');
		expect(await agreementsOf(world.app.db, memberId)).toMatchObject([
			{ state: 'ended', endReason: 'unpaid' }
		]);
		expect(
			(await paymentsOf(world.app.db, memberId)).filter(({ state }) => state === 'declined')
		).toHaveLength(4);
		expect((await accountById(world.app.db, memberId))?.epoch).toBe(1);
	});

	it('stays open to the end of what is paid after cancelling, and not a moment longer', async () => {
		const { memberId } = await buy(world, shop.slug);
		const [living] = await livingAgreements(world.app.db, memberId, world.app.clock.business());
		expect(
			await cancelAgreement(world.app, 'somebody-else', living!.id, { reason: 'other', words: '' })
		).toEqual({
			ok: false,
			code: 'unknown'
		});
		await cancelAgreement(world.app, memberId, living!.id, { reason: 'no-time', words: 'Until spring' });
		const decision = await world.app.rights.decide(memberId, shop.itemId);
		const until = decision.until!;
		expect(decision.verdict).toBe('open');
		expect((await world.app.rights.decide(memberId, shop.itemId, until - 1)).verdict).toBe('open');
		expect((await world.app.rights.decide(memberId, shop.itemId, until)).verdict).toBe('shut');
		await passDays(world, 40);
		expect(await paymentsOf(world.app.db, memberId)).toHaveLength(1);
	});

	it('goes on when the cancellation is taken back', async () => {
		const { memberId } = await buy(world, shop.slug);
		const [living] = await livingAgreements(world.app.db, memberId, world.app.clock.business());
		await cancelAgreement(world.app, memberId, living!.id, { reason: 'other', words: '' });
		expect(await resumeAgreement(world.app, memberId, living!.id)).toEqual({ ok: true });
		await passDays(world, 40);
		expect(await paymentsOf(world.app.db, memberId)).toHaveLength(2);
		expect(await verdict(memberId)).toBe('open');
	});

	it('ends at once with a refund, which is asked for once', async () => {
		const { memberId } = await buy(world, shop.slug);
		const [paid] = await paymentsOf(world.app.db, memberId);
		expect(await refundWhole(world.app, null, paid!.id, 'by mistake')).toEqual({ ok: true, isDone: true });
		expect(await verdict(memberId)).toBe('shut');
		expect(await refundWhole(world.app, null, paid!.id, 'again')).toEqual({
			ok: false,
			code: 'nothing-left'
		});
		expect(await isBalanced()).toEqual([]);
	});

	it('ends everything with the account, and charges nothing more', async () => {
		const { memberId } = await buy(world, shop.slug);
		expect(await deleteMember(world.app, null, memberId)).toEqual({ ok: true });
		expect(await world.app.rights.standing(memberId)).toBeNull();
		expect(await verdict(memberId)).toBe('shut');
		await passDays(world, 40);
		const [account] = await grantsOf(world.app.db, memberId);
		expect(account?.revokedAt).not.toBeNull();
		expect((await world.app.db.select().from(payments)).map(({ state }) => state)).toEqual(['captured']);
	});
});

describe('money in flight', () => {
	const HOUR = 3_600_000;
	const agreement = async () => (await world.app.db.select().from(agreements))[0]!;
	/** A renewal whose charge is under way: the processor has not said yet what became of it. */
	const renewing = async () => {
		const bought = await buy(world, shop.slug);
		world.processor.renewalsWork = 'later';
		await passDays(world, 32);
		const [renewal] = (await rowsOf(bought.memberId)).filter(({ period }) => period === 1);
		if (!renewal?.processorRef) throw new Error('Nothing was charged');
		return { ...bought, renewal, renewalRef: renewal.processorRef };
	};
	const rowsOf = async (memberId: string) =>
		world.app.db.select().from(payments).where(eq(payments.memberId, memberId));
	const hear = async (ref: string, state: Parameters<FakeProcessor['becomes']>[1], ago = 0) => {
		world.processor.becomes(ref, state, world.app.clock.wall() - ago);
		await reconcile(world.app);
		await world.stile.runner.runDue('billing');
		await world.stile.runner.runDue('payments');
	};
	const standing = async (id: string) => {
		const payment = await paymentById(world.app.db, id);
		return payment && standingOf(payment);
	};

	it('counts a renewal that was captured before the cancellation, and heard of after it', async () => {
		const { memberId, renewal, renewalRef } = await renewing();
		await cancelAgreement(world.app, memberId, (await agreement()).id, { reason: 'other', words: '' });
		expect(await verdict(memberId)).toBe('shut');
		await hear(renewalRef, 'captured', HOUR);
		expect(await agreement()).toMatchObject({ state: 'ending', period: 1 });
		expect(await verdict(memberId)).toBe('open');
		expect(await standing(renewal.id)).toBe('captured');
		// The grant that was revoked stays so; what opens again is another one.
		expect((await grantsOf(world.app.db, memberId)).map(({ revokedAt }) => revokedAt === null)).toEqual([
			false,
			true
		]);
		expect(await isBalanced()).toEqual([]);
	});

	it('gives a renewal back that was captured after the cancellation, and stays shut', async () => {
		const { memberId, renewal, renewalRef } = await renewing();
		await cancelAgreement(world.app, memberId, (await agreement()).id, { reason: 'other', words: '' });
		await passDays(world, 1);
		await hear(renewalRef, 'captured');
		expect(await standing(renewal.id)).toBe('refunded');
		expect(await verdict(memberId)).toBe('shut');
		expect(await agreement()).toMatchObject({ state: 'ended', endReason: 'cancelled' });
	});

	it('leaves one of two captures of one period, and ends nothing when the other goes back', async () => {
		const { memberId, renewal, renewalRef } = await renewing();
		world.processor.renewalsWork = true;
		await hear(renewalRef, 'declined');
		await passDays(world, 2);
		expect(await agreement()).toMatchObject({ state: 'running', period: 1 });
		// The first try was captured after all.
		await hear(renewalRef, 'captured');
		const renewals = (await rowsOf(memberId)).filter(({ period }) => period === 1);
		expect(renewals.map(standingOf).sort()).toEqual(['captured', 'refunded']);
		expect(await standing(renewal.id)).toBe('refunded');
		expect(await agreement()).toMatchObject({ state: 'running', period: 1 });
		expect(await verdict(memberId)).toBe('open');
		expect(await isBalanced()).toEqual([]);
	});

	it('shuts with a dispute of an older payment, tells what the present period is worth, and opens when it is won', async () => {
		const { memberId, ref } = await buy(world, shop.slug);
		await passDays(world, 40);
		await hear(ref, 'open');
		expect(await verdict(memberId)).toBe('shut');
		const [told] = await openDisputes(world.app);
		expect(told).toMatchObject({ memberId, amountMinor: 1200 });
		expect(told?.restMinor).toBeGreaterThan(600);
		expect(told?.restMinor).toBeLessThan(1000);
		await hear(ref, 'won');
		expect(await verdict(memberId)).toBe('open');
		expect(await agreement()).toMatchObject({ state: 'running', period: 1, endedAt: null });
		expect(await openDisputes(world.app)).toEqual([]);
		expect(await isBalanced()).toEqual([]);
		// It renews as if nothing had been.
		await passDays(world, 31);
		expect((await rowsOf(memberId)).map(({ period }) => period).sort()).toEqual([0, 1, 2]);
	});

	it('tries again although the processor’s clock is behind: nothing happens to a charge before it was asked for', async () => {
		const { memberId, renewalRef } = await renewing();
		world.processor.renewalsWork = true;
		await hear(renewalRef, 'declined', 40 * 24 * HOUR);
		await passDays(world, 2);
		expect(await agreement()).toMatchObject({ state: 'running', period: 1 });
		expect(
			(await rowsOf(memberId))
				.filter(({ period }) => period === 1)
				.map(({ state }) => state)
				.sort()
		).toEqual(['captured', 'declined']);
	});

	it('finds a charge again whose answer was lost, and forgets one that never was', async () => {
		const { memberId } = await buy(world, shop.slug);
		const id = (await agreement()).id;
		const orderId = (await rowsOf(memberId))[0]!.orderId;
		const lost = (attempt: number) => ({
			memberId,
			orderId,
			agreementId: id,
			period: 1,
			attempt,
			idempotencyKey: `subscription:${id}:1:${attempt}`,
			state: 'pending' as const,
			amountMinor: 1200,
			currency: 'EUR',
			createdAt: world.app.clock.business()
		});
		// Asked for, charged, and then the machine went down: the job has run out, and the member has cancelled.
		await world.app.db.insert(payments).values([lost(1), lost(2)]);
		await world.processor.charge({
			key: lost(1).idempotencyKey,
			cardRef: 'card',
			amount: { minor: 1200, currency: 'EUR' },
			text: ''
		});
		await reconcile(world.app);
		const after = async () =>
			(await rowsOf(memberId)).filter(({ period }) => period === 1).map(({ state }) => state);
		expect((await after()).sort()).toEqual(['captured', 'pending']);
		expect(await agreement()).toMatchObject({ state: 'running', period: 1 });
		// Ten minutes later nobody can be asking any more.
		world.app.clock = {
			...world.app.clock,
			wall: () => Date.now() + HOUR,
			business: () => Date.now() + HOUR
		};
		await reconcile(world.app);
		expect((await after()).sort()).toEqual(['captured', 'expired']);
	});

	it('knows what paid for an agreement from before facts were kept, be it a later try', async () => {
		const { memberId, ref, renewalRef } = await renewing();
		world.processor.renewalsWork = true;
		await hear(renewalRef, 'declined');
		const paid = (await rowsOf(memberId)).find(({ period, state }) => period === 1 && state === 'captured');
		expect(paid?.attempt).toBe(2);
		const forget = async () => {
			await world.app.db.delete(agreementFacts);
			await world.app.db.update(agreements).set({ beginning: null });
		};
		await forget();
		await hear(ref, 'open');
		expect(await verdict(memberId)).toBe('shut');
		await hear(ref, 'won');
		expect(await verdict(memberId)).toBe('open');
		await forget();
		await hear(paid?.processorRef ?? '', 'refunded');
		expect(await agreement()).toMatchObject({ state: 'ended', endReason: 'refunded' });
		expect(await verdict(memberId)).toBe('shut');
	});

	it('goes on with an agreement from before facts were kept', async () => {
		const { memberId } = await buy(world, shop.slug);
		await world.app.db.update(agreements).set({ beginning: null });
		await passDays(world, 32);
		expect(await agreement()).toMatchObject({ state: 'running', period: 1 });
		expect((await agreement()).beginning).toMatchObject({ state: { kind: 'running', period: 0 } });
		expect(await verdict(memberId)).toBe('open');
	});
});

describe('jobs', () => {
	it('queues an effect with a key once', async () => {
		const queue = () =>
			transact(world.app, null, (work) =>
				work.queue('give-back', { paymentId: shop.itemId }, { key: 'give-back:once' })
			);
		await Promise.all([queue(), queue(), queue()]);
		await world.app.db.delete(jobs);
		await queue();
		expect(await world.app.db.select().from(jobs)).toEqual([]);
	});
});

describe('what never changes', () => {
	let frozen: World;
	beforeAll(async () => {
		frozen = await makeWorld();
		await buy(frozen, (await makeShop(frozen)).slug);
	});
	afterAll(async () => frozen.end());

	it.each([
		['price_versions', 'version = version + 1'],
		['ledger_postings', 'amount_minor = amount_minor + 1'],
		['documents', 'amount_minor = amount_minor + 1'],
		['documents', "content = json_set(content, '$.seller.name', 'Another')"],
		['documents', "content = json_set(content, '$.buyer.name', 'Another')"],
		['audit', "action = 'other'"],
		['audit', "why = 'other'"]
	])('%s is refused to change by the database: %s', async (table, change) => {
		await expect(frozen.app.pool.query(`UPDATE ${table} SET ${change}`)).rejects.toThrow(/never changed/);
		await expect(frozen.app.pool.query(`DELETE FROM ${table}`)).rejects.toThrow(/never removed|foreign key/);
	});

	it('numbers documents without gaps', async () => {
		const { memberId } = await buy(frozen, 'workshop', 'edda@mail.example');
		await passDays(frozen, 70);
		const numbers = (await frozen.app.db.select().from(documents)).map(({ number }) => number).sort();
		const years = [...new Set(numbers.map((number) => number.slice(0, 7)))];
		const expected = years.flatMap((year) =>
			numbers
				.filter((number) => number.startsWith(year))
				.map((_, i) => `${year}${String(i + 1).padStart(5, '0')}`)
		);
		expect(numbers).toEqual(expected);
		expect((await paymentsOf(frozen.app.db, memberId)).length).toBeGreaterThan(1);
		expect(await frozen.app.db.select().from(payments).where(eq(payments.state, 'pending'))).toEqual([]);
	});
});
