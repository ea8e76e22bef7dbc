/** What is offered besides after paying, and taken with one press: charged once, to the card that was just given, or not at all. */
import { eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { EXTRA_FOR_MS, MOST_EXTRAS } from '$core/billing/extra';
import type { Discount } from '$core/billing/discount';
import { agreementsOf } from '$server/db/queries/agreements';
import { accountById, accountByEmail } from '$server/db/queries/members';
import { linesOfOrder, paymentsOf, planById } from '$server/db/queries/sales';
import { sessions } from '$server/db/schema/people';
import { documents, extraAnswers, orders } from '$server/db/schema/sales';
import { extrasPage } from '$server/reads/desk/extras';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { createPlan, editPlan, type PlanWish } from '$server/usecases/plans/save-plan';
import { addExtra, endExtra, putExtraFirst } from '$server/usecases/plans/save-extras';
import { settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { reconcile } from '$server/usecases/sales/reconcile';
import { answerExtra, extrasAfter } from '$server/usecases/sales/take-extra';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import {
	buy,
	makeShop,
	makeWorld,
	monthly,
	order,
	passDays,
	PLAN,
	refundWhole,
	testCard,
	type World
} from './world';

const WREN = 'wren@mail.example';
const TENTH: Discount = { off: { kind: 'percent', percent: 10 }, payments: 1 };
const once = (firstMinor: number) => ({
	...{ currency: 'EUR', firstMinor, feeMinor: 0, then: { kind: 'nothing' as const } }
});

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let templates: string;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	templates = await plan({ name: 'Dial templates', terms: once(2000) });
	await offer(templates, TENTH);
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const plan = (over: Partial<PlanWish>) => createPlan(world.app, null, { ...PLAN, ...over });
async function offer(planId: string, less: Discount | null = null, words = '') {
	const priceId = (await planById(world.app.db, planId))?.price.priceId ?? '';
	return addExtra(world.app, null, shop.planId, { priceId, words, less });
}
const edit = (planId: string, over: Partial<PlanWish>) =>
	agreeing((agreedTo) => editPlan(world.app, null, planId, { ...PLAN, ...over }, agreedTo));
const by = (orderId: string, device: string | null = WREN, memberId: string | null = null) => ({
	...{ orderId, device, memberId }
});
async function seen(orderId: string) {
	const extras = await extrasAfter(world.app, by(orderId));
	return { next: extras?.next?.planName ?? null, taken: extras?.taken.map(({ became }) => became) };
}
async function answer(orderId: string, takes = true, who = by(orderId)) {
	const next = (await extrasAfter(world.app, by(orderId)))?.next;
	return answerExtra(world.app, who, {
		...{ extraId: next?.id ?? '', seenMinor: next?.todayMinor ?? null, takes }
	});
}
const held = async (memberId: string) =>
	(await agreementsOf(world.app.db, memberId)).map(({ planId }) => planId).sort();
const paid = async (memberId: string) =>
	(await paymentsOf(world.app.db, memberId)).map(({ amountMinor, state }) => [amountMinor, state]);

describe('what is offered after paying', () => {
	it('is taken with one press: an order of its own, charged to the same card, with a receipt', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		expect((await extrasAfter(world.app, by(orderId)))?.next).toMatchObject({
			...{ planName: 'Dial templates', todayMinor: 1800, insteadMinor: 2000, next: null, ending: '4242' }
		});
		expect(await answer(orderId)).toEqual({ ok: true, became: 'bought' });
		expect(await held(memberId)).toEqual([shop.planId, templates].sort());
		expect(await paid(memberId)).toEqual([
			[1800, 'captured'],
			[1200, 'captured']
		]);
		const [made] = await world.app.db.select().from(orders).where(eq(orders.extraOf, orderId));
		expect(await linesOfOrder(world.app.db, made?.id ?? '')).toMatchObject([
			{ kind: 'extra', amountMinor: 2000, discountMinor: 200, totalMinor: 1800 }
		]);
		expect(await world.app.db.select().from(documents)).toHaveLength(2);
		expect(await seen(orderId)).toEqual({ next: null, taken: ['bought'] });
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ subject }) => subject).sort()).toEqual([
			'Dial templates is open for you',
			'Workshop is open for you'
		]);
	});

	it('waits for nobody: the mail of what was bought goes out, and the way on is open', async () => {
		const { orderId } = await buy(world, shop.slug);
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ subject }) => subject)).toEqual(['Workshop is open for you']);
		expect(await thank(world.app, orderId, WREN, null)).toMatchObject({ landing: '/videos/wheel' });
	});

	it('leaves whoever paid signed in', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		await thank(world.app, orderId, WREN, null);
		const known = () => world.app.db.select().from(sessions).where(eq(sessions.accountId, memberId));
		const before = await known();
		expect(before).toHaveLength(1);
		await answer(orderId);
		expect(await known()).toEqual(before);
		expect((await accountById(world.app.db, memberId))?.claimedAt).not.toBeNull();
	});

	it('goes on with the card that was given, where it is paid by and by', async () => {
		const evening = await plan({ name: 'Evening', terms: monthly(900) });
		const { memberId, orderId } = await buy(world, shop.slug);
		await answer(orderId);
		await offer(evening);
		expect((await extrasAfter(world.app, by(orderId)))?.next).toMatchObject({
			...{ planName: 'Evening', todayMinor: 900, next: { amountMinor: 900 } }
		});
		await answer(orderId);
		await passDays(world, 35);
		expect((await paid(memberId)).filter(([minor]) => minor === 900)).toHaveLength(2);
	});

	it('comes one after the other, in the publisher’s order, and each is answered once', async () => {
		await offer(await plan({ name: 'Evening', terms: monthly(900) }));
		const { memberId, orderId } = await buy(world, shop.slug);
		const first = (await extrasAfter(world.app, by(orderId)))?.next;
		expect(await answer(orderId, false)).toEqual({ ok: true, became: 'left' });
		expect(await seen(orderId)).toEqual({ next: 'Evening', taken: [] });
		const again = { extraId: first?.id ?? '', seenMinor: first?.todayMinor ?? null, takes: true };
		expect(await answerExtra(world.app, by(orderId), again)).toEqual({ ok: false, code: 'gone' });
		await answer(orderId, false);
		expect(await seen(orderId)).toEqual({ next: null, taken: [] });
		expect(await held(memberId)).toEqual([shop.planId]);
	});

	it('is bought once, however often the button is pressed at the same moment', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		const next = (await extrasAfter(world.app, by(orderId)))?.next;
		const press = () =>
			answerExtra(world.app, by(orderId), {
				...{ extraId: next?.id ?? '', seenMinor: next?.todayMinor ?? null, takes: true }
			});
		const all = await Promise.all(Array.from({ length: 5 }, press));
		expect(all.filter(({ ok }) => ok)).toHaveLength(1);
		expect(await paid(memberId)).toHaveLength(2);
	});

	it('of nothing to pay charges nothing, and keeps the card for what follows', async () => {
		await edit(templates, { name: 'Dial templates', terms: { ...monthly(500), firstMinor: 0 } });
		const { memberId, orderId } = await buy(world, shop.slug);
		expect(await answer(orderId)).toEqual({ ok: true, became: 'bought' });
		expect(await paid(memberId)).toEqual([[1200, 'captured']]);
		await passDays(world, 35);
		expect((await paid(memberId)).filter(([minor]) => minor === 450)).toEqual([[450, 'captured']]);
	});

	it('is charged as it was shown, or not at all', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		const next = (await extrasAfter(world.app, by(orderId)))?.next;
		await edit(templates, { name: 'Dial templates', terms: once(4000) });
		const shown = { extraId: next?.id ?? '', seenMinor: 1800, takes: true };
		expect(await answerExtra(world.app, by(orderId), shown)).toEqual({ ok: false, code: 'changed' });
		expect(await answerExtra(world.app, by(orderId), { ...shown, seenMinor: null })).toMatchObject({
			ok: false
		});
		expect(await paid(memberId)).toHaveLength(1);
		expect(await answer(orderId)).toEqual({ ok: true, became: 'bought' });
		expect(await paid(memberId)).toContainEqual([3600, 'captured']);
	});

	it('says that a card was declined, and leaves the rest as it was', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		world.processor.renewalsWork = false;
		expect(await answer(orderId)).toEqual({ ok: true, became: 'declined' });
		expect(await held(memberId)).toEqual([shop.planId]);
		expect(await seen(orderId)).toEqual({ next: null, taken: ['declined'] });
		// At its own page, with another card.
		const begun = await order(world, 'dial-templates', { memberId, deviceToken: 'other' });
		expect(begun.ok).toBe(true);
	});

	it('is found by the hourly look where the processor broke off, charged once or never', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		const charge = world.processor.charge.bind(world.processor);
		world.processor.charge = async (ask) => {
			await charge(ask);
			throw new Error('the line is dead');
		};
		expect(await answer(orderId)).toEqual({ ok: true, became: 'waits' });
		expect(await seen(orderId)).toEqual({ next: null, taken: ['waits'] });
		world.processor.charge = charge;
		await reconcile(world.app);
		expect(await seen(orderId)).toEqual({ next: null, taken: ['bought'] });
		expect(await held(memberId)).toEqual([shop.planId, templates].sort());

		const other = await buy(world, shop.slug, 'odile@mail.example');
		world.processor.isAway = true;
		const theirs = (await extrasAfter(world.app, by(other.orderId, 'odile@mail.example')))?.next;
		const asked = { extraId: theirs?.id ?? '', seenMinor: 1800, takes: true };
		await answerExtra(world.app, by(other.orderId, 'odile@mail.example'), asked);
		world.processor.isAway = false;
		const wall = world.app.clock.wall;
		world.app.clock.wall = () => wall() + 11 * 60_000;
		await reconcile(world.app);
		world.app.clock.wall = wall;
		const after = await extrasAfter(world.app, by(other.orderId, 'odile@mail.example'));
		expect(after).toMatchObject({ next: null, taken: [{ became: 'declined' }] });
		expect(await paid(other.memberId)).toEqual([[1200, 'captured']]);
	});

	it('that the bank answers later is told when it does', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		world.processor.renewalsWork = 'later';
		expect(await answer(orderId)).toEqual({ ok: true, became: 'waits' });
		const [made] = await world.app.db.select().from(orders).where(eq(orders.extraOf, orderId));
		const ref = world.processor.keys.get(`extra:${made?.id}`) ?? '';
		world.processor.becomes(ref, 'captured');
		await reconcile(world.app);
		expect(await held(memberId)).toEqual([shop.planId, templates].sort());
	});

	it('goes back by itself where it was bought at its own page meanwhile', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		world.processor.renewalsWork = 'later';
		await answer(orderId);
		const begun = await order(world, 'dial-templates', { memberId, deviceToken: 'other' });
		if (!begun.ok) throw new Error(begun.code);
		world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, begun.orderId, 'other', memberId);
		const [made] = await world.app.db.select().from(orders).where(eq(orders.extraOf, orderId));
		world.processor.becomes(world.processor.keys.get(`extra:${made?.id}`) ?? '', 'captured');
		await reconcile(world.app);
		await world.stile.runner.runDue('billing');
		expect((await seen(orderId)).taken).toEqual(['had-already']);
		expect((await held(memberId)).filter((one) => one === templates)).toHaveLength(1);
	});
});

