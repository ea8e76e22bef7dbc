/** Moving from one rung of a ladder to another, and between the prices of a plan. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { NO_TAX } from '$core/billing/tax';
import { renewingTerms, type Terms } from '$core/billing/terms';
import { agreementRevision, agreementsOf } from '$server/db/queries/agreements';
import { grantsOf, tenuresOf } from '$server/db/queries/members';
import { movesOf } from '$server/db/queries/moves';
import { linesOfOrder, orderById, paymentById, paymentsOf, planById } from '$server/db/queries/sales';
import { waitingPayments } from '$server/db/queries/waiting';
import { documents, incomeSteps, orders, payments, plans } from '$server/db/schema/sales';
import { ALL_PERMISSIONS } from '$core/staff/permissions';
import { orderPage } from '$server/reads/desk/sales';
import { today } from '$server/reads/desk/today';
import { accountView } from '$server/reads/front/account-view';
import { lookOf } from '$server/rights/look';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveSite, sitePart } from '$server/usecases/running/save-site';
import { createPlan, type PlanWish } from '$server/usecases/plans/save-plan';
import { savePrice } from '$server/usecases/plans/save-price';
import { answerPayment } from '$server/usecases/sales/answer-payment';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { asksNow, beginMove, moveFromDesk, stayAsIs, type MoveWish } from '$server/usecases/sales/move-plan';
import { reconcile } from '$server/usecases/sales/reconcile';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, makeWorld, monthly, order, passDays, PLAN, refundWhole, type World } from './world';

let world: World;
let apprentice: string;
let journeyman: string;

const rung = (name: string, rung: number, terms: Terms, over: Partial<PlanWish> = {}) =>
	createPlan(world.app, null, { ...PLAN, name, terms, ladder: 'Workshop', rung, ...over });

beforeEach(async () => {
	world = await makeWorld();
	apprentice = await rung('Apprentice', 1, monthly(900));
	journeyman = await rung('Journeyman', 2, monthly(1800));
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const only = <T>(all: T[]): T => {
	if (all.length !== 1 || all[0] === undefined) throw new Error(`${all.length} of one`);
	return all[0];
};
const agreement = async (memberId: string) => only(await agreementsOf(world.app.db, memberId));
const held = async (memberId: string) =>
	(await grantsOf(world.app.db, memberId)).filter(
		({ revokedAt, until }) => revokedAt === null && (until === null || until > world.app.clock.business())
	);

/** What is shown, and what its form sends. */
async function shown(memberId: string, planId: string, priceId?: string): Promise<MoveWish> {
	const row = await agreement(memberId);
	const { zone } = await world.app.site();
	const at = world.app.clock.business();
	const moves = await movesOf(world.app.db, memberId, row.id, { now: at, zone, tax: NO_TAX });
	const to = moves?.to.find(
		(one) => one.plan.id === planId && (priceId ?? one.price.priceId) === one.price.priceId
	);
	if (!to) throw new Error('nothing to move to');
	const asksMinor = to.answer.kind === 'refused' ? null : asksNow(to.answer);
	return {
		...{ memberId, agreementId: row.id, priceId: to.price.priceId, payBy: null, deviceToken: 'device' },
		seen: { at, revision: agreementRevision(row), asksMinor }
	};
}
const move = async (memberId: string, planId: string, over: Partial<MoveWish> = {}) =>
	beginMove(world.app, { ...(await shown(memberId, planId)), ...over });

/** Moves, and pays on the processor's page. */
async function movePaid(memberId: string, planId: string) {
	const moved = await move(memberId, planId);
	if (!moved.ok || moved.kind !== 'to-pay') throw new Error(JSON.stringify(moved));
	const ref = moved.payUrl.split('/').at(-1) ?? '';
	const fact = world.processor.becomes(ref, 'captured');
	const [payment] = await world.app.db.select().from(payments).where(eq(payments.processorRef, ref));
	const orderId = payment?.orderId ?? '';
	const returned = await settleReturn(world.app, orderId, 'device', memberId);
	return { orderId, ref, asked: fact.amount.minor, returned, paymentId: payment?.id ?? '' };
}

