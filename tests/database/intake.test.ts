/** An intake: a first day that all share, prices for the first buyers alone, and a list of those who wait. */
import { eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { agreementsOf, courseNow } from '$server/db/queries/agreements';
import { accountByEmail } from '$server/db/queries/members';
import { movesOf } from '$server/db/queries/moves';
import { placesTaken } from '$server/db/queries/places';
import { orderById, planById } from '$server/db/queries/sales';
import { HOLDS_MS } from '$server/db/queries/taking';
import { countWaiting } from '$server/db/queries/waiting-list';
import { NO_TAX } from '$core/billing/tax';
import { grants } from '$server/db/schema/access';
import { accounts } from '$server/db/schema/people';
import { orders, waitingList } from '$server/db/schema/sales';
import { round } from '$server/jobs/housekeeping';
import { LIMITS } from '$server/people/rate-limit';
import { planPage as deskPlan, waitingAsTable, waitingPage } from '$server/reads/desk/plans';
import { accountView } from '$server/reads/front/account-view';
import { offersAtPlace } from '$server/reads/front/offers';
import { ownData } from '$server/reads/front/own-data';
import { planPage, plansComing, plansOffered, planToBuy } from '$server/reads/front/shop';
import { lookOf } from '$server/rights/look';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { takeBack } from '$server/usecases/access/take-back';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { addMember } from '$server/usecases/accounts/run-members';
import { editPlan, type PlanWish } from '$server/usecases/plans/save-plan';
import { savePrice } from '$server/usecases/plans/save-price';
import { settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { hashOf } from '$server/people/sessions';
import {
	askToWait,
	endWaiting,
	joiningPath,
	leavingPath,
	pressWaiting,
	tellAllWaiting,
	tellWaiting,
	waitingAt
} from '$server/usecases/sales/waiting-list';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, makeShop, makeWorld, monthly, order, passDays, PLAN, refundWhole, type World } from './world';

const DAY = 86_400_000;
const WREN = 'wren@mail.example';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const now = () => world.app.clock.business();
const edit = (over: Partial<PlanWish>) =>
	agreeing((agreedTo) => editPlan(world.app, null, shop.planId, { ...PLAN, ...over }, agreedTo));
const look = async (memberId: string | null) =>
	lookOf(world.app, memberId === null ? null : await world.app.rights.standing(memberId), null, '192.0.2.1');
const pay = async (begun: { orderId: string; payUrl: string }, device: string) => {
	world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
	await settleReturn(world.app, begun.orderId, device, null);
};
async function begin(over: Parameters<typeof order>[2] = {}) {
	const begun = await order(world, shop.slug, over);
	if (!begun.ok) throw new Error(begun.code);
	return begun;
}
async function mails() {
	for (const lane of ['billing', 'sign-in', 'mail'] as const) await world.stile.runner.runDue(lane);
	return world.mails.splice(0);
}

describe('a first day that all share', () => {
	const inDays = (days: number) => {
		const at = now() + days * DAY;
		return at - (at % 60_000);
	};

	it('is paid at once and opens on it, and dues count from it', async () => {
		const firstDay = inDays(10);
		await edit({ firstDay });
		const { memberId, orderId } = await buy(world, shop.slug);
		const [row] = await agreementsOf(world.app.db, memberId);
		const [grant] = await world.app.db.select().from(grants).where(eq(grants.memberId, memberId));
		expect([row?.anchor, grant?.from]).toEqual([firstDay, firstDay]);
		expect(await world.app.rights.decide(memberId, shop.itemId)).toMatchObject({
			verdict: 'opens-later',
			opensAt: firstDay
		});
		expect(await accountView(world.app, await look(memberId), memberId)).toMatchObject({
			plans: [{ isOpen: false, begins: firstDay, state: 'running' }]
		});
		expect(await thank(world.app, orderId, WREN, null)).toMatchObject({
			begins: firstDay,
			landing: '/account'
		});
		const [mail] = (await mails()).filter(({ to }) => to === WREN);
		expect(mail?.subject).toMatch(/^Workshop is yours: it begins on /);
		await passDays(world, 10);
		expect((await world.app.rights.decide(memberId, shop.itemId)).verdict).toBe('open');
		expect(await thank(world.app, orderId, WREN, memberId)).toMatchObject({
			begins: null,
			landing: '/videos/wheel'
		});
		// A month from the first day, and not from buying.
		expect(row && (await courseNow(world.app.db, row)).state).toEqual({ kind: 'running', period: 0 });
		await passDays(world, 32);
		const [later] = await agreementsOf(world.app.db, memberId);
		expect(later?.period).toBe(1);
	});

	it('is said where the plan is offered, to the moment, and to nobody who buys after it', async () => {
		const firstDay = inDays(10);
		await edit({ firstDay });
		const at = async () =>
			(await offersAtPlace(world.app, await look(null), shop.itemId)).map((one) => one.opensAt);
		const said = async () => (await plansOffered(world.app, await look(null), {}))[0]?.plan.begins;
		expect([await at(), await said()]).toEqual([[firstDay], firstDay]);
		await passDays(world, 10);
		expect([await at(), await said()]).toEqual([[null], null]);
		const { memberId } = await buy(world, shop.slug);
		expect((await world.app.rights.decide(memberId, shop.itemId)).verdict).toBe('open');
	});

	it('makes it theirs: it is not sold to them again, and nothing is moved before it', async () => {
		await edit({ firstDay: inDays(10), ladder: 'Ways in', rung: 1 });
		const { memberId } = await buy(world, shop.slug);
		const [offer] = await plansOffered(world.app, await look(memberId), {});
		expect(offer).toMatchObject({ action: { kind: 'plan.yours' }, plan: { begins: null } });
		expect(offer?.plan.yoursFrom).toBeGreaterThan(now());
		expect(await order(world, shop.slug, { memberId, deviceToken: 'other' })).toEqual({
			...{ ok: false, code: 'has-plan' }
		});
		expect(await offersAtPlace(world.app, await look(memberId), shop.itemId)).toEqual([]);
		const made = await savePrice(world.app, null, shop.planId, null, {
			name: 'Dearer',
			terms: monthly(2400)
		});
		expect(made.ok).toBe(true);
		const [row] = await agreementsOf(world.app.db, memberId);
		const at = { now: now(), zone: 'UTC', tax: NO_TAX };
		const moves = await movesOf(world.app.db, memberId, row?.id ?? '', at);
		expect(moves?.to.map(({ answer }) => answer)).toEqual([
			{ kind: 'refused', why: 'not-begun' },
			{ kind: 'refused', why: 'not-begun' }
		]);
	});

	it('ends orders that were begun for another one, and stays for whoever has bought', async () => {
		const firstDay = inDays(10);
		await edit({ firstDay });
		const { memberId } = await buy(world, shop.slug);
		const other = await begin({ email: 'late@mail.example', deviceToken: 'late' });
		await edit({ firstDay: inDays(20) });
		expect((await orderById(world.app.db, other.orderId))?.state).toBe('expired');
		expect((await agreementsOf(world.app.db, memberId))[0]?.anchor).toBe(firstDay);
	});

	it('is refunded before it as after it, and then never opens', async () => {
		await edit({ firstDay: inDays(10) });
		const { memberId } = await buy(world, shop.slug);
		const payment = (await accountView(world.app, await look(memberId), memberId)).payments[0];
		expect(await refundWhole(world.app, null, payment?.id ?? '')).toMatchObject({ ok: true });
		await passDays(world, 12);
		expect((await world.app.rights.decide(memberId, shop.itemId)).verdict).toBe('shut');
	});

	it('of what is over by then opens nothing to whoever pays too late', async () => {
		await edit({ access: { kind: 'until', at: now() + DAY } });
		const begun = await begin();
		await passDays(world, 2);
		await pay(begun, 'device');
		const wren = await accountByEmail(world.app.db, WREN);
		expect((await world.app.rights.decide(wren?.id ?? '', shop.itemId)).verdict).toBe('shut');
	});

	it('is taken back with the rest of a change of the plan', async () => {
		await edit({ firstDay: inDays(10) });
		expect((await world.app.rights.policy()).source.plans[0]?.firstDay).toBe(inDays(10));
		const { version } = await world.app.rights.policy().then(async () => world.app.rights.known());
		await agreeing((agreedTo) => takeBack(world.app, null, version, agreedTo));
		expect((await planById(world.app.db, shop.planId))?.firstDay).toBeNull();
		expect((await world.app.rights.policy()).source.plans[0]?.firstDay).toBeUndefined();
	});
});

describe('a price for the first buyers', () => {
	const early = async (count: number, over: Partial<PlanWish> = {}) => {
		await edit({ firstBuyers: count, priceName: 'Early', ...over });
		const saved = await savePrice(world.app, null, shop.planId, null, {
			name: 'Later',
			terms: monthly(2000)
		});
		if (!saved.ok) throw new Error(saved.code);
		return { early: (await planById(world.app.db, shop.planId))?.price.priceId ?? '', later: saved.priceId };
	};
	const offeredNow = async () => {
		const [offer] = await plansOffered(world.app, await look(null), {});
		return offer && [offer.plan.first, offer.plan.others.length];
	};

	it('is sold to as many as it says, whoever else asks at the same moment; then the next price is', async () => {
		const ids = await early(3);
		const asked = await Promise.all(
			Array.from({ length: 5 }, (_, n) =>
				order(world, shop.slug, {
					...{ email: `buyer-${n}@mail.example`, deviceToken: `device-${n}`, priceId: ids.early }
				})
			)
		);
		expect(asked.filter(({ ok }) => ok)).toHaveLength(3);
		expect(asked.flatMap((one) => (one.ok ? [] : [one.code]))).toEqual(['price-gone', 'price-gone']);
		expect(await offeredNow()).toEqual([null, 0]);
		// Without a price named, the one that is left is sold.
		const begun = await begin({ email: 'last@mail.example', deviceToken: 'last' });
		expect((await orderById(world.app.db, begun.orderId))?.totalMinor).toBe(2000);
	});

	it('is held for an hour by an order that is being paid, for its buyer to come back to', async () => {
		const ids = await early(1);
		expect(await offeredNow()).toEqual([{ of: 1, left: 1 }, 1]);
		const begun = await begin({ priceId: ids.early });
		const own = { memberId: null, deviceHash: hashOf('device') };
		const toBuy = async (buyer: typeof own) =>
			(await planToBuy(world.app, await look(null), shop.slug, { buyer }))?.prices.length;
		expect([await toBuy(own), await toBuy({ ...own, deviceHash: hashOf('other') })]).toEqual([2, 1]);
		expect(await begin({ priceId: ids.early })).toMatchObject({ orderId: begun.orderId });
		await world.app.db.update(orders).set({ createdAt: now() - HOLDS_MS - 1 });
		expect(await offeredNow()).toEqual([{ of: 1, left: 1 }, 1]);
	});

	it('is not freed by a refund, and counts who pays later than it was held', async () => {
		const ids = await early(1);
		const slow = await begin({ priceId: ids.early });
		await world.app.db.update(orders).set({ createdAt: now() - HOLDS_MS - 1 });
		const quick = await begin({ email: 'quick@mail.example', deviceToken: 'quick', priceId: ids.early });
		await pay(quick, 'quick');
		await pay(slow, 'device');
		expect((await orderById(world.app.db, slow.orderId))?.state).toBe('paid');
		expect(await placesTaken(world.app.db, [ids.early], now())).toEqual(new Map([[ids.early, 2]]));
		const quicks = await accountByEmail(world.app.db, 'quick@mail.example');
		const [payment] = (await accountView(world.app, await look(quicks?.id ?? ''), quicks?.id ?? '')).payments;
		await refundWhole(world.app, null, payment?.id ?? '');
		expect(await offeredNow()).toEqual([null, 0]);
		expect((await deskPlan(world.app, shop.planId))?.prices[0]).toMatchObject({ firstBuyers: 1, taken: 2 });
	});

	it('of a plan without another leaves nothing to buy, and says so', async () => {
		await edit({ firstBuyers: 1, hasWaitingList: true });
		await buy(world, shop.slug);
		expect(await order(world, shop.slug, { email: 'late@mail.example', deviceToken: 'late' })).toEqual({
			...{ ok: false, code: 'price-gone' }
		});
		const seen = await look(null);
		expect(await plansOffered(world.app, seen, {})).toEqual([]);
		expect(await plansComing(world.app, seen)).toMatchObject([{ name: 'Workshop', from: null }]);
		expect(await planPage(world.app, seen, shop.slug, {})).toMatchObject({
			...{ isOnSale: false, sold: { kind: 'full' }, waiting: { waits: false } }
		});
		expect(await offersAtPlace(world.app, seen, shop.itemId)).toEqual([]);
		// More places, and it is sold again.
		await edit({ firstBuyers: 2, hasWaitingList: true });
		expect(await plansOffered(world.app, await look(null), {})).toHaveLength(1);
	});
});

describe('a waiting list', () => {
	const closed = () => edit({ hasWaitingList: true, sellsFrom: now() + 5 * DAY });
	const ask = (over: Partial<Parameters<typeof askToWait>[1]> = {}) =>
		askToWait(world.app, {
			...{ planSlug: shop.slug, memberId: null, email: WREN, client: '127.0.0.1' },
			...over
		});
	const token = (path: string) => path.split('/').at(-1) ?? '';
	const joins = (email: string) =>
		pressWaiting(world.app, token(joiningPath(world.app, shop.planId, email)), true);
	async function member(isProved = true) {
		const added = await addMember(world.app, null, { email: WREN, name: 'Wren', planId: null, until: null });
		if (!added.ok) throw new Error(added.code);
		if (isProved)
			await world.app.db.update(accounts).set({ provedAt: 1 }).where(eq(accounts.id, added.memberId));
		await mails();
		return added.memberId;
	}
	const count = () => countWaiting(world.app.db, shop.planId);
	const told = async () => (await mails()).filter(({ subject }) => subject === 'Workshop is on sale');

	it('takes a stranger once the mailed link is pressed, and mails nothing else', async () => {
		await closed();
		expect(await ask({ email: ' Wren@mail.example ' })).toEqual({ ok: true, how: 'mailed' });
		expect(await count()).toBe(0);
		const [mail, ...others] = await mails();
		expect(others).toEqual([]);
		expect(mail).toMatchObject({ to: WREN, subject: 'Shall we tell you when Workshop is on sale?' });
		const pressed = /\/mails\/waiting\/(\S+)/.exec(mail?.text ?? '')?.[1] ?? '';
		// Looking changes nothing.
		expect(await waitingAt(world.app, pressed)).toMatchObject({ does: 'joins', waits: false, isSold: false });
		expect(await count()).toBe(0);
		expect(await pressWaiting(world.app, pressed, true)).toBe(true);
		expect(await pressWaiting(world.app, pressed, true)).toBe(true);
		expect([await count(), await mails()]).toEqual([1, []]);
	});

	it('takes a member with a proved mailbox at once, and any other by the link to their own address', async () => {
		await closed();
		const memberId = await member();
		const other = { memberId, email: 'somebody-else@mail.example' };
		expect(await ask(other)).toEqual({ ok: true, how: 'listed' });
		expect(await planPage(world.app, await look(memberId), shop.slug, {})).toMatchObject({
			waiting: { waits: true }
		});
		expect((await waitingAsTable(world.app, shop.planId))?.rows.map(({ email }) => email)).toEqual([WREN]);
		await endWaiting(world.app, shop.slug, memberId);
		expect(await count()).toBe(0);
		await world.app.db.update(accounts).set({ provedAt: null }).where(eq(accounts.id, memberId));
		expect(await ask(other)).toEqual({ ok: true, how: 'mailed' });
		expect((await mails()).map(({ to }) => to)).toEqual([WREN]);
	});

	it('tells them once when selling opens, with an address that ends it', async () => {
		await closed();
		for (const email of ['b@mail.example', 'a@mail.example', WREN]) {
			await joins(email);
			await passDays(world, 0.01);
		}
		expect(await told()).toEqual([]);
		await passDays(world, 5);
		const all = await told();
		expect(all.map(({ to }) => to).sort()).toEqual(['a@mail.example', 'b@mail.example', WREN]);
		const own = all.find(({ to }) => to === WREN);
		const ends = own?.endedAt ?? '';
		expect(own?.text).toContain(ends);
		expect(await waitingAt(world.app, token(ends))).toMatchObject({ does: 'leaves', planName: 'Workshop' });
		expect(own?.text).toContain('/checkout/workshop');
		await tellAllWaiting(world.app);
		expect([await count(), await told()]).toEqual([0, []]);
	});

	it('tells each once, however many nodes look at the same moment', async () => {
		await closed();
		for (let n = 0; n < 250; n++)
			await world.app.db
				.insert(waitingList)
				.values({ planId: shop.planId, email: `w${n}@mail.example`, at: now() + n });
		await edit({ hasWaitingList: true });
		await Promise.all(Array.from({ length: 4 }, () => tellWaiting(world.app, shop.planId)));
		const all = await told();
		expect(all).toHaveLength(250);
		expect(new Set(all.map(({ to }) => to)).size).toBe(250);
	});

	it('tells them when the publisher opens it early, or makes room', async () => {
		await closed();
		await joins(WREN);
		await edit({ hasWaitingList: true });
		expect(await told()).toHaveLength(1);
		await edit({ hasWaitingList: true, firstBuyers: 1 });
		await buy(world, shop.slug, 'first@mail.example');
		await joins(WREN);
		await round(world.app);
		expect(await told()).toEqual([]);
		await edit({ hasWaitingList: true, firstBuyers: 2 });
		expect(await told()).toHaveLength(1);
	});

	it('is left with one press by whoever has the mail, who puts nobody on it', async () => {
		await closed();
		await joins(WREN);
		const leaves = token(leavingPath(world.app, shop.planId, WREN));
		expect(await waitingAt(world.app, leaves)).toMatchObject({ does: 'leaves', waits: true });
		await pressWaiting(world.app, leaves, false);
		expect(await count()).toBe(0);
		await pressWaiting(world.app, leaves, true);
		expect(await count()).toBe(0);
	});

	it('takes nobody by a link that is none, too old, of another purpose, or of what is sold by now', async () => {
		await closed();
		const good = token(joiningPath(world.app, shop.planId, WREN));
		const forged = [`${good}x`, 'nothing', token(joiningPath(world.app, shop.itemId, WREN))];
		for (const one of forged) expect(await pressWaiting(world.app, one, true)).toBe(false);
		const realWall = world.app.clock.wall;
		world.app.clock.wall = () => realWall() + 15 * DAY;
		expect(await pressWaiting(world.app, good, true)).toBe(false);
		world.app.clock.wall = realWall;
		await edit({ hasWaitingList: true });
		await pressWaiting(world.app, good, true);
		expect([await count(), await waitingAt(world.app, good)]).toMatchObject([0, { isSold: true }]);
	});

	it('is asked for in vain where there is none, where it can be bought, and too often', async () => {
		expect(await ask()).toEqual({ ok: false, code: 'unknown' });
		await edit({ hasWaitingList: true });
		expect(await ask()).toEqual({ ok: false, code: 'sold' });
		expect(await ask({ planSlug: 'nothing' })).toEqual({ ok: false, code: 'unknown' });
		await closed();
		for (let n = 0; n < LIMITS.linkByEmail.count; n++) expect((await ask()).ok).toBe(true);
		expect(await ask()).toEqual({ ok: false, code: 'too-many' });
	});

	it('is shown by pages at the Desk, those who came first first', async () => {
		await closed();
		await world.app.db.insert(waitingList).values(
			Array.from({ length: 230 }, (_, n) => ({
				...{ planId: shop.planId, email: `w${n}@mail.example`, at: now() + n * 1000 }
			}))
		);
		expect(await waitingPage(world.app, shop.planId, 3)).toMatchObject({ count: 230, first: 201 });
		expect((await waitingPage(world.app, shop.planId, 99))?.rows[0]?.email).toBe('w200@mail.example');
		expect((await waitingPage(world.app, shop.planId, 1))?.rows[0]?.email).toBe('w0@mail.example');
		expect((await deskPlan(world.app, shop.planId))?.waiting).toBe(230);
		expect(await waitingPage(world.app, 'nothing', 1)).toBeNull();
	});

	it('is part of what a member takes along, goes with their account, and is forgotten a month after', async () => {
		await closed();
		const memberId = await member();
		await ask({ memberId });
		expect(await ownData(world.app, memberId)).toMatchObject({
			waitsFor: [{ plan: 'Workshop', toldAt: null }]
		});
		await deleteMember(world.app, null, memberId);
		expect(await count()).toBe(0);
		await joins('a@mail.example');
		await edit({ hasWaitingList: true });
		expect(await told()).toHaveLength(1);
		const left = async () => (await world.app.db.select().from(waitingList)).length;
		await passDays(world, 29);
		await round(world.app);
		expect(await left()).toBe(1);
		await passDays(world, 2);
		await round(world.app);
		expect(await left()).toBe(0);
	});
});
