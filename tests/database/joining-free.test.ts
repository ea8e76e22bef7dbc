/** Joining for nothing, and first stretches that cost nothing. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { OFFLINE_WAITS_DAYS } from '$core/billing/pay-by';
import type { Terms } from '$core/billing/terms';
import { accountByEmail } from '$server/db/queries/members';
import { agreementsOf } from '$server/db/queries/agreements';
import { orderById, paymentsOf } from '$server/db/queries/sales';
import { grants } from '$server/db/schema/access';
import { accounts, joinLinks, sessions } from '$server/db/schema/people';
import { documents, orders, payments } from '$server/db/schema/sales';
import { pressLink } from '$server/usecases/accounts/sign-in-link';
import { createPlan, type PlanWish } from '$server/usecases/plans/save-plan';
import { openFree, settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { reconcile } from '$server/usecases/sales/reconcile';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import {
	buy,
	mailedToken,
	makeShop,
	makeWorld,
	NEW_DEVICE,
	order,
	passDays,
	PLAN,
	testCard,
	type World
} from './world';

let world: World;

beforeEach(async () => {
	world = await makeWorld();
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const FREE: Terms = { currency: 'EUR', firstMinor: 0, feeMinor: 0, then: { kind: 'nothing' } };
/** Two weeks for nothing, then 12.00 a month. */
const STRETCH: Terms = {
	...FREE,
	then: {
		...{ kind: 'more', times: null, amountMinor: 1200 },
		...{ every: { count: 1, unit: 'month' }, firstLasts: { count: 14, unit: 'day' } }
	}
};
const WREN = 'wren@mail.example';
const free = (over: Partial<PlanWish> = {}) =>
	createPlan(world.app, null, {
		...PLAN,
		name: 'Letter',
		terms: FREE,
		access: { kind: 'for-good' },
		...over
	});
const join = async (over: Parameters<typeof order>[2] = {}) => {
	const begun = await order(world, 'letter', over);
	if (!begun.ok) throw new Error(begun.code);
	return begun;
};
const mailsTo = async (email: string) => {
	await world.stile.runner.runDue('mail');
	return world.mails.filter(({ to }) => to === email).map(({ subject }) => subject);
};
/** Presses the link that waits for a yes: others may have been mailed at the same moment. */
const press = async (email: string) => {
	await world.stile.runner.runDue('mail');
	const asked = world.mails.filter(({ to, subject }) => to === email && subject === 'Open Letter').at(-1);
	const token = /\/enter\/([\w-]+)/.exec(asked?.text ?? '')?.[1] ?? '';
	return pressLink(world.app, token, NEW_DEVICE, true);
};