describe('down at once, where the plan that is left says so', () => {
	beforeEach(async () => {
		await world.app.db.update(plans).set({ isDownAtOnce: true }).where(eq(plans.id, journeyman));
	});
	const goDown = async (memberId: string) => {
		await passDays(world, 10);
		return move(memberId, apprentice);
	};

	it('opens the lower plan in place of the other, asks for nothing, gives nothing back, and costs less from the next due on', async () => {
		const { memberId } = await buy(world, 'journeyman');
		expect(await goDown(memberId)).toEqual({ ok: true, kind: 'done' });
		expect((await held(memberId)).map(({ planId }) => planId)).toEqual([apprentice]);
		const row = await agreement(memberId);
		expect(row).toMatchObject({ planId: apprentice, state: 'running', nextMinor: 900 });
		await world.stile.runner.runDue('mail');
		expect(world.mails.at(-1)?.subject).toBe('You have Apprentice now');
		expect(world.mails.at(-1)?.text).toContain('9.00 EUR');
		const standing = await world.app.rights.standing(memberId);
		const account = await accountView(world.app, await lookOf(world.app, standing, null, null), memberId);
		expect(account.plans).toMatchObject([
			{ name: 'Apprentice', nextMinor: 900, later: null, terms: { firstMinor: 900 } }
		]);
		await passDays(world, 25);
		expect((await paymentsOf(world.app.db, memberId)).map(({ amountMinor }) => amountMinor)).toEqual([
			900, 1800
		]);
		expect((await held(memberId)).map(({ planId }) => planId)).toEqual([apprentice]);
		// Income: 18.00 until the next due, 9.00 from then on.
		const steps = await world.app.db.select().from(incomeSteps).orderBy(incomeSteps.at);
		expect(steps.map(({ why, beforeMinor, afterMinor }) => [why, beforeMinor, afterMinor])).toEqual([
			['new', 0, 1800],
			['down', 1800, 900]
		]);
	});

	it('is done, and not taken back; up again takes off what is not used', async () => {
		const { memberId } = await buy(world, 'journeyman');
		await goDown(memberId);
		const { id } = await agreement(memberId);
		expect(await stayAsIs(world.app, memberId, id)).toEqual({ ok: false, code: 'unknown' });
		const { seen } = await shown(memberId, journeyman);
		expect(seen.asksMinor).toBeGreaterThan(500);
		expect(seen.asksMinor).toBeLessThan(700);
		await movePaid(memberId, journeyman);
		expect((await held(memberId)).map(({ planId }) => planId)).toEqual([journeyman]);
	});

	it('is not what somebody has agreed to who was shown the end of what is paid, nor the other way round', async () => {
		const { memberId } = await buy(world, 'journeyman');
		const now = await shown(memberId, apprentice);
		await world.app.db.update(plans).set({ isDownAtOnce: false });
		expect(await beginMove(world.app, now)).toEqual({ ok: false, code: 'changed' });
		const later = await shown(memberId, apprentice);
		await world.app.db.update(plans).set({ isDownAtOnce: true });
		expect(await beginMove(world.app, later)).toEqual({ ok: false, code: 'changed' });
		expect((await held(memberId)).map(({ planId }) => planId)).toEqual([journeyman]);
	});

	it('from the Desk is the same', async () => {
		const { memberId, orderId } = await buy(world, 'journeyman');
		const { agreementId, priceId } = await shown(memberId, apprentice);
		const to = (await orderPage(world.app, orderId))?.things[0]?.agreement?.moves.find(
			(one) => one.priceId === priceId
		);
		expect(to).toMatchObject({ at: null, asksNow: false });
		expect(to?.priceFrom).toBeGreaterThan(world.app.clock.business());
		const moved = await moveFromDesk(world.app, null, { agreementId, priceId, seen: to?.seen ?? '' });
		expect(moved).toEqual({ ok: true, kind: 'done' });
	});
});

