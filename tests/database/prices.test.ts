/** Plans with several prices: the same rights for another amount, or in another rhythm. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { NO_TAX } from '$core/billing/tax';
import { renewingTerms } from '$core/billing/terms';
import { ALL_PERMISSIONS } from '$core/staff/permissions';
import { agreementsOf } from '$server/db/queries/agreements';
import { movesOf } from '$server/db/queries/moves';
import { linesOfOrder, orderById, planBySlug, pricesOf } from '$server/db/queries/sales';
import { priceVersions } from '$server/db/schema/sales';
import { NotAllowed } from '$server/people/need';
import { offersAtPlace } from '$server/reads/front/offers';
import { currenciesShown, plansOffered, planToBuy } from '$server/reads/front/shop';
import { lookOf } from '$server/rights/look';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { offerPrice, putPriceFirst, savePrice } from '$server/usecases/plans/save-price';
import { editPlan } from '$server/usecases/plans/save-plan';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { makeShop, makeWorld, monthly, order, PLAN, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => world.end());

const yearly = renewingTerms({ minor: 12_000, currency: 'EUR' }, { count: 1, unit: 'year' });
const BY_YEAR = { name: 'By the year', terms: yearly };
const add = async (wish = BY_YEAR, priceId: string | null = null) => {
	const saved = await savePrice(world.app, null, shop.planId, priceId, wish);
	if (!saved.ok) throw new Error(saved.code);
	return saved.priceId;
};
const plan = async () => {
	const found = await planBySlug(world.app.db, shop.slug);
	if (!found) throw new Error('no plan');
	return found;
};

describe('a plan with several prices', () => {
	it('is bought at the one that was chosen, with the same rights, and says on the order which', async () => {
		const priceId = await add();
		const begun = await order(world, shop.slug, { priceId });
		if (!begun.ok) throw new Error(begun.code);
		world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, begun.orderId, 'device', null);
		const made = await orderById(world.app.db, begun.orderId);
		expect(made?.totalMinor).toBe(12_000);
		expect((await linesOfOrder(world.app.db, begun.orderId)).map(({ text }) => text)).toEqual([
			'Workshop, By the year'
		]);
		const memberId = made?.memberId ?? '';
		expect((await agreementsOf(world.app.db, memberId))[0]).toMatchObject({
			periodUnit: 'year',
			periodCount: 1
		});
		expect((await world.app.rights.decide(memberId, shop.itemId)).verdict).toBe('open');
	});

	it('is bought at the first where none was chosen, and refused at one that is not offered', async () => {
		const priceId = await add();
		const first = await order(world, shop.slug);
		expect(first.ok && world.processor.facts.get(first.payUrl.split('/').at(-1) ?? '')?.amount.minor).toBe(
			1200
		);
		await offerPrice(world.app, null, shop.planId, priceId, false);
		expect(await order(world, shop.slug, { priceId })).toEqual({ ok: false, code: 'unknown-price' });
		expect(await order(world, shop.slug, { priceId: shop.planId })).toEqual({
			ok: false,
			code: 'unknown-price'
		});
	});

	it('has one open order, whichever price was chosen last', async () => {
		const priceId = await add();
		const monthlyOne = await order(world, shop.slug);
		const yearlyOne = await order(world, shop.slug, { priceId });
		if (!monthlyOne.ok || !yearlyOne.ok) throw new Error('not ordered');
		expect((await orderById(world.app.db, monthlyOne.orderId))?.state).toBe('replaced');
		expect((await orderById(world.app.db, yearlyOne.orderId))?.state).toBe('open');
		const again = await order(world, shop.slug, { priceId });
		expect(again.ok && again.orderId).toBe(yearlyOne.orderId);
	});

	it('names in lists the one that stands first, and lets another be put there', async () => {
		const priceId = await add();
		expect((await plan()).price.terms).toEqual(monthly(1200));
		await putPriceFirst(world.app, null, shop.planId, priceId);
		expect((await plan()).price.terms).toEqual(yearly);
		expect((await plan()).prices).toHaveLength(2);
		await putPriceFirst(world.app, null, shop.planId, (await plan()).prices[1]?.priceId ?? '');
		expect((await plan()).price.terms).toEqual(monthly(1200));
	});

	it('makes a version of what is changed, and ends what was being paid at the older one', async () => {
		const priceId = await add();
		const begun = await order(world, shop.slug, { priceId });
		if (!begun.ok) throw new Error(begun.code);
		const before = await world.app.db.select().from(priceVersions);
		await add({ ...BY_YEAR, name: 'Yearly' }, priceId);
		// Its name is no other price.
		expect(await world.app.db.select().from(priceVersions)).toHaveLength(before.length);
		expect((await orderById(world.app.db, begun.orderId))?.state).toBe('open');
		const dearer = { name: 'Yearly', terms: { ...yearly, firstMinor: 13_000 } };
		await add(dearer, priceId);
		expect(await world.app.db.select().from(priceVersions)).toHaveLength(before.length + 1);
		expect((await orderById(world.app.db, begun.orderId))?.state).toBe('expired');
	});

	it('always has one on sale, no two of one name, and at most eight', async () => {
		const { priceId } = (await plan()).price;
		expect(await offerPrice(world.app, null, shop.planId, priceId, false)).toEqual({
			ok: false,
			code: 'last'
		});
		for (let n = 1; n < 8; n++) await add({ ...BY_YEAR, name: `Price ${n}` });
		const save = (name: string) => savePrice(world.app, null, shop.planId, null, { ...BY_YEAR, name });
		expect(await save('Price 3')).toEqual({ ok: false, code: 'same-name' });
		expect(await save('Price 8')).toEqual({ ok: false, code: 'too-many' });
		const all = await pricesOf(world.app.db, shop.planId);
		const off = await Promise.all(
			all.map((one) => offerPrice(world.app, null, shop.planId, one.priceId, false))
		);
		expect(off.filter(({ ok }) => !ok)).toEqual([{ ok: false, code: 'last' }]);
		expect((await plan()).prices).toHaveLength(1);
	});

	it('keeps its other prices where the first is changed with the plan', async () => {
		await add();
		const wish = { ...PLAN, terms: monthly(1500), priceName: 'By the month' };
		await agreeing((yes) => editPlan(world.app, null, shop.planId, wish, yes));
		expect((await plan()).prices.map(({ name, terms }) => [name, terms.firstMinor])).toEqual([
			['By the month', 1500],
			['By the year', 12_000]
		]);
	});

	it('is changed by whoever may change plans, and nothing of another plan through it', async () => {
		const others = new Set([...ALL_PERMISSIONS].filter((one) => one !== 'plans'));
		const clerk = { id: shop.planId, permissions: others };
		await expect(savePrice(world.app, clerk, shop.planId, null, BY_YEAR)).rejects.toThrow(NotAllowed);
		await expect(offerPrice(world.app, clerk, shop.planId, shop.planId, false)).rejects.toThrow(NotAllowed);
		await expect(putPriceFirst(world.app, clerk, shop.planId, shop.planId)).rejects.toThrow(NotAllowed);
		const unknown = { ok: false, code: 'unknown' };
		expect(await savePrice(world.app, null, shop.itemId, null, BY_YEAR)).toEqual(unknown);
		expect(await savePrice(world.app, null, shop.planId, shop.itemId, BY_YEAR)).toEqual(unknown);
		expect(await offerPrice(world.app, null, shop.planId, shop.itemId, true)).toEqual(unknown);
		expect(await putPriceFirst(world.app, null, shop.planId, shop.itemId)).toEqual(unknown);
	});
});

describe('a plan with prices in several currencies', () => {
	const dollars = renewingTerms({ minor: 1300, currency: 'USD' }, { count: 1, unit: 'month' });
	const seenIn = async (currency?: string) => ({
		...(await lookOf(world.app, null, null, null)),
		currency
	});
	const priceIn = async (currency?: string, priceId: string | null = null) => {
		const found = await planToBuy(world.app, await seenIn(currency), shop.slug, { priceId });
		return found?.prices.map(({ terms }) => [terms.firstMinor, terms.currency]);
	};

	it('is shown in the one that was chosen, else in the site’s, and a link to a price is to that one', async () => {
		await add();
		const inDollars = await add({ name: '', terms: dollars });
		const euro = [
			[1200, 'EUR'],
			[12_000, 'EUR']
		];
		expect([await priceIn(), await priceIn('USD'), await priceIn('JPY')]).toEqual([
			euro,
			[[1300, 'USD']],
			euro
		]);
		expect(await priceIn('EUR', inDollars)).toEqual([[1300, 'USD']]);
		const [offer] = await plansOffered(world.app, await seenIn('USD'), {});
		expect(offer).toMatchObject({
			plan: { terms: { currency: 'USD' }, others: [] },
			action: { href: '/checkout/workshop?currency=USD' }
		});
		expect(await currenciesShown(world.app, await seenIn('USD'))).toEqual({
			...{ currencies: ['EUR', 'USD'], shown: 'USD', wished: 'USD' }
		});
		expect((await offersAtPlace(world.app, await seenIn('USD'), shop.itemId))[0]?.plan.terms).toMatchObject({
			currency: 'USD'
		});
	});

	it('is bought and goes on in that currency, and is moved within it', async () => {
		await add();
		const priceId = await add({ name: '', terms: dollars });
		const begun = await order(world, shop.slug, { priceId, seenMinor: 1300 });
		if (!begun.ok) throw new Error(begun.code);
		world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, begun.orderId, 'device', null);
		const made = await orderById(world.app.db, begun.orderId);
		expect([made?.totalMinor, made?.currency]).toEqual([1300, 'USD']);
		const [row] = await agreementsOf(world.app.db, made?.memberId ?? '');
		const at = { now: world.app.clock.business(), zone: 'UTC', tax: NO_TAX };
		const moves = await movesOf(world.app.db, made?.memberId ?? '', row?.id ?? '', at);
		expect(moves?.to.map(({ answer }) => answer)).toEqual([{ kind: 'refused', why: 'same' }]);
	});

	it('needs names only within one', async () => {
		await add({ name: '', terms: dollars });
		const save = (wish: typeof BY_YEAR) => savePrice(world.app, null, shop.planId, null, wish);
		expect(await save({ ...BY_YEAR, name: '' })).toEqual({ ok: false, code: 'needs-name' });
		expect(await save({ name: '', terms: dollars })).toEqual({ ok: false, code: 'needs-name' });
		expect((await save({ name: 'By the year', terms: yearly })).ok).toBe(true);
		expect((await save({ name: 'By the year', terms: dollars })).ok).toBe(true);
		expect(await save({ name: 'By the year', terms: dollars })).toEqual({ ok: false, code: 'same-name' });
	});
});