describe('joining for nothing', () => {
	it('lets a new address in at once, on the device that typed it, without a payment or a document', async () => {
		await free();
		const begun = await join();
		expect(begun.payUrl).toBe(`/thanks/${begun.orderId}`);
		const account = await accountByEmail(world.app.db, WREN);
		expect(await world.app.db.select().from(grants)).toMatchObject([
			{ memberId: account?.id, source: 'order' }
		]);
		expect(await world.app.db.select().from(payments)).toEqual([]);
		expect(await world.app.db.select().from(documents)).toEqual([]);
		const opened = await openFree(world.app, begun.orderId, 'device');
		expect(opened?.session).toBeTruthy();
		expect(await openFree(world.app, begun.orderId, 'another')).toBeNull();
		expect(await mailsTo(WREN)).toEqual(['Letter is open for you']);
	});

	it('tells a stranger the same of a known address, and lets nobody in who has not its mail', async () => {
		const shop = await makeShop(world);
		const { memberId } = await buy(world, shop.slug, WREN);
		await free();
		const known = await join({ deviceToken: 'stranger' });
		const fresh = await join({ deviceToken: 'stranger', email: 'robin@mail.example' });
		const shown = async (id: string) => {
			const thanks = await thank(world.app, id, 'stranger', null);
			return { ...thanks, email: null };
		};
		expect(await shown(known.orderId)).toEqual(await shown(fresh.orderId));
		expect(await openFree(world.app, known.orderId, 'stranger')).toBeNull();
		expect((await agreementsOf(world.app.db, memberId)).map(({ planId }) => planId)).toEqual([shop.planId]);
		await press(WREN);
		expect(await agreementsOf(world.app.db, memberId)).toHaveLength(2);
		expect((await orderById(world.app.db, known.orderId))?.state).toBe('paid');
	});

	it('ends nobody’s session or password by typing their address', async () => {
		const shop = await makeShop(world);
		const { memberId } = await buy(world, shop.slug, WREN);
		await world.app.db.insert(sessions).values({
			...{ tokenHash: 'a'.repeat(64), accountId: memberId, createdAt: 0, expiresAt: 4e12 }
		});
		await free();
		await join({ deviceToken: 'stranger', password: 'a password of mine' });
		expect(await world.app.db.select().from(sessions)).toHaveLength(1);
		const [account] = await world.app.db.select().from(accounts);
		expect(account?.passwordHash).toBeNull();
	});

	it('waits for the mailed link where the plan says so, and makes no member before', async () => {
		await free({ isOpenAtOnce: false });
		const begun = await join();
		expect(await world.app.db.select().from(accounts)).toEqual([]);
		expect(await thank(world.app, begun.orderId, 'device', null)).toMatchObject({
			kind: 'free',
			mayOpen: false
		});
		expect((await settleReturn(world.app, begun.orderId, 'device', null))?.kind).toBe('by-mail');
		const token = await mailedToken(world, WREN);
		const pressed = await pressLink(world.app, token, NEW_DEVICE, true);
		expect(pressed?.next).toBe(`/checkout/return/${begun.orderId}`);
		const account = await accountByEmail(world.app.db, WREN);
		expect(account).toMatchObject({ name: 'Wren' });
		expect(await world.app.db.select().from(grants)).toHaveLength(1);
		expect((await settleReturn(world.app, begun.orderId, null, account?.id ?? null))?.kind).toBe('paid');
		// Once: another press opens nothing more.
		expect(await pressLink(world.app, token, NEW_DEVICE, true)).toBeNull();
		expect(await world.app.db.select().from(grants)).toHaveLength(1);
	});

	it('gives a member who is signed in the plan at once, once', async () => {
		const shop = await makeShop(world);
		const { memberId } = await buy(world, shop.slug, WREN);
		await free();
		const begun = await join({ memberId, email: '' });
		expect(await thank(world.app, begun.orderId, null, memberId)).toMatchObject({
			kind: 'free',
			landing: '/videos/wheel'
		});
		expect(await order(world, 'letter', { memberId, email: '' })).toEqual({ ok: false, code: 'has-plan' });
		const many = await Promise.all(
			Array.from({ length: 4 }, () => order(world, 'letter', { memberId, email: '' }))
		);
		expect(many.filter(({ ok }) => ok)).toEqual([]);
		expect(await agreementsOf(world.app.db, memberId)).toHaveLength(2);
	});

	it('lets in one of several devices that type a new address at once, and mails the others', async () => {
		await free();
		const devices = ['a', 'b', 'c', 'd'];
		const begun = await Promise.all(devices.map((deviceToken) => join({ deviceToken })));
		const opened = await Promise.all(
			begun.map(({ orderId }, n) => openFree(world.app, orderId, devices[n] ?? ''))
		);
		expect(opened.filter((one) => one !== null)).toHaveLength(1);
		expect(await world.app.db.select().from(accounts)).toHaveLength(1);
		expect(await world.app.db.select().from(grants)).toHaveLength(1);
		expect((await mailsTo(WREN)).sort()).toEqual(['Letter is open for you', ...Array(3).fill('Open Letter')]);
	});

	it('makes one account of one new address, however often it is pressed at once', async () => {
		await free();
		await Promise.all(Array.from({ length: 4 }, () => order(world, 'letter')));
		expect(await world.app.db.select().from(accounts)).toHaveLength(1);
		expect(await world.app.db.select().from(grants)).toHaveLength(1);
	});
});