describe('a move by the publisher', () => {
	const fromDesk = async (memberId: string, planId: string, seen?: string) => {
		const { agreementId, priceId } = await shown(memberId, planId);
		const page = await orderPage(
			world.app,
			only(await world.app.db.select().from(orders).where(eq(orders.state, 'paid'))).id
		);
		const now = page?.things[0]?.agreement?.moves.find((one) => one.priceId === priceId)?.seen;
		return moveFromDesk(world.app, null, { agreementId, priceId, seen: seen ?? now ?? '' });
	};

	it('up charges nothing now, opens with the next payment, and is told by mail', async () => {
		const { memberId } = await buy(world, 'apprentice');
		await passDays(world, 10);
		expect(await fromDesk(memberId, journeyman)).toEqual({ ok: true, kind: 'later' });
		expect(only(await held(memberId)).planId).toBe(apprentice);
		expect(await agreement(memberId)).toMatchObject({ planId: apprentice, nextMinor: 1800 });
		expect(await paymentsOf(world.app.db, memberId)).toHaveLength(1);
		await world.stile.runner.runDue('mail');
		expect(world.mails.at(-1)?.text).toContain('Journeyman');
		await passDays(world, 25);
		expect(only(await held(memberId)).planId).toBe(journeyman);
		expect((await paymentsOf(world.app.db, memberId)).map(({ amountMinor }) => amountMinor)).toEqual([
			1800, 900
		]);
	});

	it('ends the move that the member has begun to pay for', async () => {
		const { memberId } = await buy(world, 'apprentice');
		const begun = await move(memberId, journeyman);
		if (!begun.ok || begun.kind !== 'to-pay') throw new Error(JSON.stringify(begun));
		await fromDesk(memberId, journeyman);
		const all = await world.app.db.select().from(orders);
		expect(all.map(({ state }) => state).sort()).toEqual(['paid', 'replaced']);
	});

	it('is of what was looked at, and of what there is', async () => {
		const { memberId } = await buy(world, 'apprentice');
		expect(await fromDesk(memberId, journeyman, 'older')).toEqual({ ok: false, code: 'changed' });
		const { agreementId, seen } = await shown(memberId, journeyman);
		const wish = { agreementId, priceId: agreementId, seen: seen.revision };
		expect(await moveFromDesk(world.app, null, wish)).toEqual({ ok: false, code: 'unknown' });
		await refundWhole(world.app, null, only(await paymentsOf(world.app.db, memberId)).id);
		expect(await fromDesk(memberId, journeyman)).toEqual({ ok: false, code: 'has-ended' });
	});
});

