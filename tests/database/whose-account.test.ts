/** Whose account is it? What an address that was typed, paid on or proved lets somebody into. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { accountByEmail } from '$server/db/queries/members';
import { EVERYBODY } from '../support/members';
import { memberList } from '$server/db/queries/member-list';
import { paymentsOfOrder } from '$server/db/queries/sales';
import { ANYTHING, findAnything } from '$server/db/queries/find';
import { accounts, joinLinks, sessions } from '$server/db/schema/people';
import { audit, jobs } from '$server/db/schema/running';
import { orders, documents, agreements } from '$server/db/schema/sales';
import { hashOf } from '$server/people/sessions';
import { signIn } from '$server/usecases/accounts/sign-in';
import { askForLink, askToJoin, lookAtLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { addMember } from '$server/usecases/accounts/run-members';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { createPlan, SOLD_HERE } from '$server/usecases/plans/save-plan';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { forgetStrangersOrders, expireOrders } from '$server/usecases/sales/end-pay-page';
import { settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveFence } from '$server/usecases/fences/save-fence';
import {
	FENCE,
	giveGrant,
	holding,
	mailedToken,
	makeShop,
	makeWorld,
	monthly,
	NEW_DEVICE,
	order,
	passDays,
	refundWhole,
	sessionOf,
	type World
} from './world';

const WREN = 'wren@mail.example';
const PASSWORD = 'pendulum and bob';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let other: string;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	await createPlan(world.app, null, {
		name: 'Reading room',
		lines: [],
		note: '',
		lessFor: null,
		priceName: '',
		payBy: null,
		isOpenAtOnce: true,
		...SOLD_HERE,
		terms: monthly(500),
		access: { kind: 'while-paid' },
		isPublic: true,
		isOnSale: true,
		afterLapse: 'on',
		ladder: null,
		rung: 1
	});
	other = 'reading-room';
});
afterEach(async () => world.end());

/** Orders on a device and pays there; what the thank-you page gives. */
async function buyOn(device: string, over: { slug?: string; password?: string; name?: string } = {}) {
	const { slug = shop.slug, password = '', name = 'Wren' } = over;
	const begun = await order(world, slug, { deviceToken: device, password, name });
	if (!begun.ok) throw new Error(begun.code);
	await capture(begun, device);
	return { ...begun, thanks: await thank(world.app, begun.orderId, device, null) };
}

async function capture(begun: { orderId: string; payUrl: string }, device: string) {
	world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
	await settleReturn(world.app, begun.orderId, device, null);
}

const wren = async () => (await accountByEmail(world.app.db, WREN))!;
const signsIn = async (password = PASSWORD) =>
	(await signIn(world.app, { email: WREN, password, client: 'c' })).ok;
const isIn = async (token: string | undefined) =>
	(await world.app.rights.sessionAccount(hashOf(token ?? ''))) !== null;

describe('an unpaid order of a stranger', () => {
	it('makes no member, shows nowhere at the Desk, and does not block adding the address', async () => {
		const begun = await order(world, shop.slug);
		if (!begun.ok) throw new Error(begun.code);
		expect(await world.app.db.select().from(accounts)).toEqual([]);
		expect((await memberList(world.app.db, EVERYBODY, world.app.clock.business())).total).toBe(0);
		const [placed] = await world.app.db.select().from(orders);
		expect(await findAnything(world.app.db, placed!.number, ANYTHING)).toEqual([]);
		const added = await addMember(world.app, null, { email: WREN, name: '', planId: null, until: null });
		expect(added).toMatchObject({ ok: true });
	});

	it('is forgotten after a week, but not when it was paid in the last moment', async () => {
		const kept = await order(world, shop.slug, { deviceToken: 'late' });
		const gone = await order(world, shop.slug, { deviceToken: 'never', password: PASSWORD });
		if (!kept.ok || !gone.ok) throw new Error('not begun');
		await passDays(world, 2);
		await expireOrders(world.app);
		const hashes = (await world.app.db.select().from(orders)).map((o) => o.typedPasswordHash);
		expect(hashes).toEqual([null, null]);
		world.processor.becomes(kept.payUrl.split('/').at(-1) ?? '', 'captured');
		expect(await forgetStrangersOrders(world.app)).toBe(0);
		await passDays(world, 6);
		expect(await forgetStrangersOrders(world.app)).toBe(1);
		const left = await world.app.db.select().from(orders);
		expect(left.map(({ id, state }) => ({ id, state }))).toEqual([{ id: kept.orderId, state: 'paid' }]);
	});

	it('is not ended by another stranger who types the same address', async () => {
		const mine = await order(world, shop.slug, { deviceToken: 'mine' });
		await order(world, shop.slug, { deviceToken: 'somebody' });
		expect(await order(world, shop.slug, { deviceToken: 'mine' })).toEqual(mine);
	});
});