describe('it is offered to nobody', () => {
	it('but who paid, from the device that did or signed in', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		const other = await buy(world, shop.slug, 'odile@mail.example');
		for (const who of [
			by(orderId, null),
			by(orderId, 'odile@mail.example'),
			by(orderId, null, other.memberId)
		]) {
			expect(await extrasAfter(world.app, who)).toBeNull();
			expect(await answer(orderId, true, who)).toEqual({ ok: false, code: 'gone' });
		}
		expect((await extrasAfter(world.app, by(orderId, null, memberId)))?.next).not.toBeNull();
	});

	it('whose address was only typed: what it holds is not told by what is offered', async () => {
		const { memberId } = await buy(world, 'dial-templates');
		const evening = await plan({ name: 'Evening', terms: monthly(900) });
		await offer(evening);
		const begun = await order(world, shop.slug, { deviceToken: 'stranger' });
		if (!begun.ok) throw new Error(begun.code);
		world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, begun.orderId, 'stranger', null);
		expect(await extrasAfter(world.app, by(begun.orderId, 'stranger'))).toEqual({ next: null, taken: [] });
		const theirs = await extrasAfter(world.app, by(begun.orderId, null, memberId));
		expect(theirs?.next?.planName).toBe('Evening');
	});

	it.each<[string, (bought: { memberId: string; orderId: string }) => Promise<unknown>]>([
		[
			'who has it',
			async ({ memberId }) => {
				const begun = await order(world, 'dial-templates', { memberId, deviceToken: 'own' });
				if (!begun.ok) throw new Error(begun.code);
				world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
				await settleReturn(world.app, begun.orderId, 'own', memberId);
			}
		],
		['after the hour', async () => passDays(world, EXTRA_FOR_MS / 86_400_000)],
		[
			'where it is sold no more',
			async () => edit(templates, { name: 'Dial templates', terms: once(2000), isOnSale: false })
		],
		[
			'where it is sold later',
			async () =>
				edit(templates, {
					...{ name: 'Dial templates', terms: once(2000) },
					sellsFrom: world.app.clock.business() + 86_400_000
				})
		],
		[
			'where it would have to be sent somewhere',
			async () => edit(templates, { name: 'Dial templates', terms: once(2000), asksPostal: true })
		],
		[
			'whose money went back',
			async ({ memberId }) => {
				const [payment] = await paymentsOf(world.app.db, memberId);
				await refundWhole(world.app, null, payment?.id ?? '');
			}
		],
		[
			'once the publisher has taken it away',
			async () => {
				const [extra] = (await extrasPage(world.app, shop.planId))?.extras ?? [];
				await endExtra(world.app, null, shop.planId, extra?.id ?? '');
			}
		]
	])('%s', async (_, happens) => {
		const bought = await buy(world, shop.slug);
		const before = (await extrasAfter(world.app, by(bought.orderId)))?.next;
		expect(before).not.toBeNull();
		await happens(bought);
		expect((await extrasAfter(world.app, by(bought.orderId)))?.next ?? null).toBeNull();
		const asked = { extraId: before?.id ?? '', seenMinor: before?.todayMinor ?? null, takes: true };
		expect(await answerExtra(world.app, by(bought.orderId), asked)).toEqual({ ok: false, code: 'gone' });
	});

	it('who took it after something else that was offered, for what was taken offers nothing itself', async () => {
		const { memberId, orderId } = await buy(world, shop.slug);
		await addExtra(world.app, null, templates, {
			...{ priceId: (await planById(world.app.db, await plan({ name: 'Third' })))?.price.priceId ?? '' },
			...{ words: '', less: null }
		});
		await answer(orderId);
		const [made] = await world.app.db.select().from(orders).where(eq(orders.extraOf, orderId));
		expect((await extrasAfter(world.app, by(made?.id ?? '', null, memberId)))?.next).toBeNull();
	});

	it('who keeps a card for nothing yet, unless it is theirs to charge', async () => {
		await edit(shop.planId, { terms: { ...monthly(1200), firstMinor: 0 } });
		const begun = await order(world, shop.slug, { deviceToken: WREN });
		if (!begun.ok) throw new Error(begun.code);
		world.processor.givesCard(begun.payUrl.split('/').at(-1) ?? '', testCard('card-1'));
		await settleReturn(world.app, begun.orderId, WREN, null);
		expect(await answer(begun.orderId)).toEqual({ ok: true, became: 'bought' });
		const wren = await accountByEmail(world.app.db, WREN);
		expect((await paid(wren?.id ?? '')).filter(([minor]) => minor === 1800)).toHaveLength(1);
	});
});