describe('a first stretch that costs nothing', () => {
	const keepsCard = async () => {
		await free({ terms: STRETCH, access: { kind: 'while-paid' } });
		const begun = await join();
		const page = begun.payUrl.split('/').at(-1) ?? '';
		return { ...begun, page };
	};
	const verdictOf = async () => (await world.app.db.select().from(grants)).length;

	it('begins once a card is kept, asks for nothing, and is charged when it is over', async () => {
		const { orderId, page } = await keepsCard();
		expect(await settleReturn(world.app, orderId, 'device', null)).toMatchObject({ kind: 'pending' });
		expect(await verdictOf()).toBe(0);
		world.processor.givesCard(page, testCard('card-new'));
		expect(await settleReturn(world.app, orderId, 'device', null)).toEqual({ kind: 'paid' });
		const account = await accountByEmail(world.app.db, WREN);
		const [agreement] = await agreementsOf(world.app.db, account?.id ?? '');
		expect(agreement).toMatchObject({ state: 'first', cardRef: 'card-new', nextMinor: 1200 });
		expect(await paymentsOf(world.app.db, account?.id ?? '')).toEqual([]);
		expect(await world.app.db.select().from(documents)).toEqual([]);
		expect(await thank(world.app, orderId, 'device', null)).toMatchObject({
			kind: 'paid',
			isByCard: false,
			isIn: true
		});
		await passDays(world, 15);
		expect(await paymentsOf(world.app.db, account?.id ?? '')).toMatchObject([
			{ amountMinor: 1200, state: 'captured' }
		]);
		expect((await agreementsOf(world.app.db, account?.id ?? ''))[0]?.state).toBe('running');
	});

	it('is found by the hourly look where nobody came back and nothing told', async () => {
		const { page } = await keepsCard();
		world.processor.givesCard(page, testCard('card-new'));
		await Promise.all([reconcile(world.app), reconcile(world.app)]);
		expect(await verdictOf()).toBe(1);
	});

	it('ends with its page where nobody gave a card', async () => {
		const { orderId, page } = await keepsCard();
		await world.processor.endSession(page);
		expect(await settleReturn(world.app, orderId, 'device', null)).toMatchObject({ kind: 'ended' });
		expect(await verdictOf()).toBe(0);
		const again = await join();
		expect(again.payUrl).not.toBe(`https://till.example/card/${page}`);
		expect((await world.app.db.select().from(orders)).length).toBe(1);
	});
});

describe('of a ladder on which another rung is held', () => {
	it('changes nothing, and the mail says so and where one moves', async () => {
		await createPlan(world.app, null, { ...PLAN, ladder: 'Bench', rung: 2 });
		await free({ ladder: 'Bench', rung: 1 });
		const { memberId } = await buy(world, 'workshop');
		// Its mail has a link, too, and those that wait go out side by side.
		await world.stile.runner.runDue('mail');
		await join({ deviceToken: 'other' });
		const token = await mailedToken(world, WREN);
		expect(await pressLink(world.app, token, NEW_DEVICE, true)).not.toBeNull();
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ subject }) => subject)).toContain('You have Workshop already');
		expect(await agreementsOf(world.app.db, memberId)).toHaveLength(1);
		expect((await world.app.db.select().from(orders)).map(({ state }) => state).sort()).toEqual([
			'given-back',
			'paid'
		]);
	});

	it('is stood by as long as the order waits, and not only for as long as other links are good', async () => {
		await free();
		await buy(world, (await makeShop(world)).slug);
		await join({ deviceToken: 'other' });
		const token = await mailedToken(world, WREN);
		const [link] = await world.app.db.select().from(joinLinks);
		expect((link?.expiresAt ?? 0) - (link?.createdAt ?? 0)).toBe(OFFLINE_WAITS_DAYS * 86_400_000);
		expect(token).not.toBe('');
	});
});