describe('paying', () => {
	it('claims an account that the order made, and the thank-you page signs the device in once', async () => {
		const { thanks, orderId } = await buyOn('device', { password: PASSWORD });
		expect(await isIn(thanks?.session?.token)).toBe(true);
		expect(await signsIn()).toBe(true);
		expect((await thank(world.app, orderId, 'device', null))?.session).toBeNull();
		expect(await thank(world.app, orderId, 'another', null)).toBeNull();
	});

	it('signs nobody in where the address was added by hand before', async () => {
		await addMember(world.app, null, { email: WREN, name: 'Wren', planId: null, until: null });
		const { thanks } = await buyOn('device', { password: PASSWORD });
		expect(thanks).toMatchObject({ session: null, isIn: false });
		expect(await signsIn()).toBe(false);
		await pressLink(world.app, await mailedToken(world, WREN), NEW_DEVICE, true);
		expect((await world.app.rights.decide((await wren()).id, shop.itemId)).verdict).toBe('open');
	});

	it('signs nobody in by an order that was made before another one claimed the account', async () => {
		const first = await order(world, other, { deviceToken: 'attacker', password: 'of the attacker' });
		if (!first.ok) throw new Error(first.code);
		await buyOn('device', { password: PASSWORD });
		await capture(first, 'attacker');
		expect((await thank(world.app, first.orderId, 'attacker', null))?.session).toBeNull();
		expect(await signsIn('of the attacker')).toBe(false);
	});

	it('signs nobody in when it comes late, or when it was given back', async () => {
		const late = await order(world, shop.slug, { deviceToken: 'late', password: PASSWORD });
		if (!late.ok) throw new Error(late.code);
		await passDays(world, 1.1);
		await capture(late, 'late');
		expect(await thank(world.app, late.orderId, 'late', null)).toMatchObject({ session: null, isIn: false });
		expect(await signsIn()).toBe(false);
		await deleteMember(world.app, null, (await wren()).id);
		const begun = await order(world, other, { deviceToken: 'back' });
		if (!begun.ok) throw new Error(begun.code);
		await capture(begun, 'back');
		const [paid] = await paymentsOfOrder(world.app.db, begun.orderId);
		await refundWhole(world.app, null, paid!.id, '');
		expect((await thank(world.app, begun.orderId, 'back', null))?.session).toBeNull();
	});

	it('on an address that nobody proved ends who was in before, and opens by mail', async () => {
		const attacker = await buyOn('attacker', { password: 'of the attacker' });
		expect(await isIn(attacker.thanks?.session?.token)).toBe(true);
		const owner = await buyOn('owner', { slug: other, password: PASSWORD });
		expect(owner.thanks).toMatchObject({ session: null, isIn: false });
		expect(await isIn(attacker.thanks?.session?.token)).toBe(false);
		expect(await signsIn('of the attacker')).toBe(false);
		expect(await signsIn()).toBe(false);
		const pressed = await pressLink(world.app, await mailedToken(world, WREN), NEW_DEVICE, true);
		expect(await isIn(sessionOf(pressed!.admitted).token)).toBe(true);
	});

	it('tells nobody that an address has the plan already: the money goes back, and the mail says so', async () => {
		await buyOn('owner');
		const again = await buyOn('somebody');
		expect(again.thanks).toMatchObject({ isIn: false, isGivenBack: false, session: null });
		const known = { ...again.thanks, number: '', landing: '' };
		const fresh = await buyOn('third', { slug: other });
		expect({ ...fresh.thanks, number: '', landing: '' }).toEqual({
			...known,
			planName: 'Reading room',
			totalMinor: 500
		});
		await world.stile.runner.runDue('billing');
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ subject }) => subject)).toContain('You had Workshop already');
		expect((await world.app.db.select().from(orders)).map(({ state }) => state).sort()).toEqual([
			'given-back',
			'paid',
			'paid'
		]);
	});
});

