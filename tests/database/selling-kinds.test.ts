/** Prices of every kind, sold: what is charged and when, what opens and until when, what stands in the books. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { PlanAccess } from '$core/billing/plan-access';
import type { Terms, Then } from '$core/billing/terms';
import { agreementsOf } from '$server/db/queries/agreements';
import { grantsOf } from '$server/db/queries/members';
import { paymentsOf, planById } from '$server/db/queries/sales';
import { ledgerPostings, orderLines, orders, documents } from '$server/db/schema/sales';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveSite } from '$server/usecases/running/save-site';
import { editPlan } from '$server/usecases/plans/save-plan';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { reconcile } from '$server/usecases/sales/reconcile';
import { buy, makeShop, makeWorld, order, passDays, PLAN, refundWhole, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
// Whatever was sold, charged and given back: the books hold.
afterEach(async () => {
	const faults = await ledgerFaults(world.app.pool);
	await world.end();
	expect(faults).toEqual([]);
});

const MONTH = { count: 1, unit: 'month' } as const;
const DAY = 86_400_000;

/** What the plan asks for from now on. */
async function sell(
	then: Partial<Extract<Then, { kind: 'more' }>> | null,
	{ first = 1200, fee = 0, access = { kind: 'while-paid' } as PlanAccess } = {}
): Promise<Terms> {
	const terms: Terms = {
		...{ currency: 'EUR', firstMinor: first, feeMinor: fee },
		then: then
			? { kind: 'more', times: null, amountMinor: 1200, every: MONTH, firstLasts: null, ...then }
			: { kind: 'nothing' }
	};
	const saved = await agreeing((yes) =>
		editPlan(world.app, null, shop.planId, { ...PLAN, terms, access }, yes)
	);
	if (saved.kind !== 'saved') throw new Error(saved.kind);
	return terms;
}

const charged = async (memberId: string) =>
	(await paymentsOf(world.app.db, memberId))
		.map(({ period, amountMinor, state }) => ({ period, amountMinor, state }))
		.sort((a, b) => a.period - b.period)
		.map(({ period, amountMinor, state }) => `${period}: ${amountMinor} ${state}`);
const grant = async (memberId: string) => (await grantsOf(world.app.db, memberId)).at(-1);
const agreement = async (memberId: string) => (await agreementsOf(world.app.db, memberId))[0];
const isOpen = async (memberId: string) => {
	const held = await grant(memberId);
	const now = world.app.clock.business();
	return held !== undefined && held.revokedAt === null && (held.until ?? Infinity) > now;
};

describe('a price that is paid once', () => {
	it('charges nothing more, opens for good and is not bought twice', async () => {
		await sell(null);
		const { memberId } = await buy(world, shop.slug);
		await passDays(world, 300);
		expect(await charged(memberId)).toEqual(['0: 1200 captured']);
		expect(await grant(memberId)).toMatchObject({
			source: 'order',
			until: null,
			renews: false,
			period: null
		});
		expect(await agreement(memberId)).toMatchObject({ state: 'finished', nextAt: null, paidThrough: null });
		expect(await order(world, shop.slug, { memberId, email: '' })).toEqual({ ok: false, code: 'has-plan' });
	});

	it('opens for the length that the plan gave when it was bought, whatever it gives later', async () => {
		await sell(null, { access: { kind: 'length', length: { count: 10, unit: 'day' } } });
		const { memberId } = await buy(world, shop.slug);
		await sell(null);
		const from = world.app.clock.business();
		expect(((await grant(memberId))?.until ?? 0) - from).toBeGreaterThan(9 * DAY);
		await passDays(world, 9);
		expect(await isOpen(memberId)).toBe(true);
		await passDays(world, 2);
		expect(await isOpen(memberId)).toBe(false);
		// And is for sale again.
		expect((await order(world, shop.slug, { memberId, email: '' })).ok).toBe(true);
	});

	it('is shut by a refund, and the books balance', async () => {
		await sell(null, { fee: 500 });
		const { memberId } = await buy(world, shop.slug);
		const [payment] = await paymentsOf(world.app.db, memberId);
		expect(await refundWhole(world.app, null, payment?.id ?? '', '')).toEqual({ ok: true, isDone: true });
		expect(await isOpen(memberId)).toBe(false);
	});

	it('cannot be cancelled, because nothing is charged', async () => {
		await sell(null);
		const { memberId } = await buy(world, shop.slug);
		const id = (await agreement(memberId))?.id ?? '';
		expect(await cancelAgreement(world.app, memberId, id, { reason: 'other', words: '' })).toEqual({
			...{ ok: false, code: 'all-paid' }
		});
	});
});

