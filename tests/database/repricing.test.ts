/** A price that changes for whoever has bought already: what is shown, agreed to, settled with each, and told. */
import { eq, ne } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { renewingTerms } from '$core/billing/terms';
import { agreementsOf } from '$server/db/queries/agreements';
import { earlierPrices } from '$server/db/queries/repricing';
import { paymentsOf, pricesOf } from '$server/db/queries/sales';
import { audit } from '$server/db/schema/running';
import { agreements, priceVersions } from '$server/db/schema/sales';
import { createPlan } from '$server/usecases/plans/save-plan';
import { savePrice } from '$server/usecases/plans/save-price';
import { reprice, repriceAgreement } from '$server/usecases/plans/reprice';
import { stayAsIs } from '$server/usecases/sales/move-plan';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, makeWorld, monthly, passDays, PLAN, type World } from './world';

let world: World;
let planId: string;
let priceId: string;

beforeEach(async () => {
	world = await makeWorld();
	planId = await createPlan(world.app, null, { ...PLAN, name: 'Workshop', terms: monthly(900) });
	priceId = (await pricesOf(world.app.db, planId))[0]?.priceId ?? '';
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const now = (terms = monthly(1000)) => savePrice(world.app, null, planId, priceId, { name: '', terms });
const earlier = async () => (await earlierPrices(world.app.db, planId))[0] ?? null;
const agreedTo = async () => (await earlier())?.seen ?? '';
const paidBy = async (memberId: string) =>
	(await paymentsOf(world.app.db, memberId))
		.filter(({ state }) => state === 'captured')
		.sort((a, b) => a.period - b.period)
		.map(({ amountMinor }) => amountMinor);
const mailsTo = async (email: string) => {
	await world.stile.runner.runDue('mail');
	return world.mails.filter(({ to }) => to === email).map(({ subject }) => subject);
};

describe('a price that was changed', () => {
	it('is for new buyers alone, until the publisher changes it for the others', async () => {
		const { memberId } = await buy(world, 'workshop');
		expect(await earlier()).toBeNull();
		await now();
		expect(await earlier()).toMatchObject({ count: 1, groups: [{ count: 1, moreMinor: 100 }] });
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([900, 900]);
		const late = await buy(world, 'workshop', 'robin@mail.example');
		expect(await paidBy(late.memberId)).toEqual([1000]);
		expect(await earlier()).toMatchObject({ count: 1 });
	});

	it('is charged from the next payment on that is two weeks away, and told of before', async () => {
		const { memberId } = await buy(world, 'workshop');
		await now();
		expect(await reprice(world.app, null, { planId, priceId, seen: await agreedTo() })).toEqual({
			...{ ok: true, count: 1 }
		});
		await world.stile.runner.runDue('billing');
		expect((await agreementsOf(world.app.db, memberId))[0]).toMatchObject({ nextMinor: 1000 });
		expect(
			(await mailsTo('wren@mail.example')).filter((one) => one.includes('costs 10.00 EUR'))
		).toHaveLength(1);
		expect(await earlier()).toBeNull();
		await passDays(world, 70);
		expect(await paidBy(memberId)).toEqual([900, 1000, 1000]);
	});

	it('waits for the payment after next where the next is too near, and tells of it then', async () => {
		const { memberId } = await buy(world, 'workshop');
		await passDays(world, 20);
		await now();
		await reprice(world.app, null, { planId, priceId, seen: await agreedTo() });
		await world.stile.runner.runDue('billing');
		expect((await mailsTo('wren@mail.example')).filter((one) => one.includes('costs'))).toEqual([]);
		await passDays(world, 20);
		expect(await paidBy(memberId)).toEqual([900, 900]);
		expect(
			(await mailsTo('wren@mail.example')).filter((one) => one.includes('costs 10.00 EUR'))
		).toHaveLength(1);
		await passDays(world, 30);
		expect(await paidBy(memberId)).toEqual([900, 900, 1000]);
	});

	it('asks nothing more of whoever cancels when they read of it', async () => {
		const { memberId } = await buy(world, 'workshop');
		await now();
		await reprice(world.app, null, { planId, priceId, seen: await agreedTo() });
		await world.stile.runner.runDue('billing');
		const [row] = await agreementsOf(world.app.db, memberId);
		await cancelAgreement(world.app, memberId, row?.id ?? '', { reason: 'too-expensive', words: '' });
		await passDays(world, 70);
		expect(await paidBy(memberId)).toEqual([900]);
	});

	it('is agreed to as it was shown: whoever has bought or left since is shown first', async () => {
		await buy(world, 'workshop');
		const robin = await buy(world, 'workshop', 'robin@mail.example');
		await now();
		const seen = await agreedTo();
		const [row] = await agreementsOf(world.app.db, robin.memberId);
		await cancelAgreement(world.app, robin.memberId, row?.id ?? '', { reason: 'finished', words: '' });
		const wish = { planId, priceId, seen };
		expect(await reprice(world.app, null, wish)).toEqual({ ok: false, code: 'changed' });
		expect(await earlier()).toMatchObject({ count: 1 });
		// And the other price is another one.
		await now(monthly(1100));
		expect(await reprice(world.app, null, wish)).toEqual({ ok: false, code: 'changed' });
		expect(await reprice(world.app, null, { ...wish, priceId: 'none' })).toEqual({
			ok: false,
			code: 'unknown'
		});
	});

	it('is done once, however often it is pressed and however often the job runs', async () => {
		const { memberId } = await buy(world, 'workshop');
		await now();
		const wish = { planId, priceId, seen: await agreedTo() };
		const done = await Promise.all([1, 2, 3].map(() => reprice(world.app, null, wish)));
		expect(done.filter(({ ok }) => ok).length).toBeGreaterThan(0);
		for (let n = 0; n < 3; n++) await world.stile.runner.runDue('billing');
		expect((await mailsTo('wren@mail.example')).filter((one) => one.includes('costs'))).toHaveLength(1);
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([900, 1000]);
		const noted = await world.app.db.select().from(audit).where(eq(audit.action, 'repriced'));
		expect(noted.length).toBeGreaterThan(0);
	});

	it('is not put back by what was agreed to before it, nor by its members, nor laid on what they moved to', async () => {
		await createPlan(world.app, null, {
			...PLAN,
			name: 'Lodge',
			terms: monthly(700),
			ladder: 'Rungs',
			rung: 2
		});
		const { memberId } = await buy(world, 'workshop');
		await passDays(world, 20);
		await now();
		// Too near: it waits for the payment after next.
		await reprice(world.app, null, { planId, priceId, seen: await agreedTo() });
		await world.stile.runner.runDue('billing');
		await now(monthly(1100));
		await passDays(world, 12);
		await reprice(world.app, null, { planId, priceId, seen: await agreedTo() });
		await world.stile.runner.runDue('billing');
		const [row] = await agreementsOf(world.app.db, memberId);
		expect(row).toMatchObject({ nextMinor: 1100 });
		expect(await stayAsIs(world.app, memberId, row?.id ?? '')).toEqual({ ok: false, code: 'unknown' });
		const versions = await pricesOf(world.app.db, planId);
		const [first] = await world.app.db.select().from(priceVersions).where(eq(priceVersions.version, 2));
		await repriceAgreement(world.app, row?.id ?? '', first?.id ?? '');
		expect((await agreementsOf(world.app.db, memberId))[0]).toMatchObject({ nextMinor: 1100 });
		const lodge = await world.app.db.select().from(priceVersions).where(ne(priceVersions.priceId, priceId));
		await world.app.db
			.update(agreements)
			.set({ priceVersionId: lodge[0]?.id ?? '' })
			.where(eq(agreements.id, row?.id ?? ''));
		await now(monthly(1200));
		const newest = (await pricesOf(world.app.db, planId))[0]?.id ?? '';
		expect(newest).not.toBe(versions[0]?.id);
		await repriceAgreement(world.app, row?.id ?? '', newest);
		expect((await agreementsOf(world.app.db, memberId))[0]).toMatchObject({ nextMinor: 1100 });
	});

	it('is not changed for what is paid once, by instalments, or in another currency', async () => {
		await buy(world, 'workshop');
		await now({ ...monthly(1000), currency: 'USD' });
		expect(await earlier()).toBeNull();
		await now({ currency: 'EUR', firstMinor: 5000, feeMinor: 0, then: { kind: 'nothing' } });
		expect(await earlier()).toBeNull();
		await now(renewingTerms({ minor: 9000, currency: 'EUR' }, { count: 1, unit: 'year' }));
		expect(await earlier()).toMatchObject({ count: 1 });
	});
});
