/** What is sold alone, given to every new account, bought elsewhere, and named otherwise on card statements. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { accountByEmail } from '$server/db/queries/members';
import { orderById, planById, planBySlug } from '$server/db/queries/sales';
import { grants } from '$server/db/schema/access';
import { documents, plans } from '$server/db/schema/sales';
import { offersAtPlace } from '$server/reads/front/offers';
import { planPage, plansComing, plansOffered } from '$server/reads/front/shop';
import { lookOf } from '$server/rights/look';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { addMember } from '$server/usecases/accounts/run-members';
import { askToJoin, pressLink } from '$server/usecases/accounts/sign-in-link';
import { createItem, setState } from '$server/usecases/library/edit-item';
import { createPlan, editPlan, planRevision, type PlanWish } from '$server/usecases/plans/save-plan';
import { sellAlone, type AloneWish } from '$server/usecases/plans/sell-alone';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import {
	buy,
	mailedToken,
	makeShop,
	makeVideo,
	makeWorld,
	NEW_DEVICE,
	order,
	PAGE,
	passDays,
	PLAN,
	type World
} from './world';

let world: World;

beforeEach(async () => {
	world = await makeWorld();
});
afterEach(() => world.end());

const DAY = 86_400_000;
const ONCE: AloneWish = {
	terms: { currency: 'EUR', firstMinor: 500, feeMinor: 0, then: { kind: 'nothing' } },
	access: { kind: 'for-good' },
	uses: null
};
const sell = (itemId: string, wish = ONCE) =>
	agreeing((agreedTo) => sellAlone(world.app, null, itemId, wish, agreedTo));
const look = async (memberId: string | null) =>
	lookOf(world.app, memberId === null ? null : await world.app.rights.standing(memberId), null, '192.0.2.1');
const offered = async (itemId: string, memberId: string | null = null) =>
	(await offersAtPlace(world.app, await look(memberId), itemId)).map(({ plan }) => plan.name);
const held = async (email: string) => {
	const account = await accountByEmail(world.app.db, email);
	const rows = await world.app.db
		.select()
		.from(grants)
		.where(eq(grants.memberId, account?.id ?? ''));
	return rows.map(({ planId, from, until, source }) => ({ planId, from, until, source }));
};

describe('selling one thing alone', () => {
	it('offers it where one is turned away from it and on no list of plans, and opens it and nothing else', async () => {
		const { itemId, planId: workshop } = await makeShop(world);
		const other = await makeVideo(world.app, '/videos/other');
		const sold = await sell(itemId);
		if (sold.kind !== 'saved') throw new Error(sold.kind);
		expect(await offered(itemId)).toEqual(['Wheel', 'Workshop']);
		expect((await plansOffered(world.app, await look(null), {})).map(({ plan }) => plan.id)).toEqual([
			workshop
		]);
		const slug = (await planById(world.app.db, sold.planId))?.slug ?? '';
		const { memberId } = await buy(world, slug);
		const policy = await world.app.rights.policy();
		const opens = [itemId, other].map((id) => {
			const resource = policy.resources.get(id);
			return resource && policy.passage(resource).ways.some(({ plans }) => plans?.has(sold.planId));
		});
		expect(opens).toEqual([true, false]);
		expect(await held('wren@mail.example')).toMatchObject([{ planId: sold.planId, until: null }]);
		expect(await offered(other, memberId)).toEqual([]);
	});

	it('opens for as long and as often as it says', async () => {
		const itemId = await makeVideo(world.app, '/videos/wheel');
		const wish: AloneWish = {
			...ONCE,
			access: { kind: 'length', length: { count: 2, unit: 'day' } },
			uses: 3
		};
		const sold = await sell(itemId, wish);
		if (sold.kind !== 'saved') throw new Error(sold.kind);
		const policy = await world.app.rights.policy();
		const [fence] = policy.source.fences;
		expect(fence?.crossings).toMatchObject([
			{ audience: { planIds: [sold.planId] }, limits: { uses: { count: 3, per: 'grant' } } }
		]);
		await buy(world, 'wheel');
		const [own] = await held('wren@mail.example');
		expect((own?.until ?? 0) - (own?.from ?? 0)).toBe(2 * DAY);
	});

	it('shuts what was open to anyone once somebody has said yes to that', async () => {
		const made = await agreeing(() => createItem(world.app, null, PAGE));
		if (made.kind !== 'saved') throw new Error(made.kind);
		const { itemId } = made;
		await agreeing((agreedTo) =>
			setState(world.app, null, itemId, { state: 'published', publishAt: null }, agreedTo)
		);
		const asked = await sellAlone(world.app, null, itemId, ONCE, null);
		expect(asked.kind).toBe('rehearsed');
		expect(await world.app.db.select().from(plans)).toEqual([]);
		expect((await sell(itemId)).kind).toBe('saved');
		expect((await world.app.rights.policy()).resources.get(itemId)?.base).toBe('closed');
	});

	it('sells it once, whoever else does so at the same moment', async () => {
		const itemId = await makeVideo(world.app, '/videos/wheel');
		const all = await Promise.all(Array.from({ length: 4 }, () => sell(itemId)));
		expect(all.map(({ kind }) => kind).sort()).toEqual(['refused', 'refused', 'refused', 'saved']);
		expect(await world.app.db.select().from(plans)).toHaveLength(1);
		expect((await world.app.rights.policy()).source.fences).toHaveLength(1);
		expect(await sell('0190a6d0-0000-7000-8000-000000000000')).toEqual({
			kind: 'refused',
			code: 'unknown-item'
		});
	});
});

describe('what every new account is given', () => {
	const given = (over: Partial<PlanWish> = {}) =>
		createPlan(world.app, null, { ...PLAN, name: 'Samples', givenFrom: 'now', ...over });

	it('comes with it, whether somebody signs up, buys or is added by hand', async () => {
		const { slug } = await makeShop(world);
		const planId = await given();
		await askToJoin(world.app, { email: 'linnea@mail.example', next: '/', client: '127.0.0.1' });
		await pressLink(world.app, await mailedToken(world, 'linnea@mail.example'), NEW_DEVICE, true);
		await buy(world, slug);
		const wish = { email: 'piet@mail.example', name: 'Piet', planId: null, until: null };
		await addMember(world.app, null, wish);
		const own = { planId, until: null, source: 'sign-up' };
		expect(await held('linnea@mail.example')).toMatchObject([own]);
		expect(await held('wren@mail.example')).toMatchObject([own, { source: 'subscription' }]);
		expect(await held('piet@mail.example')).toMatchObject([own]);
	});

	it('comes to nobody who has an account already, nor before its day, and lasts as the plan does', async () => {
		await addMember(world.app, null, { email: 'old@mail.example', name: '', planId: null, until: null });
		const from = world.app.clock.business() + 2 * DAY;
		await given({ givenFrom: from, access: { kind: 'length', length: { count: 1, unit: 'day' } } });
		const add = async (email: string) =>
			addMember(world.app, null, { email, name: '', planId: null, until: null });
		await add('early@mail.example');
		await passDays(world, 3);
		await add('new@mail.example');
		await add('old@mail.example');
		expect([await held('old@mail.example'), await held('early@mail.example')]).toEqual([[], []]);
		const [own] = await held('new@mail.example');
		expect((own?.until ?? 0) - (own?.from ?? 0)).toBe(DAY);
	});

	it('is rehearsed: who signs up would open it, and those who have an account would not', async () => {
		const { planId, itemId } = await makeShop(world);
		const plan = await planById(world.app.db, planId);
		if (!plan) throw new Error('no plan');
		const wish = { ...PLAN, givenFrom: 'now' as const };
		const asked = await editPlan(world.app, null, planId, wish, null, planRevision(plan));
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(asked.rehearsal.result).toMatchObject({
			effects: [],
			outsiders: [{ who: { kind: 'signs-up' }, kind: 'gains-now', placeIds: [itemId] }]
		});
		expect((await planById(world.app.db, planId))?.givenFrom).toBeNull();
		const saved = await editPlan(world.app, null, planId, wish, asked.rehearsal.id, planRevision(plan));
		expect(saved).toEqual({ kind: 'saved' });
		// Saved once more as it is shown, nothing is asked.
		const { givenFrom } = (await planById(world.app.db, planId)) ?? {};
		expect(await editPlan(world.app, null, planId, { ...PLAN, givenFrom: givenFrom ?? null })).toEqual({
			kind: 'saved'
		});
	});
});

describe('a plan that is sold for a time', () => {
	const sells = async (planId: string, from: number | null, until: number | null) => {
		const now = world.app.clock.business();
		const wish = {
			...PLAN,
			sellsFrom: from === null ? null : now + from * DAY,
			sellsUntil: until === null ? null : now + until * DAY
		};
		await agreeing((agreedTo) => editPlan(world.app, null, planId, wish, agreedTo));
	};
	const onSale = async () =>
		(await plansOffered(world.app, await look(null), {})).map(({ plan }) => plan.name);
	const coming = async () => (await plansComing(world.app, await look(null))).map(({ name }) => name);

	it('is announced before it opens, sold by nobody until then, and gone when it closes', async () => {
		const { planId, itemId, slug } = await makeShop(world);
		await sells(planId, 2, 5);
		expect([await onSale(), await coming(), await offered(itemId)]).toEqual([[], ['Workshop'], []]);
		expect(await order(world, slug)).toEqual({ ok: false, code: 'not-on-sale' });
		const page = await planPage(world.app, await look(null), slug, {});
		expect(page).toMatchObject({ isOnSale: false, sold: { kind: 'later' } });
		await passDays(world, 2);
		expect([await onSale(), await coming(), await offered(itemId)]).toEqual([['Workshop'], [], ['Workshop']]);
		const [offer] = await plansOffered(world.app, await look(null), {});
		expect(offer?.plan.closesAt).toBe((await planBySlug(world.app.db, slug))?.sellsUntil);
		await buy(world, slug);
		await passDays(world, 3);
		expect([await onSale(), await coming(), await offered(itemId)]).toEqual([[], [], []]);
		expect(await order(world, slug, { deviceToken: 'late' })).toEqual({ ok: false, code: 'not-on-sale' });
		// Whoever has it keeps it, and it goes on.
		await passDays(world, 40);
		const wren = await accountByEmail(world.app.db, 'wren@mail.example');
		expect((await world.app.rights.decide(wren?.id ?? '', itemId)).verdict).toBe('open');
	});

	it('is paid still by whoever was on the way when it closed, and by nobody once the publisher closes it', async () => {
		const { planId, slug } = await makeShop(world);
		await sells(planId, null, 1 / 24);
		const begun = await order(world, slug);
		if (!begun.ok) throw new Error(begun.code);
		await passDays(world, 2 / 24);
		const pay = begun.payUrl.split('/').at(-1) ?? '';
		world.processor.becomes(pay, 'captured');
		await settleReturn(world.app, begun.orderId, 'device', null);
		expect((await orderById(world.app.db, begun.orderId))?.state).toBe('paid');
		await sells(planId, null, 3);
		const other = await order(world, slug, { email: 'late@mail.example', deviceToken: 'late' });
		if (!other.ok) throw new Error(other.code);
		await sells(planId, 1, 3);
		expect((await orderById(world.app.db, other.orderId))?.state).toBe('expired');
	});
});

describe('a plan that is bought elsewhere', () => {
	it('leads there, names the host, and is ordered here by nobody', async () => {
		const { planId, itemId, slug } = await makeShop(world);
		const buyAt = 'https://shop.example/buy/workshop?from=stile';
		await agreeing((agreedTo) => editPlan(world.app, null, planId, { ...PLAN, buyAt }, agreedTo));
		const [offer] = await offersAtPlace(world.app, await look(null), itemId, '/videos/wheel');
		expect([offer?.action.href, offer?.plan.elsewhere]).toEqual([buyAt, 'shop.example']);
		expect(await order(world, slug)).toEqual({ ok: false, code: 'not-on-sale' });
	});

	it('ends the orders that are open here', async () => {
		const { planId, slug } = await makeShop(world);
		const begun = await order(world, slug);
		if (!begun.ok) throw new Error(begun.code);
		const buyAt = 'https://shop.example/buy';
		await agreeing((agreedTo) => editPlan(world.app, null, planId, { ...PLAN, buyAt }, agreedTo));
		expect((await orderById(world.app.db, begun.orderId))?.state).toBe('expired');
	});
});

it('stands on the pay page, the document and in the mail by the name that the plan has on card statements', async () => {
	const { planId, slug } = await makeShop(world);
	await agreeing((agreedTo) =>
		editPlan(world.app, null, planId, { ...PLAN, statementName: 'FERN WORKSHOP' }, agreedTo)
	);
	expect((await planBySlug(world.app.db, slug))?.statementName).toBe('FERN WORKSHOP');
	const asked: string[] = [];
	const open = world.processor.openSession.bind(world.processor);
	world.processor.openSession = (ask) => {
		asked.push(ask.statementName);
		return open(ask);
	};
	await buy(world, slug);
	await world.stile.runner.runDue('mail');
	const [document] = await world.app.db.select().from(documents);
	expect(asked).toEqual(['FERN WORKSHOP']);
	expect(document?.content.seller.statementName).toBe('FERN WORKSHOP');
	expect(world.mails.some(({ text }) => text.includes('FERN WORKSHOP'))).toBe(true);
});