describe('instalments', () => {
	it('are charged as agreed and no more, and open for good with the last', async () => {
		await sell({ times: 2, amountMinor: 700 }, { first: 1000, access: { kind: 'for-good' } });
		const { memberId } = await buy(world, shop.slug);
		expect(await grant(memberId)).toMatchObject({ source: 'subscription', renews: true });
		await passDays(world, 35);
		expect(await charged(memberId)).toEqual(['0: 1000 captured', '1: 700 captured']);
		expect((await grant(memberId))?.until).not.toBeNull();
		await passDays(world, 300);
		expect(await charged(memberId)).toEqual(['0: 1000 captured', '1: 700 captured', '2: 700 captured']);
		expect(await grant(memberId)).toMatchObject({ until: null, renews: false });
		expect(await agreement(memberId)).toMatchObject({ state: 'finished', nextAt: null });
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ subject }) => subject)).toContain('Everything is paid for Workshop');
	});

	it('are not cancelled by the member', async () => {
		await sell({ times: 2 });
		const { memberId } = await buy(world, shop.slug);
		const id = (await agreement(memberId))?.id ?? '';
		const why = { reason: 'other' as const, words: '' };
		expect(await cancelAgreement(world.app, memberId, id, why)).toEqual({ ok: false, code: 'instalments' });
	});
});

describe('a first stretch and a fee', () => {
	it('are paid at joining, a line each, and what follows is charged when the stretch is over', async () => {
		await sell({ firstLasts: { count: 2, unit: 'week' } }, { first: 100, fee: 500 });
		const { memberId, orderId } = await buy(world, shop.slug);
		const lines = await world.app.db.select().from(orderLines);
		expect(lines.map(({ kind, totalMinor, text }) => [kind, totalMinor, text]).sort()).toEqual([
			['fee', 500, 'Workshop'],
			['plan', 100, 'Workshop']
		]);
		const placed = (await world.app.db.select().from(orders)).find(({ id }) => id === orderId);
		expect(placed?.totalMinor).toBe(600);
		const [receipt] = await world.app.db.select().from(documents);
		const twoWeeks = { from: placed?.paidAt, through: (placed?.paidAt ?? 0) + 14 * 86_400_000 };
		expect(receipt?.content.lines).toEqual([
			{ text: 'Workshop', kind: 'plan', amountMinor: 100, period: twoWeeks },
			{ text: 'Workshop', kind: 'fee', amountMinor: 500 }
		]);
		expect(await agreement(memberId)).toMatchObject({ state: 'first', nextMinor: 1200 });
		await passDays(world, 13);
		expect(await charged(memberId)).toEqual(['0: 600 captured']);
		await passDays(world, 2);
		expect(await charged(memberId)).toEqual(['0: 600 captured', '1: 1200 captured']);
		expect(await agreement(memberId)).toMatchObject({ state: 'running', period: 1, periodUnit: 'month' });
		const renewal = (await world.app.db.select().from(documents)).find(
			({ amountMinor }) => amountMinor === 1200
		);
		expect(renewal?.content.lines).toMatchObject([
			{ text: 'Workshop', kind: 'plan', amountMinor: 1200, period: { from: twoWeeks.through } }
		]);
	});
});

describe('a plan that opens until a date', () => {
	it('charges nothing that falls due after it', async () => {
		const at = world.app.clock.business() + 45 * DAY;
		await sell({}, { access: { kind: 'until', at } });
		const { memberId } = await buy(world, shop.slug);
		await passDays(world, 40);
		expect(await isOpen(memberId)).toBe(true);
		await passDays(world, 60);
		expect(await charged(memberId)).toEqual(['0: 1200 captured', '1: 1200 captured']);
		expect(await grant(memberId)).toMatchObject({ until: at });
		expect(await isOpen(memberId)).toBe(false);
		// And nobody buys what has ended for everybody.
		expect(await order(world, shop.slug, { memberId, email: '' })).toEqual({
			ok: false,
			code: 'not-on-sale'
		});
	});
});

describe('a card that is declined', () => {
	const setCollecting = (retryDays: number[], isOpenMeanwhile: boolean) =>
		agreeing(async (agreedTo) => {
			const site = await world.app.site();
			const wish = { ...site, collecting: { retryDays, graceDays: 0, isOpenMeanwhile } };
			return saveSite(world.app, null, 'money', wish, { agreedTo });
		});
	const decliningRenewal = async () => {
		const { memberId } = await buy(world, shop.slug);
		world.processor.renewalsWork = false;
		await passDays(world, 32);
		return memberId;
	};

	it('is tried again on the days that were set when it fell due, shut meanwhile where that was set, and told so', async () => {
		await setCollecting([10, 20], false);
		const memberId = await decliningRenewal();
		expect(await isOpen(memberId)).toBe(false);
		expect(await agreement(memberId)).toMatchObject({ state: 'owing', attempt: 2, nextMinor: 1200 });
		await world.stile.runner.runDue('mail');
		expect(world.mails.map(({ text }) => text).join()).toContain('is closed until the payment comes in');
		// What has fallen due keeps what was set then.
		await setCollecting([], true);
		await passDays(world, 11);
		expect(await agreement(memberId)).toMatchObject({ state: 'owing', attempt: 3 });
		world.processor.renewalsWork = true;
		await passDays(world, 10);
		expect(await agreement(memberId)).toMatchObject({ state: 'running', period: 1 });
		expect(await isOpen(memberId)).toBe(true);
	});

	it('is never tried again where no day is set', async () => {
		await setCollecting([], true);
		expect(await agreement(await decliningRenewal())).toMatchObject({ state: 'ended', endReason: 'unpaid' });
	});
});

