/** A plan that is bought for several people: what it costs, who has a seat, and that each seat goes as what it is of. */
import { eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { NO_TAX } from '$core/billing/tax';
import { agreementsOf, courseNow } from '$server/db/queries/agreements';
import { accountByEmail, grantsOf } from '$server/db/queries/members';
import { movesOf } from '$server/db/queries/moves';
import { linesOfOrder, orderById, paymentsOf, planById } from '$server/db/queries/sales';
import { seatsFor, seatsOf } from '$server/db/queries/seats';
import { accounts } from '$server/db/schema/people';
import { documents, seats } from '$server/db/schema/sales';
import { accountView } from '$server/reads/front/account-view';
import { movePage } from '$server/reads/front/moves';
import { ownData } from '$server/reads/front/own-data';
import { seatPage, seatsPage } from '$server/reads/front/seats';
import { lookOf } from '$server/rights/look';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { addMember } from '$server/usecases/accounts/run-members';
import { askForLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { reprice } from '$server/usecases/plans/reprice';
import { createPlan, editPlan, type PlanWish } from '$server/usecases/plans/save-plan';
import { earlierPrices } from '$server/db/queries/repricing';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { beginMove } from '$server/usecases/sales/move-plan';
import { giveSeats, sendSeatAgain, takeSeat, takeSeatBack } from '$server/usecases/sales/seats';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { reconcile } from '$server/usecases/sales/reconcile';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import {
	mailedToken,
	makeShop,
	makeWorld,
	monthly,
	NEW_DEVICE,
	order,
	passDays,
	PLAN,
	refundWhole,
	type World
} from './world';

const WREN = 'wren@mail.example';
const TEAL = 'teal@mail.example';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	await edit({});
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const edit = (over: Partial<PlanWish>) =>
	agreeing((agreedTo) =>
		editPlan(world.app, null, shop.planId, { ...PLAN, sellsSeats: true, ...over }, agreedTo)
	);
async function buyFor(seats: number, over: Parameters<typeof order>[2] = {}) {
	const begun = await order(world, shop.slug, { seats, deviceToken: WREN, ...over });
	if (!begun.ok) throw new Error(begun.code);
	const ref = begun.payUrl.split('/').at(-1) ?? '';
	world.processor.becomes(ref, 'captured');
	await settleReturn(world.app, begun.orderId, WREN, null);
	const account = await accountByEmail(world.app.db, WREN);
	const memberId = account?.id ?? '';
	const [row] = await agreementsOf(world.app.db, memberId);
	return { memberId, orderId: begun.orderId, ref, agreementId: row?.id ?? '' };
}
async function member(email: string, isProved = true) {
	const added = await addMember(world.app, null, {
		email,
		name: email.split('@')[0] ?? '',
		planId: null,
		until: null
	});
	if (!added.ok) throw new Error(added.code);
	if (isProved)
		await world.app.db
			.update(accounts)
			.set({ provedAt: 1, claimedAt: 1 })
			.where(eq(accounts.id, added.memberId));
	return added.memberId;
}
/** A seat that is given to a member and taken. */
async function seated(bought: Awaited<ReturnType<typeof buyFor>>, email = TEAL) {
	const memberId = await member(email);
	await giveSeats(world.app, bought.memberId, bought.agreementId, [email]);
	const [seat] = await seatsFor(world.app.db, email);
	expect(await takeSeat(world.app, memberId, seat?.id ?? '')).toMatchObject({ ok: true });
	return { memberId, seatId: seat?.id ?? '' };
}
const verdict = async (memberId: string) => (await world.app.rights.decide(memberId, shop.itemId)).verdict;
const paid = async (memberId: string) =>
	(await paymentsOf(world.app.db, memberId)).map(({ amountMinor }) => amountMinor);
const given = async (agreementId: string) =>
	(await seatsOf(world.app.db, agreementId)).map(({ email }) => email);

describe('a plan for several people', () => {
	it('costs so many times its price, now and later, and says so on the receipt', async () => {
		const { memberId, orderId } = await buyFor(5, { seenMinor: 6000 });
		expect(await linesOfOrder(world.app.db, orderId)).toMatchObject([
			{ text: 'Workshop, for 5 people', totalMinor: 6000 }
		]);
		await passDays(world, 35);
		expect(await paid(memberId)).toEqual([6000, 6000]);
		const [paper] = await world.app.db.select().from(documents);
		expect(paper?.content.lines[0]).toMatchObject({ text: 'Workshop, for 5 people', amountMinor: 6000 });
	});

	it.each<[string, Parameters<typeof order>[2], Partial<PlanWish>]>([
		['of a plan that is sold for one', { seats: 2 }, { sellsSeats: false }],
		['for more than can be pressed', { seats: 201 }, {}],
		['for nobody', { seats: 0 }, {}],
		['for a part of somebody', { seats: 1.5 }, {}],
		['as a gift', { seats: 2, gift: { email: TEAL, words: '', day: null } }, { sellsAsGift: true }]
	])('is not sold %s', async (_, wish, over) => {
		await edit(over);
		expect(await order(world, shop.slug, wish)).toEqual({ ok: false, code: 'no-seats' });
	});

	it('is not sold for nothing: nobody mails strangers without having paid', async () => {
		await edit({ terms: { ...monthly(1200), firstMinor: 0 } });
		expect(await order(world, shop.slug, { seats: 5 })).toEqual({ ok: false, code: 'seats-free' });
		expect((await order(world, shop.slug)).ok).toBe(true);
	});

	it('is another order for another number, and the same for the same', async () => {
		const [five, again, six] = [
			await order(world, shop.slug, { seats: 5 }),
			await order(world, shop.slug, { seats: 5 }),
			await order(world, shop.slug, { seats: 6 })
		].map((one) => (one.ok ? one.orderId : one.code));
		expect(again).toBe(five);
		expect(six).not.toBe(five);
		expect((await orderById(world.app.db, five ?? ''))?.state).toBe('replaced');
	});
});

describe('a seat', () => {
	it('is told by mail, and opens for whoever comes from there, account or not', async () => {
		const bought = await buyFor(3);
		expect(await giveSeats(world.app, bought.memberId, bought.agreementId, [' Teal@mail.example'])).toEqual({
			...{ ok: true, given: 1, left: [] }
		});
		const token = await mailedToken(world, TEAL);
		expect(world.mails.filter(({ to }) => to === TEAL).map(({ subject }) => subject)).toEqual([
			'Wren has a seat for you: Workshop'
		]);
		const pressed = await pressLink(world.app, token, NEW_DEVICE, true);
		expect(pressed).toMatchObject({ admitted: { kind: 'in' } });
		const teal = await accountByEmail(world.app.db, TEAL);
		const [seat] = await seatsFor(world.app.db, TEAL);
		expect(await seatPage(world.app, teal?.id ?? '', seat?.id ?? '')).toEqual({
			...{ kind: 'waits', plan: 'Workshop', giver: 'Wren' }
		});
		expect(await verdict(teal?.id ?? '')).toBe('shut');
		expect(await takeSeat(world.app, teal?.id ?? '', seat?.id ?? '')).toEqual({
			ok: true,
			planId: shop.planId
		});
		expect(await verdict(teal?.id ?? '')).toBe('open');
		expect(await seatsPage(world.app, bought.memberId, bought.agreementId)).toMatchObject({
			...{ count: 3, free: 1, given: [{ email: TEAL }] }
		});
		const look = await lookOf(world.app, await world.app.rights.standing(teal?.id ?? ''), null, null);
		expect(await accountView(world.app, look, teal?.id ?? '')).toMatchObject({
			...{ plans: [], given: [{ source: 'seat', isOpen: true }], seats: [] }
		});
	});

	it('waits in the account of whoever has the address, and lets an unknown one ask for a way in', async () => {
		const bought = await buyFor(3);
		const teal = await member(TEAL);
		await giveSeats(world.app, bought.memberId, bought.agreementId, [TEAL, 'new@mail.example']);
		const look = await lookOf(world.app, await world.app.rights.standing(teal), null, null);
		expect(await accountView(world.app, look, teal)).toMatchObject({
			seats: [{ plan: 'Workshop', giver: 'Wren' }]
		});
		await world.stile.runner.runDue('mail');
		world.mails.length = 0;
		await askForLink(world.app, { email: 'new@mail.example', next: '/', client: '127.0.0.1' });
		expect(await mailedToken(world, 'new@mail.example')).toBeTruthy();
	});

	it('is given to as many as there are, to nobody twice, and not to whoever bought them', async () => {
		const bought = await buyFor(3);
		const give = (...emails: string[]) => giveSeats(world.app, bought.memberId, bought.agreementId, emails);
		expect(await give(WREN, TEAL, TEAL)).toEqual({ ok: true, given: 1, left: [WREN] });
		expect(await give('a@mail.example', 'b@mail.example')).toEqual({ ok: false, code: 'full' });
		expect(await given(bought.agreementId)).toEqual([TEAL]);
		const all = await Promise.all(Array.from({ length: 4 }, (_, n) => give(`racer-${n}@mail.example`)));
		expect(all.filter(({ ok }) => ok)).toHaveLength(1);
		expect(await given(bought.agreementId)).toHaveLength(2);
	});

	it('is taken once, however often it is pressed at the same moment', async () => {
		const bought = await buyFor(3);
		const teal = await member(TEAL);
		await giveSeats(world.app, bought.memberId, bought.agreementId, [TEAL]);
		const [seat] = await seatsFor(world.app.db, TEAL);
		const all = await Promise.all(Array.from({ length: 4 }, () => takeSeat(world.app, teal, seat?.id ?? '')));
		expect(all.every(({ ok }) => ok)).toBe(true);
		expect(await grantsOf(world.app.db, teal)).toHaveLength(1);
	});

	it('is nobody’s who has not shown the mailbox, has another, or was not asked', async () => {
		const bought = await buyFor(3);
		const unproved = await member(TEAL, false);
		const other = await member('other@mail.example');
		await giveSeats(world.app, bought.memberId, bought.agreementId, [TEAL]);
		const [seat] = await seatsFor(world.app.db, TEAL);
		const id = seat?.id ?? '';
		for (const who of [unproved, other, bought.memberId])
			expect(await takeSeat(world.app, who, id)).toEqual({ ok: false, code: 'unknown' });
		expect(await seatPage(world.app, unproved, id)).toEqual({ kind: 'unproved' });
		expect(await seatPage(world.app, other, id)).toEqual({ kind: 'not-here' });
		expect(await seatPage(world.app, other, 'nothing')).toEqual({ kind: 'not-here' });
		expect(await giveSeats(world.app, other, bought.agreementId, ['x@mail.example'])).toEqual({
			...{ ok: false, code: 'unknown' }
		});
		expect(await takeSeatBack(world.app, other, id)).toBe(false);
		expect(await sendSeatAgain(world.app, other, id)).toEqual({ ok: false, code: 'unknown' });
		expect(await seatsPage(world.app, other, bought.agreementId)).toBeNull();
		expect(await sendSeatAgain(world.app, bought.memberId, id)).toEqual({ ok: true });
	});

	it('is free again when it is taken back, and shut for whoever had it alone', async () => {
		const bought = await buyFor(2);
		const { memberId, seatId } = await seated(bought);
		expect(await takeSeatBack(world.app, bought.memberId, seatId)).toBe(true);
		expect([await verdict(memberId), await verdict(bought.memberId)]).toEqual(['shut', 'open']);
		expect(await takeSeat(world.app, memberId, seatId)).toEqual({ ok: false, code: 'unknown' });
		// Renewals open nothing that was taken back.
		await passDays(world, 35);
		expect([await verdict(memberId), await verdict(bought.memberId)]).toEqual(['shut', 'open']);
		expect(
			await giveSeats(world.app, bought.memberId, bought.agreementId, ['next@mail.example'])
		).toMatchObject({ ok: true, given: 1 });
	});
});

describe('a seat goes as what it is of', () => {
	it('it is renewed with it, and is taken to go on', async () => {
		const bought = await buyFor(3);
		const { memberId } = await seated(bought);
		const until = async (of: string) =>
			(await grantsOf(world.app.db, of)).map((one) => [one.until, one.renews]);
		expect(await until(memberId)).toEqual(await until(bought.memberId));
		await passDays(world, 35);
		expect(await until(memberId)).toEqual(await until(bought.memberId));
		expect(await verdict(memberId)).toBe('open');
	});

	it('it ends when that is cancelled and has run out', async () => {
		const bought = await buyFor(3);
		const { memberId } = await seated(bought);
		await cancelAgreement(world.app, bought.memberId, bought.agreementId, {
			reason: 'no-time',
			words: ''
		} as never);
		expect(await verdict(memberId)).toBe('open');
		await passDays(world, 32);
		expect([await verdict(memberId), await verdict(bought.memberId)]).toEqual(['shut', 'shut']);
		expect(await giveSeats(world.app, bought.memberId, bought.agreementId, ['x@mail.example'])).toEqual({
			...{ ok: false, code: 'ended' }
		});
	});

	it('it is shut by a dispute, and opens anew when that is won', async () => {
		const bought = await buyFor(3);
		const { memberId } = await seated(bought);
		const waits = 'late@mail.example';
		await giveSeats(world.app, bought.memberId, bought.agreementId, [waits]);
		world.processor.becomes(bought.ref, 'open');
		await reconcile(world.app);
		expect([await verdict(memberId), await verdict(bought.memberId)]).toEqual(['shut', 'shut']);
		const late = await member(waits);
		const [seat] = await seatsFor(world.app.db, waits);
		expect(await takeSeat(world.app, late, seat?.id ?? '')).toEqual({ ok: false, code: 'shut' });
		world.processor.becomes(bought.ref, 'won');
		await reconcile(world.app);
		expect([await verdict(memberId), await verdict(bought.memberId)]).toEqual(['open', 'open']);
		expect(await takeSeat(world.app, late, seat?.id ?? '')).toMatchObject({ ok: true });
		await passDays(world, 35);
		expect([await verdict(memberId), await verdict(late)]).toEqual(['open', 'open']);
	});

	it('it shuts when the money goes back', async () => {
		const bought = await buyFor(3);
		const { memberId } = await seated(bought);
		const [payment] = await paymentsOf(world.app.db, bought.memberId);
		await refundWhole(world.app, null, payment?.id ?? '');
		expect([await verdict(memberId), await verdict(bought.memberId)]).toEqual(['shut', 'shut']);
	});

	it('it begins on the first day that all share', async () => {
		const firstDay = world.app.clock.business() + 10 * 86_400_000;
		await edit({ firstDay });
		const bought = await buyFor(3);
		const { memberId } = await seated(bought);
		expect(await verdict(memberId)).toBe('opens-later');
		await passDays(world, 10.1);
		expect(await verdict(memberId)).toBe('open');
	});
});

describe('more seats, and other prices', () => {
	const at = () => ({ now: world.app.clock.business(), zone: 'UTC', tax: NO_TAX });

	it('are bought at once, for what is left of the month, and asked for from then on', async () => {
		const bought = await buyFor(3);
		const { memberId } = await seated(bought);
		const { price } = (await planById(world.app.db, shop.planId)) ?? {};
		const priceId = price?.priceId ?? '';
		const page = await movePage(world.app, bought.memberId, bought.agreementId, priceId, 5);
		expect(page).toMatchObject({
			seats: 5,
			to: { answer: { kind: 'now', priceMinor: 6000, creditMinor: 3600, asksMinor: 2400 } }
		});
		const moved = await beginMove(world.app, {
			...{ memberId: bought.memberId, agreementId: bought.agreementId, priceId, seats: 5 },
			seen: { ...(page?.seen ?? { at: 0, revision: '' }), asksMinor: 2400 },
			...{ payBy: null, deviceToken: WREN }
		});
		if (!moved.ok || moved.kind !== 'to-pay') throw new Error(JSON.stringify(moved));
		world.processor.becomes(moved.payUrl.split('/').at(-1) ?? '', 'captured');
		await reconcile(world.app);
		const [row] = await agreementsOf(world.app.db, bought.memberId);
		expect([row?.seats, row?.nextMinor, await verdict(memberId)]).toEqual([5, 6000, 'open']);
		expect(await seatsPage(world.app, bought.memberId, bought.agreementId)).toMatchObject({ free: 3 });
	});

	it('are not had for less, nor fewer by it', async () => {
		const bought = await buyFor(3);
		const { price } = (await planById(world.app.db, shop.planId)) ?? {};
		const priceId = price?.priceId ?? '';
		const wish = (seats: number, asksMinor: number | null) => ({
			...{ memberId: bought.memberId, agreementId: bought.agreementId, priceId, seats },
			...{ payBy: null, deviceToken: WREN, seen: { at: at().now, revision: '', asksMinor } }
		});
		const page = await movePage(world.app, bought.memberId, bought.agreementId, priceId, 5);
		const seen = page?.seen ?? { at: 0, revision: '' };
		expect(await beginMove(world.app, { ...wish(9, 2400), seen: { ...seen, asksMinor: 2400 } })).toEqual({
			...{ ok: false, code: 'changed' }
		});
		expect(await beginMove(world.app, { ...wish(2, null), seen: { ...seen, asksMinor: null } })).toEqual({
			...{ ok: false, code: 'changed' }
		});
		expect((await agreementsOf(world.app.db, bought.memberId))[0]?.seats).toBe(3);
	});

	it('of another rung are priced for all of them, and move with them', async () => {
		await edit({ ladder: 'Ways in', rung: 1 });
		const patron = await createPlan(world.app, null, {
			...{ ...PLAN, name: 'Patron', terms: monthly(2000), ladder: 'Ways in', rung: 2, sellsSeats: true }
		});
		const bought = await buyFor(3);
		const moves = await movesOf(world.app.db, bought.memberId, bought.agreementId, at());
		const to = moves?.to.find(({ plan }) => plan.id === patron);
		expect(to?.answer).toMatchObject({ kind: 'now', priceMinor: 6000, creditMinor: 3600, asksMinor: 2400 });
		const page = await movePage(world.app, bought.memberId, bought.agreementId, to?.price.priceId ?? '');
		const { memberId } = await seated(bought);
		const moved = await beginMove(world.app, {
			...{ memberId: bought.memberId, agreementId: bought.agreementId, priceId: to?.price.priceId ?? '' },
			seen: { ...(page?.seen ?? { at: 0, revision: '' }), asksMinor: 2400 },
			...{ payBy: null, deviceToken: WREN }
		});
		if (!moved.ok || moved.kind !== 'to-pay') throw new Error(JSON.stringify(moved));
		world.processor.becomes(moved.payUrl.split('/').at(-1) ?? '', 'captured');
		await reconcile(world.app);
		const [row] = await agreementsOf(world.app.db, bought.memberId);
		expect([row?.planId, row?.seats, row?.nextMinor]).toEqual([patron, 3, 6000]);
		const held = async (of: string) =>
			(await grantsOf(world.app.db, of))
				.filter(({ revokedAt }) => revokedAt === null)
				.map(({ planId }) => planId);
		expect(await held(memberId)).toEqual([patron]);
		expect(row && (await courseNow(world.app.db, row)).open?.planId).toBe(patron);
	});

	it('that change for all change for each of them', async () => {
		const bought = await buyFor(3);
		await edit({ terms: monthly(1500) });
		const [earlier] = await earlierPrices(world.app.db, shop.planId);
		await reprice(world.app, null, {
			...{ planId: shop.planId, priceId: earlier?.priceId ?? '', seen: earlier?.seen ?? '' }
		});
		await world.stile.runner.runDue('billing');
		await passDays(world, 35);
		await passDays(world, 32);
		expect(await paid(bought.memberId)).toContain(4500);
	});
});

describe('what is kept of seats', () => {
	it('is part of what their buyer takes along, and goes with either account', async () => {
		const bought = await buyFor(3);
		const { memberId } = await seated(bought);
		expect(await ownData(world.app, bought.memberId)).toMatchObject({ seatsGiven: [{ to: TEAL }] });
		await deleteMember(world.app, null, memberId);
		expect(await given(bought.agreementId)).toEqual([]);
		const other = await seated(bought, 'other@mail.example');
		await deleteMember(world.app, null, bought.memberId);
		expect(await verdict(other.memberId)).toBe('shut');
		expect((await world.app.db.select().from(seats)).map(({ email }) => email)).toEqual([null, null]);
		expect(await seatsFor(world.app.db, 'other@mail.example')).toEqual([]);
	});
});