describe('up a ladder', () => {
	it('is paid by what is missing, swaps the plans at once, and goes on at the new price', async () => {
		const { memberId } = await buy(world, 'apprentice');
		await passDays(world, 10);
		const before = await agreement(memberId);
		const { asked, orderId, returned } = await movePaid(memberId, journeyman);
		// Of 9.00 a good two thirds are not used; what is asked for is the rest of 18.00.
		expect(asked).toBeGreaterThan(1150);
		expect(asked).toBeLessThan(1250);
		expect(returned).toEqual({ kind: 'paid' });
		expect(only(await held(memberId)).planId).toBe(journeyman);
		const after = await agreement(memberId);
		expect(after).toMatchObject({ id: before.id, planId: journeyman, state: 'running', nextMinor: 1800 });
		const line = only(await linesOfOrder(world.app.db, orderId));
		expect(line).toMatchObject({ kind: 'move', amountMinor: 1800, totalMinor: asked });
		expect(line.amountMinor - line.discountMinor).toBe(asked);
		expect(line.text).toBe('Journeyman, in place of Apprentice');
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ subject }) => subject)).toContain('You have Journeyman now');
		const { events } = await today(world.app, ALL_PERMISSIONS);
		expect(events.map(({ action, plan }) => `${action} ${plan}`)).toContain('subscription-moved Journeyman');
		expect(world.mails.map(({ subject }) => subject)).not.toContain('Journeyman is renewed');
	});

	it('never leaves a gap and never holds two', async () => {
		const { memberId } = await buy(world, 'apprentice');
		await movePaid(memberId, journeyman);
		const grants = await grantsOf(world.app.db, memberId);
		expect(grants).toHaveLength(2);
		const [old, next] = [
			grants.find((one) => one.planId === apprentice),
			grants.find((one) => one.planId === journeyman)
		];
		expect(old?.revokedAt).toBe(next?.from);
	});

	it('renews at the new price, with documents that name what is held by then', async () => {
		const { memberId } = await buy(world, 'apprentice');
		await movePaid(memberId, journeyman);
		await passDays(world, 32);
		const [renewal] = await paymentsOf(world.app.db, memberId);
		expect(renewal).toMatchObject({ amountMinor: 1800, state: 'captured' });
		const papers = await world.app.db.select().from(documents);
		expect(papers.map(({ content }) => content.lines.map(({ text }) => text).join()).sort()).toEqual([
			'Apprentice',
			'Journeyman',
			'Journeyman, in place of Apprentice'
		]);
	});

	it('keeps the first day of the ladder', async () => {
		const { memberId } = await buy(world, 'apprentice');
		const [first] = await tenuresOf(world.app.db, memberId);
		await passDays(world, 10);
		await movePaid(memberId, journeyman);
		const all = await tenuresOf(world.app.db, memberId);
		expect(all.map(({ planId }) => planId).sort()).toEqual([apprentice, journeyman].sort());
		expect(Math.min(...all.map(({ firstJoinedAt }) => firstJoinedAt))).toBe(first?.firstJoinedAt);
	});

	it('of which the payment is refunded ends what it paid for, and one before it ends nothing', async () => {
		const { memberId, orderId } = await buy(world, 'apprentice');
		const { paymentId } = await movePaid(memberId, journeyman);
		const [first] = await world.app.db.select().from(payments).where(eq(payments.orderId, orderId));
		await refundWhole(world.app, null, first?.id ?? '');
		expect(await held(memberId)).toHaveLength(1);
		await refundWhole(world.app, null, paymentId);
		expect(await held(memberId)).toEqual([]);
		expect((await agreement(memberId)).endReason).toBe('refunded');
	});

	it('is done once, however often and from wherever it is settled', async () => {
		const { memberId } = await buy(world, 'apprentice');
		const moved = await move(memberId, journeyman);
		if (!moved.ok || moved.kind !== 'to-pay') throw new Error('not begun');
		const ref = moved.payUrl.split('/').at(-1) ?? '';
		world.processor.becomes(ref, 'captured');
		const [payment] = await world.app.db.select().from(payments).where(eq(payments.processorRef, ref));
		await Promise.all([
			settleReturn(world.app, payment?.orderId ?? '', 'device', memberId),
			settleReturn(world.app, payment?.orderId ?? '', 'device', memberId),
			reconcile(world.app)
		]);
		expect(only(await held(memberId)).planId).toBe(journeyman);
		expect(await paymentById(world.app.db, payment?.id ?? '')).toMatchObject({ period: 1, attempt: 0 });
		expect(await world.app.db.select().from(documents)).toHaveLength(2);
	});

	it('has one order that stands, whichever was begun last', async () => {
		const patron = await rung('Patron', 3, monthly(3000));
		const { memberId } = await buy(world, 'apprentice');
		await Promise.all([move(memberId, journeyman), move(memberId, journeyman), move(memberId, patron)]);
		const all = await world.app.db.select().from(orders);
		expect(all.filter(({ state }) => state === 'open')).toHaveLength(1);
		await world.stile.runner.runDue('payments');
		const pending = [...world.processor.facts.values()].filter(({ state }) => state === 'pending');
		expect(pending).toHaveLength(1);
	});

	it('that is paid after another period has begun goes back: that one was charged by itself', async () => {
		const { memberId } = await buy(world, 'apprentice');
		await passDays(world, 29);
		const moved = await move(memberId, journeyman);
		if (!moved.ok || moved.kind !== 'to-pay') throw new Error('not begun');
		await passDays(world, 3);
		const ref = moved.payUrl.split('/').at(-1) ?? '';
		const fact = world.processor.becomes(ref, 'captured');
		const [payment] = await world.app.db.select().from(payments).where(eq(payments.processorRef, ref));
		await settleReturn(world.app, payment?.orderId ?? '', 'device', memberId);
		expect(only(await held(memberId)).planId).toBe(apprentice);
		await world.stile.runner.runDue('billing');
		expect(world.processor.facts.get(ref)?.refunds.map(({ amountMinor }) => amountMinor)).toEqual([
			fact.amount.minor
		]);
	});

	it('asks for what was shown within the hour, and shows it anew after that', async () => {
		const { memberId } = await buy(world, 'apprentice');
		const wish = await shown(memberId, journeyman);
		const late = { ...wish, seen: { ...wish.seen, at: wish.seen.at - 3_600_001 } };
		expect(await beginMove(world.app, late)).toEqual({ ok: false, code: 'changed' });
		const early = { ...wish, seen: { ...wish.seen, at: wish.seen.at + 60_000 } };
		expect(await beginMove(world.app, early)).toEqual({ ok: false, code: 'changed' });
		const less = { ...wish, seen: { ...wish.seen, asksMinor: 1 } };
		expect(await beginMove(world.app, less)).toEqual({ ok: false, code: 'changed' });
		const other = { ...wish, seen: { ...wish.seen, revision: 'another' } };
		expect(await beginMove(world.app, other)).toEqual({ ok: false, code: 'changed' });
		expect((await beginMove(world.app, wish)).ok).toBe(true);
	});

	it('is nobody else’s', async () => {
		const { memberId } = await buy(world, 'apprentice');
		const robin = await buy(world, 'apprentice', 'robin@mail.example');
		const wish = await shown(memberId, journeyman);
		const unknown = { ok: false, code: 'unknown' };
		expect(await beginMove(world.app, { ...wish, memberId: robin.memberId })).toEqual(unknown);
		expect(await beginMove(world.app, { ...wish, priceId: journeyman })).toEqual(unknown);
		expect(await stayAsIs(world.app, robin.memberId, wish.agreementId)).toEqual(unknown);
		// A plan that stands on no ladder with it is bought, and not moved to.
		await createPlan(world.app, null, { ...PLAN, name: 'Elsewhere' });
		const moves = await movesOf(world.app.db, memberId, wish.agreementId, {
			...{ now: world.app.clock.business(), zone: 'UTC', tax: NO_TAX }
		});
		expect(moves?.to.map(({ plan }) => plan.name)).toEqual(['Apprentice', 'Journeyman']);
	});
});