describe('the books', () => {
	const sums = async () => {
		const all = await world.app.db.select().from(ledgerPostings);
		const accounts = [...new Set(all.map(({ account }) => account))].sort();
		return accounts.map((name) => {
			const own = all.filter(({ account }) => account === name);
			return `${name} ${own.reduce((sum, { amountMinor }) => sum + amountMinor, 0)}`;
		});
	};

	it('know what each line earned, and a dispute as a loss until it is won', async () => {
		await sell(null, { first: 1000, fee: 500 });
		const { ref } = await buy(world, shop.slug);
		const sold = (await world.app.db.select().from(ledgerPostings)).filter(
			({ account }) => account === 'sales'
		);
		const lines = await world.app.db.select().from(orderLines);
		for (const line of lines)
			expect(sold.filter(({ lineId }) => lineId === line.id)).toMatchObject([
				{ amountMinor: -line.totalMinor, planId: shop.planId }
			]);
		expect(await sums()).toEqual(['processor 1500', 'sales -1500']);
		for (const [state, expected] of [
			['open', ['disputes 1500', 'processor 0', 'sales -1500']],
			['won', ['disputes 0', 'processor 1500', 'sales -1500']]
		] as const) {
			world.processor.becomes(ref, state);
			await reconcile(world.app);
			expect(await sums()).toEqual(expected);
		}
	});

	it('are found wrong where a posting is missing, an amount is another, or money came in without an entry', async () => {
		const { memberId } = await buy(world, shop.slug);
		const { pool } = world.app;
		const wrong = async (change: string, back: string) => {
			await pool.query(change);
			const faults = await ledgerFaults(pool);
			await pool.query(back);
			return faults.map(({ fault }) => fault);
		};
		const [payment] = await paymentsOf(world.app.db, memberId);
		const of = `where id = '${payment?.id}'`;
		expect(
			await wrong(
				`update payments set refunded_minor = 100 ${of}`,
				`update payments set refunded_minor = 0 ${of}`
			)
		).toEqual(['refunds that are not their payment’s sum']);
		expect(
			await wrong(
				`update payments set state = 'pending' ${of}`,
				`update payments set state = 'captured' ${of}`
			)
		).toContain('entries of money that never came in');
		expect(
			await wrong(`update payments set currency = 'USD' ${of}`, `update payments set currency = 'EUR' ${of}`)
		).toEqual(['another currency than the payment’s']);
		expect(
			await wrong(
				`update ledger_entries set source = concat('x', source)`,
				`update ledger_entries set source = substring(source, 2)`
			)
		).toEqual(['money that came in without an entry', 'entries without a document']);
		expect(
			await wrong(
				`update orders set total_minor = total_minor + 1`,
				`update orders set total_minor = total_minor - 1`
			)
		).toEqual(['orders whose lines are not their total']);
		const back = `insert into refunds (id, payment_id, ref, cause, amount_minor, ends_access, asked_at, done_at)
			values (uuid(), '${payment?.id}', 'r', 'asked', 100, false, now(), now())`;
		expect(await wrong(back, 'delete from refunds')).toEqual([
			'money that went back without an entry',
			'another amount than came in and went back',
			'refunds that are not their payment’s sum'
		]);
		const taken = `insert into disputes (id, payment_id, ref, amount_minor, state, opened_at)
			values (uuid(), '${payment?.id}', 'd', 100, 'open', now())`;
		expect(await wrong(taken, 'delete from disputes')).toEqual([
			'disputes without an entry',
			'another amount than came in and went back'
		]);
	});
});

describe('what was agreed', () => {
	it('stays, for those who have it, whatever the price becomes', async () => {
		await sell({ every: { count: 2, unit: 'week' } }, { first: 300 });
		const { memberId } = await buy(world, shop.slug);
		await sell(null, { first: 99_000 });
		expect((await planById(world.app.db, shop.planId))?.price.terms.firstMinor).toBe(99_000);
		await passDays(world, 15);
		expect(await charged(memberId)).toEqual(['0: 300 captured', '1: 1200 captured']);
	});
});