describe('a plan that is given by hand', () => {
	it('is not for whoever has paid on the address: they are out, and a link is mailed', async () => {
		const { thanks } = await buyOn('attacker', { password: 'of the attacker' });
		const { id } = await wren();
		const from = world.app.clock.business();
		await giveGrant(world.app, null, { memberId: id, planId: shop.planId, from, until: null, why: '' });
		expect(await isIn(thanks?.session?.token)).toBe(false);
		expect(await signsIn('of the attacker')).toBe(false);
		expect(await mailedToken(world, WREN)).toBeTruthy();
	});
});

describe('proving the mailbox', () => {
	it('keeps what the device that paid has set', async () => {
		const { thanks } = await buyOn('device', { password: PASSWORD });
		const token = await mailedToken(world, WREN);
		const device = { orderToken: 'device', sessionToken: null };
		expect(await lookAtLink(world.app, token, device)).toMatchObject({ kind: 'good', asks: false });
		await pressLink(world.app, token, device, true);
		expect(await isIn(thanks?.session?.token)).toBe(true);
		expect(await signsIn()).toBe(true);
		expect((await wren()).name).toBe('Wren');
	});

	it('asks elsewhere, and ends the password, the name and the sessions of others', async () => {
		const { thanks } = await buyOn('device', { password: PASSWORD, name: 'Not Wren' });
		const token = await mailedToken(world, WREN);
		expect(await lookAtLink(world.app, token, NEW_DEVICE)).toMatchObject({ kind: 'good', asks: true });
		const pressed = await pressLink(world.app, token, NEW_DEVICE, true);
		expect(await isIn(sessionOf(pressed!.admitted).token)).toBe(true);
		expect(await isIn(thanks?.session?.token)).toBe(false);
		expect(await signsIn()).toBe(false);
		expect(await wren()).toMatchObject({ name: WREN, passwordHash: null });
	});

	it('keeps them where that is said, and asks once only', async () => {
		const { thanks } = await buyOn('device', { password: PASSWORD });
		await pressLink(world.app, await mailedToken(world, WREN), NEW_DEVICE, false);
		expect(await isIn(thanks?.session?.token)).toBe(true);
		expect(await signsIn()).toBe(true);
		await askForLink(world.app, { email: WREN, next: '/', client: 'c' });
		const token = await mailedToken(world, WREN);
		expect(await lookAtLink(world.app, token, NEW_DEVICE)).toMatchObject({ kind: 'good', asks: false });
	});

	it('lets the thank-you page sign nobody in any more', async () => {
		const begun = await order(world, shop.slug, { deviceToken: 'attacker' });
		if (!begun.ok) throw new Error(begun.code);
		await capture(begun, 'attacker');
		await pressLink(world.app, await mailedToken(world, WREN), NEW_DEVICE, true);
		expect((await thank(world.app, begun.orderId, 'attacker', null))?.session).toBeNull();
	});
});