describe('paying twice', () => {
	it('is not offered to a member who holds another rung', async () => {
		const { memberId } = await buy(world, 'apprentice');
		const { id } = await agreement(memberId);
		expect(await order(world, 'journeyman', { memberId, email: '' })).toEqual({
			...{ ok: false, code: 'has-rung', agreementId: id }
		});
	});

	it('of a stranger who typed an address that holds another rung goes back, with a mail that says what to do', async () => {
		const { memberId } = await buy(world, 'apprentice');
		const { ref, orderId } = await buy(world, 'journeyman');
		expect((await orderById(world.app.db, orderId))?.state).toBe('given-back');
		expect(only(await held(memberId)).planId).toBe(apprentice);
		await world.stile.runner.runDue('billing');
		expect(world.processor.facts.get(ref)?.refunds).toHaveLength(1);
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ subject }) => subject)).toContain('You have Apprentice already');
	});
});

describe('down a ladder', () => {
	it('is with the next due: what is paid stays open, then the lower rung is charged and open', async () => {
		const { memberId } = await buy(world, 'journeyman');
		expect(await move(memberId, apprentice)).toEqual({ ok: true, kind: 'later' });
		expect(only(await held(memberId)).planId).toBe(journeyman);
		await passDays(world, 20);
		expect(only(await held(memberId)).planId).toBe(journeyman);
		await passDays(world, 12);
		expect(only(await held(memberId)).planId).toBe(apprentice);
		const [renewal] = await paymentsOf(world.app.db, memberId);
		expect(renewal).toMatchObject({ amountMinor: 900, state: 'captured' });
		expect(await agreement(memberId)).toMatchObject({ planId: apprentice, state: 'running', nextMinor: 900 });
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ subject }) => subject.replace(/\d+ \w+ \d{4}/, 'DAY'))).toContain(
			'Apprentice from DAY on'
		);
	});

	it('is taken back until then, and goes on as if nothing had been', async () => {
		const { memberId } = await buy(world, 'journeyman');
		const before = await agreement(memberId);
		await move(memberId, apprentice);
		expect(await stayAsIs(world.app, memberId, before.id)).toEqual({ ok: true, kind: 'done' });
		expect(agreementRevision(await agreement(memberId))).toBe(agreementRevision(before));
		await passDays(world, 32);
		expect(only(await held(memberId)).planId).toBe(journeyman);
		const [renewal] = await paymentsOf(world.app.db, memberId);
		expect(renewal?.amountMinor).toBe(1800);
	});

	it('is refused of what is cancelled, and up keeps it after all', async () => {
		const patron = await rung('Patron', 3, monthly(3000));
		const { memberId } = await buy(world, 'journeyman');
		await cancelAgreement(world.app, memberId, (await agreement(memberId)).id, {
			reason: 'other',
			words: ''
		});
		expect(await move(memberId, apprentice)).toEqual({ ok: false, code: 'cancelled' });
		await movePaid(memberId, patron);
		expect(await agreement(memberId)).toMatchObject({ state: 'running', planId: patron });
		await passDays(world, 32);
		expect(only(await held(memberId)).planId).toBe(patron);
	});

	it('after having moved up is charged at the end of what was paid for that', async () => {
		const { memberId } = await buy(world, 'apprentice');
		await passDays(world, 10);
		await movePaid(memberId, journeyman);
		await move(memberId, apprentice);
		await passDays(world, 29);
		expect(only(await held(memberId)).planId).toBe(journeyman);
		await passDays(world, 3);
		expect(only(await held(memberId)).planId).toBe(apprentice);
	});
});

