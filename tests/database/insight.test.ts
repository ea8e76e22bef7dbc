/** Insight on the real tables: what is kept of recurring income as things happen, and what the pages make of it. */
import { eq, sql } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { regularAsked } from '$core/billing/phases';
import { monthlyMinor } from '$core/measure/recurring';
import { renewingTerms, type Terms } from '$core/billing/terms';
import { agreementsOf, courseNow } from '$server/db/queries/agreements';
import { paymentsOf } from '$server/db/queries/sales';
import { agreements, incomeSteps, ledgerEntries, ledgerPostings } from '$server/db/schema/sales';
import {
	askedOf,
	earnedPage,
	earnedRows,
	incomePage,
	movedPage,
	outcomesPage,
	staysPage,
	staysRows
} from '$server/reads/desk/insight';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { createPlan } from '$server/usecases/plans/save-plan';
import { sellAlone } from '$server/usecases/plans/sell-alone';
import { keepMissingIncome } from '$server/usecases/sales/keep-missing-income';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, makeVideo, makeWorld, monthly, passDays, PLAN, refundWhole, type World } from './world';

let world: World;

beforeEach(async () => {
	world = await makeWorld();
	await createPlan(world.app, null, { ...PLAN, name: 'Workshop' });
	await createPlan(world.app, null, {
		...PLAN,
		name: 'Yearly',
		terms: renewingTerms({ minor: 12_000, currency: 'EUR' }, { count: 1, unit: 'year' })
	});
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const asked = (query = '') => askedOf(world.app, new URL(`https://desk.example/desk/insight?${query}`));
const url = (query: string) => new URL(`https://desk.example/desk/insight?${query}`);
const steps = async (memberId: string) =>
	(
		await world.app.db
			.select()
			.from(incomeSteps)
			.where(eq(incomeSteps.memberId, memberId))
			.orderBy(incomeSteps.at, incomeSteps.id)
	).map(({ why, beforeMinor, afterMinor }) => `${why} ${beforeMinor}>${afterMinor}`);
const end = async () => (await incomePage(world.app, await asked())).months.at(-1)!.end;
const agreementOf = async (memberId: string) => (await agreementsOf(world.app.db, memberId))[0]!.id;
const WHY = { reason: 'too-expensive' as const, words: '' };

/** Worked out anew from each agreement as it stands. */
async function byForce() {
	const all = await world.app.db.select().from(agreements);
	let [minor, count] = [0, 0];
	for (const row of all.filter(({ state }) => state === 'running' || state === 'ending')) {
		const { phases, state } = await courseNow(world.app.db, row);
		const asks = regularAsked(phases, state.period) ?? 0;
		const step = { unit: row.periodUnit!, count: row.periodCount! };
		minor += monthlyMinor(asks, step);
		count++;
	}
	return { minor, count };
}

describe('recurring income', () => {
	it('is kept as things happen, and comes to what all agreements come to', async () => {
		const stays = await buy(world, 'workshop', 'stays@mail.example');
		const yearly = await buy(world, 'yearly', 'yearly@mail.example');
		const goes = await buy(world, 'workshop', 'goes@mail.example');
		expect(await end()).toEqual({ minor: 1200 + 1000 + 1200, count: 3 });
		await cancelAgreement(world.app, goes.memberId, await agreementOf(goes.memberId), WHY);
		expect(await end()).toEqual({ minor: 3400, count: 3 });
		await passDays(world, 40);
		expect(await steps(goes.memberId)).toEqual(['new 0>1200', 'lost 1200>0']);
		expect(await steps(stays.memberId)).toEqual(['new 0>1200']);
		expect(await end()).toEqual(await byForce());
		world.processor.renewalsWork = false;
		await passDays(world, 30);
		expect(await steps(stays.memberId)).toEqual(['new 0>1200', 'failed 1200>0']);
		expect(await steps(yearly.memberId)).toEqual(['new 0>1000']);
		expect(await end()).toEqual(await byForce());
		const { months } = await incomePage(world.app, await asked());
		const all = months.reduce(
			(sum, { moved }) => sum + Object.values(moved).reduce((a, b) => a + b.minor, 0),
			0
		);
		expect((months[0]?.start.minor ?? 0) + all).toBe((await end()).minor);
	});

	it('is back when a declined card is made good, and when somebody buys again who had left', async () => {
		const { memberId } = await buy(world, 'workshop', 'wren@mail.example');
		world.processor.renewalsWork = false;
		await passDays(world, 32);
		world.processor.renewalsWork = true;
		await passDays(world, 6);
		expect(await steps(memberId)).toEqual(['new 0>1200', 'failed 1200>0', 'back 0>1200']);
		await cancelAgreement(world.app, memberId, await agreementOf(memberId), WHY);
		await passDays(world, 60);
		await buy(world, 'yearly', 'wren@mail.example');
		expect((await steps(memberId)).slice(3)).toEqual(['lost 1200>0', 'back 0>1000']);
		const { declined } = await outcomesPage(world.app, await asked());
		expect(declined.reduce((sum, { begun }) => sum + begun, 0)).toBe(1);
		expect(declined.find(({ begun }) => begun > 0)).toMatchObject({
			won: 1,
			lost: 0,
			wonMinor: 1200,
			share: 1
		});
	});

	it('ends with a refund that ends access, and says so in the rows of the figure', async () => {
		const { memberId } = await buy(world, 'workshop', 'back@mail.example');
		const [payment] = await paymentsOf(world.app.db, memberId);
		await refundWhole(world.app, null, payment!.id);
		await passDays(world, 1);
		expect(await steps(memberId)).toEqual(['new 0>1200', 'refunded 1200>0']);
		const page = await movedPage(world.app, await asked(), url('why=refunded'));
		expect(page).toMatchObject({ total: 1, why: 'refunded' });
		expect(page.rows[0]).toMatchObject({ memberId, plan: 'Workshop', beforeMinor: 1200, afterMinor: 0 });
		expect(await movedPage(world.app, await asked(), url('why=no-such-thing'))).toMatchObject({
			total: 2,
			why: null
		});
	});

	it('is worked out for agreements from before it was kept, to the same, once', async () => {
		const { memberId } = await buy(world, 'workshop', 'old@mail.example');
		await buy(world, 'yearly', 'older@mail.example');
		await passDays(world, 40);
		const before = await end();
		await world.app.db.delete(incomeSteps);
		await world.app.db.update(agreements).set({ isIncomeKept: sql`false` });
		expect(await end()).toEqual({ minor: 0, count: 0 });
		await Promise.all([keepMissingIncome(world.app), keepMissingIncome(world.app)]);
		expect(await end()).toEqual(before);
		expect(await steps(memberId)).toEqual(['new 0>1200']);
	});

	it('keeps currencies apart, and reads whatever stands in its address', async () => {
		await createPlan(world.app, null, {
			...PLAN,
			name: 'Overseas',
			terms: renewingTerms({ minor: 900, currency: 'USD' }, { count: 1, unit: 'month' })
		});
		await buy(world, 'workshop', 'eur@mail.example');
		await buy(world, 'overseas', 'usd@mail.example');
		expect((await asked()).currencies.toSorted()).toEqual(['EUR', 'USD']);
		const of = async (currency: string) =>
			(await incomePage(world.app, await asked(`currency=${currency}`))).months.at(-1)!.end.minor;
		expect([await of('EUR'), await of('USD')]).toEqual([1200, 900]);
		const odd = await asked('currency=XXX&from=2026-02-31&to=%27;drop&page=-4');
		expect(['EUR', 'USD']).toContain(odd.currency);
		expect((await incomePage(world.app, odd)).months).toHaveLength(12);
	});
});

describe('what earns', () => {
	it('is by plan and by price what the ledger has of it, less what went back', async () => {
		const wren = await buy(world, 'workshop', 'wren@mail.example');
		await buy(world, 'yearly', 'jasper@mail.example');
		await passDays(world, 32);
		const [last] = (await paymentsOf(world.app.db, wren.memberId)).sort((a, b) => b.period - a.period);
		await refundWhole(world.app, null, last!.id);
		await passDays(world, 1);
		const { rows } = await earnedPage(world.app, await asked(), 'plan');
		expect(
			rows.map(({ name, soldMinor, refundMinor, leftMinor }) => [name, soldMinor, refundMinor, leftMinor])
		).toEqual([
			['Yearly', 12_000, 0, 12_000],
			['Workshop', 2400, 1200, 1200]
		]);
		const prices = await earnedPage(world.app, await asked(), 'price');
		expect(prices.rows.map(({ leftMinor }) => leftMinor)).toEqual([12_000, 1200]);
		expect((await earnedPage(world.app, await asked(), 'code')).rows).toEqual([]);
		expect((await earnedPage(world.app, await asked(), 'item')).rows).toEqual([]);
		const [books] = await world.app.db
			.select({ net: sql<string>`-sum(${ledgerPostings.amountMinor})`.mapWith(Number) })
			.from(ledgerPostings)
			.innerJoin(ledgerEntries, eq(ledgerEntries.id, ledgerPostings.entryId))
			.where(sql`${ledgerPostings.account} not in ('processor', 'cash', 'tax')`);
		expect(rows.reduce((sum, { leftMinor }) => sum + leftMinor, 0)).toBe(books?.net);

		const workshop = rows.find(({ name }) => name === 'Workshop')!;
		const made = await earnedRows(world.app, await asked(), url(`by=plan&key=${workshop.key}`));
		expect(made?.rows.map(({ kind, netMinor }) => [kind, netMinor])).toEqual([
			['payment', 1200],
			['payment', 1200],
			['refund', -1200]
		]);
		expect(made?.total).toBe(3);
		expect(await earnedRows(world.app, await asked(), url('by=plan&key=nothing'))).toBeNull();
	});
});

it('says what single items earned that are sold alone, and opens their payments', async () => {
	const itemId = await makeVideo(world.app, '/videos/wheel');
	const once = { currency: 'EUR', firstMinor: 500, feeMinor: 0, then: { kind: 'nothing' as const } };
	const wish = { terms: once, access: { kind: 'for-good' as const }, uses: null };
	const sold = await agreeing((agreedTo) => sellAlone(world.app, null, itemId, wish, agreedTo));
	if (sold.kind !== 'saved') throw new Error(sold.kind);
	await buy(world, 'workshop', 'wren@mail.example');
	await buy(world, 'wheel', 'jasper@mail.example');
	const { rows } = await earnedPage(world.app, await asked(), 'item');
	expect(rows).toMatchObject([{ key: itemId, name: 'Wheel', leftMinor: 500 }]);
	const made = await earnedRows(world.app, await asked(), url(`by=item&key=${itemId}`));
	expect(made?.rows.map(({ netMinor }) => netMinor)).toEqual([500]);
});

describe('who stays', () => {
	it('is by the month of joining, and opens the members that it counts', async () => {
		const stays = await buy(world, 'workshop', 'stays@mail.example');
		const goes = await buy(world, 'workshop', 'goes@mail.example');
		await cancelAgreement(world.app, goes.memberId, await agreementOf(goes.memberId), WHY);
		await passDays(world, 70);
		const { months } = await staysPage(world.app, await asked());
		const of = months.find(({ joined }) => joined > 0)!;
		expect(of).toMatchObject({ joined: 2 });
		expect([of.staying[0], of.staying.at(-1)]).toEqual([2, 1]);
		const after = of.staying.length - 1;
		const rows = await staysRows(world.app, await asked(), url(`month=${of.month}&after=${after}`));
		expect(rows).toMatchObject({ total: 2, stayed: 1 });
		expect(rows?.rows.find(({ stays: is }) => is)?.id).toBe(stays.memberId);
		expect(await staysRows(world.app, await asked(), url('month=1999-01&after=0'))).toBeNull();
		expect(await staysRows(world.app, await asked(), url(`month=${of.month}&after=99`))).toBeNull();
	});
});

describe('first stretches', () => {
	it('are paid for after, have ended, or run', async () => {
		const terms: Terms = {
			...{ currency: 'EUR', firstMinor: 100, feeMinor: 0 },
			then: { ...monthly(1200).then, firstLasts: { count: 2, unit: 'week' } } as Terms['then']
		};
		await createPlan(world.app, null, { ...PLAN, name: 'Taster', terms });
		await buy(world, 'taster', 'pays@mail.example');
		const { memberId } = await buy(world, 'taster', 'ends@mail.example');
		await cancelAgreement(world.app, memberId, await agreementOf(memberId), WHY);
		const sum = async () =>
			(await outcomesPage(world.app, await asked())).stretches.reduce(
				(all, { begun, won, lost, open }) => [all[0]! + begun, all[1]! + won, all[2]! + lost, all[3]! + open],
				[0, 0, 0, 0]
			);
		expect(await sum()).toEqual([2, 0, 0, 2]);
		expect(await end()).toEqual({ minor: 0, count: 0 });
		await passDays(world, 16);
		expect(await sum()).toEqual([2, 1, 1, 0]);
		expect(await end()).toEqual({ minor: 1200, count: 1 });
	});
});