describe('a free account', () => {
	const BRAM = 'bram@mail.example';
	const ask = (email: string) => askToJoin(world.app, { email, next: '/videos/wheel', client: 'c' });
	const press = (token: string) => pressLink(world.app, token, NEW_DEVICE, true);
	const offer = () =>
		agreeing((agreedTo) =>
			saveFence(world.app, null, {
				fenceId: null,
				revision: 1,
				agreedTo,
				wish: {
					...FENCE,
					mode: 'adds',
					selector: { kind: 'items', itemIds: [shop.itemId] },
					crossings: [{ ...holding(shop.planId), audience: { kind: 'signed-in' } }]
				}
			})
		);
	const count = async () => (await world.app.db.select().from(accounts)).length;

	it('is made when its mailed link is pressed, once, and not before', async () => {
		await offer();
		const before = await count();
		expect(await ask(BRAM)).toEqual({ ok: true });
		const token = await mailedToken(world, BRAM);
		expect(await lookAtLink(world.app, token, NEW_DEVICE)).toEqual({
			kind: 'good',
			email: BRAM,
			next: '/videos/wheel',
			asks: false,
			order: null,
			keeps: null
		});
		expect(await count()).toBe(before);
		const pressed = await press(token);
		expect(pressed?.next).toBe('/videos/wheel');
		expect(await isIn(sessionOf(pressed!.admitted).token)).toBe(true);
		const account = await accountByEmail(world.app.db, BRAM);
		expect(account).toMatchObject({ role: 'member', name: BRAM });
		expect(account?.provedAt).not.toBeNull();
		expect((await world.app.rights.decide(account!.id, shop.itemId)).verdict).toBe('open');
		expect(await press(token)).toBeNull();
		expect(await lookAtLink(world.app, token, NEW_DEVICE)).toMatchObject({ kind: 'spent' });
	});

	it('is one, however many links are pressed at once, and an account that there is gets a way in', async () => {
		await offer();
		await ask(BRAM);
		const first = await mailedToken(world, BRAM);
		await ask(BRAM);
		const second = await mailedToken(world, BRAM);
		const before = await count();
		const pressed = await Promise.all([press(first), press(second)]);
		expect(pressed.map((one) => one !== null)).toEqual([true, true]);
		expect(await count()).toBe(before + 1);
		await ask(BRAM);
		const third = await press(await mailedToken(world, BRAM));
		expect(third?.accountId).toBe(pressed[0]?.accountId);
		expect(await count()).toBe(before + 1);
	});

	it('proves an account that somebody has paid for on the address meanwhile, and ends what they set', async () => {
		await offer();
		await ask(WREN);
		const token = await mailedToken(world, WREN);
		const { thanks } = await buyOn('device', { password: PASSWORD });
		await press(token);
		expect(await isIn(thanks?.session?.token)).toBe(false);
		expect(await signsIn()).toBe(false);
	});

	it('is offered to nobody where an account opens nothing, and leaves nothing of who is deleted', async () => {
		await ask(BRAM);
		await expect(mailedToken(world, BRAM)).rejects.toThrow();
		expect(await world.app.db.select().from(joinLinks)).toEqual([]);
		await offer();
		await ask(BRAM);
		const pressed = await press(await mailedToken(world, BRAM));
		await deleteMember(world.app, null, pressed!.accountId);
		expect(await world.app.db.select().from(joinLinks)).toEqual([]);
	});
});

describe('at rest', () => {
	it('no link, password hash or address lies in a queue, an order or a log that is done with', async () => {
		await buyOn('device', { password: PASSWORD });
		await askForLink(world.app, { email: WREN, next: '/', client: 'c' });
		const queued = JSON.stringify(await world.app.db.select().from(jobs));
		expect(queued).not.toContain('/enter/');
		await mailedToken(world, WREN);
		expect(JSON.stringify(await world.app.db.select().from(jobs))).not.toContain(WREN);
		const [placed] = await world.app.db.select().from(orders);
		expect(placed?.typedPasswordHash).toBeNull();
	});

	it('a deleted member leaves no name, address or words, but the name on receipts', async () => {
		await buyOn('device', { password: PASSWORD, name: 'Wren Alder' });
		const { id } = await wren();
		const [agreement] = await world.app.db.select().from(agreements);
		const why = { reason: 'other' as const, words: 'I am moving to Ulverholm' };
		await cancelAgreement(world.app, id, agreement!.id, why);
		await order(world, other, { deviceToken: 'device', name: 'Wren Alder' });
		await askForLink(world.app, { email: WREN, next: '/', client: 'c' });
		await deleteMember(world.app, null, id);
		const [receipt] = await world.app.db.select().from(documents);
		expect(receipt?.content.buyer).toEqual({ name: 'Wren Alder', email: '' });
		const tables = [accounts, orders, agreements, audit, jobs, sessions];
		const left = JSON.stringify(await Promise.all(tables.map((table) => world.app.db.select().from(table))));
		for (const word of [WREN, 'Alder', 'Ulverholm']) expect(left).not.toContain(word);
		expect((await world.app.db.select().from(audit).where(eq(audit.memberId, id))).length).toBeGreaterThan(3);
	});
});