describe('between prices', () => {
	it('of one plan is a move, too: to the year at once, back to the month with the next due', async () => {
		const yearly = renewingTerms({ minor: 9000, currency: 'EUR' }, { count: 1, unit: 'year' });
		const saved = await savePrice(world.app, null, apprentice, null, { name: 'By the year', terms: yearly });
		if (!saved.ok) throw new Error(saved.code);
		const { memberId } = await buy(world, 'apprentice');
		const moved = await beginMove(world.app, await shown(memberId, apprentice, saved.priceId));
		if (!moved.ok || moved.kind !== 'to-pay') throw new Error(JSON.stringify(moved));
		const ref = moved.payUrl.split('/').at(-1) ?? '';
		expect(world.processor.becomes(ref, 'captured').amount.minor).toBe(8100);
		await reconcile(world.app);
		expect(await agreement(memberId)).toMatchObject({
			planId: apprentice,
			periodUnit: 'year',
			nextMinor: 9000
		});
		expect(only(await held(memberId)).planId).toBe(apprentice);
	});

	it('that are paid once take off all that was paid: down is free, and up again costs nothing twice', async () => {
		const once = (minor: number): Terms => ({
			currency: 'EUR',
			firstMinor: minor,
			feeMinor: 0,
			then: { kind: 'nothing' }
		});
		const access = { kind: 'for-good' as const };
		const shelf = { ladder: 'Shelf', access };
		const small = await rung('Small', 1, once(2000), shelf);
		const large = await rung('Large', 2, { ...once(5000), feeMinor: 700 }, shelf);
		const { memberId } = await buy(world, 'small');
		const { asked } = await movePaid(memberId, large);
		expect(asked).toBe(3000);
		expect(only(await held(memberId)).planId).toBe(large);
		expect(await move(memberId, small)).toEqual({ ok: true, kind: 'done' });
		expect(only(await held(memberId)).planId).toBe(small);
		expect(await move(memberId, large)).toEqual({ ok: true, kind: 'done' });
		expect(only(await held(memberId)).planId).toBe(large);
		expect(await paymentsOf(world.app.db, memberId)).toHaveLength(2);
	});
});