describe('at the Desk', () => {
	const list = async () => (await extrasPage(world.app, shop.planId))?.extras ?? [];

	it('the list says what is offered, in which order, and how often it was taken', async () => {
		await offer(await plan({ name: 'Evening', terms: monthly(900) }), null, 'It goes with it.');
		const { orderId } = await buy(world, shop.slug);
		await answer(orderId);
		await answer(orderId, false);
		expect(await list()).toMatchObject([
			{ planName: 'Dial templates', less: TENTH, asked: 1, taken: 1, isSold: true },
			{ planName: 'Evening', words: 'It goes with it.', asked: 1, taken: 0 }
		]);
		await putExtraFirst(world.app, null, shop.planId, (await list())[1]?.id ?? '');
		expect((await list()).map(({ planName }) => planName)).toEqual(['Evening', 'Dial templates']);
	});

	it.each<[string, () => Promise<unknown>, string]>([
		['itself', async () => offer(shop.planId), 'itself'],
		['what is offered already', async () => offer(templates), 'twice'],
		[
			'a price that there is not',
			async () => addExtra(world.app, null, shop.planId, { priceId: 'x', words: '', less: null }),
			'unknown'
		],
		[
			'less in another currency',
			async () =>
				offer(await plan({ name: 'Third' }), {
					...{ off: { kind: 'amount', minor: 100, currency: 'USD' }, payments: 1 }
				}),
			'other-currency'
		],
		[
			'what is bought elsewhere',
			async () => offer(await plan({ name: 'Third', buyAt: 'https://shop.example/buy' })),
			'elsewhere'
		],
		[
			'more than buyers stand',
			async () => {
				for (let n = 1; n < MOST_EXTRAS; n++) await offer(await plan({ name: `More ${n}` }));
				return offer(await plan({ name: 'Too much' }));
			},
			'too-many'
		]
	])('%s cannot be offered', async (_, wish, code) => {
		expect(await wish()).toEqual({ ok: false, code });
		expect(await world.app.db.select().from(extraAnswers)).toEqual([]);
	});
});