describe('what was paid once for a time', () => {
	it('is no way to have it again for nothing: not by moving down, and not when it has run out', async () => {
		const once = (minor: number): Terms => ({
			currency: 'EUR',
			firstMinor: minor,
			feeMinor: 0,
			then: { kind: 'nothing' }
		});
		const access = { kind: 'length' as const, length: { count: 1, unit: 'month' as const } };
		const small = await rung('Small month', 1, once(2000), { ladder: 'Months', access });
		await rung('Large month', 2, once(5000), { ladder: 'Months', access });
		const { memberId } = await buy(world, 'large-month');
		expect(await move(memberId, small)).toEqual({ ok: false, code: 'paid-once' });
		await passDays(world, 40);
		expect(await held(memberId)).toEqual([]);
		expect(await move(memberId, small)).toEqual({ ok: false, code: 'has-ended' });
		expect(await held(memberId)).toEqual([]);
		// It is bought again like anything else.
		expect((await order(world, 'small-month', { memberId, email: '' })).ok).toBe(true);
	});
});

describe('from a rung that costs nothing', () => {
	it('one moves to what is paid by the month for its price, with a card, and it renews', async () => {
		const free: Terms = { currency: 'EUR', firstMinor: 0, feeMinor: 0, then: { kind: 'nothing' } };
		await rung('Visitor', 0, free, { access: { kind: 'for-good' } });
		const begun = await order(world, 'visitor');
		const memberId = begun.ok ? ((await orderById(world.app.db, begun.orderId))?.memberId ?? '') : '';
		const { asked } = await movePaid(memberId, apprentice);
		expect(asked).toBe(900);
		expect(only(await held(memberId)).planId).toBe(apprentice);
		await passDays(world, 32);
		expect((await paymentsOf(world.app.db, memberId)).map(({ amountMinor }) => amountMinor)).toEqual([
			900, 900
		]);
		const visitor = (
			await movesOf(world.app.db, memberId, (await agreement(memberId)).id, {
				...{ now: world.app.clock.business(), zone: 'UTC', tax: NO_TAX }
			})
		)?.to.find(({ plan }) => plan.name === 'Visitor');
		expect(visitor?.answer).toEqual({ kind: 'refused', why: 'free' });
	});
});

describe('without a card', () => {
	beforeEach(async () => {
		const money = sitePart('money', await world.app.site());
		const wish = { ...money, payBy: ['card', 'offline'] as const, offline: { name: '', how: 'To 4711' } };
		await agreeing((yes) => saveSite(world.app, null, 'money', wish, { agreedTo: yes }));
	});

	it('the old rung stays in force while a move waits; refusing changes nothing, and a yes swaps both', async () => {
		const { memberId } = await buy(world, 'apprentice');
		expect((await move(memberId, journeyman, { payBy: 'offline' })).ok).toBe(true);
		const first = only(await waitingPayments(world.app.db, 10));
		expect(only(await held(memberId)).planId).toBe(apprentice);
		await answerPayment(world.app, null, { paymentId: first.id, state: 'declined', why: '' });
		expect(only(await held(memberId)).planId).toBe(apprentice);
		expect((await agreement(memberId)).state).toBe('running');
		expect((await move(memberId, journeyman, { payBy: 'offline' })).ok).toBe(true);
		const second = only(await waitingPayments(world.app.db, 10));
		await answerPayment(world.app, null, { paymentId: second.id, state: 'captured', why: '' });
		expect(only(await held(memberId)).planId).toBe(journeyman);
		expect(await agreement(memberId)).toMatchObject({ processor: 'offline', planId: journeyman });
		// Nothing is charged to the card any more, and nobody reads that it would be.
		const look = await lookOf(world.app, await world.app.rights.standing(memberId), null, null);
		expect(only((await accountView(world.app, look, memberId)).plans).card).toBeNull();
		expect((await planById(world.app.db, journeyman))?.name).toBe('Journeyman');
	});
});
