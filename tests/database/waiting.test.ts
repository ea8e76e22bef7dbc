/** Nothing is lost by waiting: a processor or a mail server that is away for a day, notifications that never came, many at once. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { v7 as uuidv7 } from 'uuid';
import { eq } from 'drizzle-orm';
import { compose, type Stile } from '$server/compose';
import { troubledJobs } from '$server/db/queries/today';
import { paymentsOf } from '$server/db/queries/sales';
import { audit, jobs, LOOKED } from '$server/db/schema/running';
import { notifications, orders, payments, agreements } from '$server/db/schema/sales';
import { round } from '$server/jobs/housekeeping';
import { MAX_BEGINNINGS } from '$server/jobs/kinds';
import { releaseLost, takeDue } from '$server/jobs/queue';
import { editPlan } from '$server/usecases/plans/save-plan';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { askForLink } from '$server/usecases/accounts/sign-in-link';
import { runJobAgain } from '$server/usecases/running/run-job-again';
import { codesOf } from '$server/reads/desk/codes';
import { makeBatch } from '$server/usecases/codes/codes';
import { addMember } from '$server/usecases/accounts/run-members';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { reconcile } from '$server/usecases/sales/reconcile';
import { receiveNotification } from '$server/usecases/sales/receive-notification';
import { transact } from '$server/transact';
import { buy, makeShop, makeWorld, order, passDays, PLAN, monthly, redeem, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => world.end());

const notify = (eventId: string, ref: string, app = world.app) =>
	receiveNotification(app, 'card', {
		method: 'POST',
		path: '/api/payments/notifications',
		header: () => null,
		body: new TextEncoder().encode(`${eventId} ${ref}`)
	});
const verdict = async (memberId: string) => (await world.app.rights.decide(memberId, shop.itemId)).verdict;
const refOf = (begun: { payUrl: string }) => begun.payUrl.split('/').at(-1) ?? '';
const begin = async (device: string, email = 'wren@mail.example') => {
	const begun = await order(world, shop.slug, { deviceToken: device, email });
	if (!begun.ok) throw new Error(begun.code);
	return begun;
};
/** As if so much time had passed for what waits in a lane of the wall clock. */
const hurry = () => world.app.db.update(jobs).set({ runAt: 1 }).where(eq(jobs.state, 'waiting'));

describe('a processor that is away for a day', () => {
	it('is told of later: the notification was answered, and the payment opens what was bought', async () => {
		const begun = await begin('device');
		world.processor.becomes(refOf(begun), 'captured');
		world.processor.isAway = true;
		expect(await notify('e1', refOf(begun))).toEqual({ ok: true, outcome: 'stored' });
		for (let hour = 0; hour < 24; hour++) {
			await hurry();
			await world.stile.runner.runDue('payments');
		}
		const [troubled] = await troubledJobs(world.app.db);
		expect(troubled).toMatchObject({ kind: 'notified', state: 'waiting' });
		expect(troubled?.attempts).toBeGreaterThanOrEqual(24);
		expect(troubled?.problem).toContain('the processor is away');
		world.processor.isAway = false;
		await hurry();
		await world.stile.runner.runDue('payments');
		const [placed] = await world.app.db.select().from(orders);
		expect(placed?.state).toBe('paid');
		expect(await verdict(placed?.memberId ?? '')).toBe('open');
	});

	it('charges a renewal when it is back, once, and nobody was shut out meanwhile', async () => {
		const { memberId } = await buy(world, shop.slug);
		world.processor.isAway = true;
		await passDays(world, 32);
		expect(await verdict(memberId)).toBe('open');
		expect((await world.app.db.select().from(agreements))[0]?.state).toBe('renewing');
		world.processor.isAway = false;
		await passDays(world, 1);
		const paid = (await paymentsOf(world.app.db, memberId)).filter(({ state }) => state === 'captured');
		expect(paid.map(({ period }) => period).sort()).toEqual([0, 1]);
		expect((await world.app.db.select().from(agreements))[0]?.state).toBe('running');
	});
});

describe('a mail server that is away', () => {
	it('gets every mail when it is back within two days, and what is older stands on Today', async () => {
		const sent: string[] = [];
		let isAway = true;
		world.app.mailer = {
			send: async (_from, mail) => {
				if (isAway) throw new Error('421 not now');
				sent.push(mail.subject);
			}
		};
		await buy(world, shop.slug);
		for (let n = 0; n < 20; n++) {
			await hurry();
			await world.stile.runner.runDue('mail');
		}
		isAway = false;
		await hurry();
		await world.stile.runner.runDue('mail');
		expect(sent).toEqual(['Workshop is open for you']);

		isAway = true;
		await buy(world, shop.slug, 'edda@mail.example');
		const old = world.app.clock.wall() - 49 * 3_600_000;
		await world.app.db.update(jobs).set({ createdAt: old }).where(eq(jobs.state, 'waiting'));
		await world.stile.runner.runDue('mail');
		const [troubled] = await troubledJobs(world.app.db);
		expect(troubled).toMatchObject({ kind: 'mail', state: 'failed', problem: '421 not now' });
		isAway = false;
		expect(await runJobAgain(world.app, null, troubled!.id)).toEqual({ ok: true });
		expect(await runJobAgain(world.app, null, troubled!.id)).toEqual({ ok: false, code: 'not-failed' });
		await world.stile.runner.runDue('mail');
		expect(sent).toHaveLength(2);
	});

	it('sends a way in although a thousand other mails wait', async () => {
		const { memberId } = await buy(world, shop.slug);
		await transact(world.app, null, async (work) => {
			for (let n = 0; n < 1000; n++)
				await work.queue('mail', { occasion: 'invitation', memberId, planId: null }, { memberId });
		});
		await askForLink(world.app, { email: 'wren@mail.example', next: '/', client: 'c' });
		await world.stile.runner.runDue('sign-in');
		expect(world.mails.map(({ subject }) => subject)).toEqual(['Sign in to Stile']);
	});
});

describe('the hourly look', () => {
	it('finds captures, refunds and disputes of which no notification came, however many there are', async () => {
		const bought = [];
		for (let n = 0; n < 7; n++) bought.push(await buy(world, shop.slug, `buyer-${n}@mail.example`));
		await reconcile(world.app);
		const late = await begin('late', 'late@mail.example');
		world.processor.becomes(refOf(late), 'captured');
		world.processor.becomes(bought[1]!.ref, 'refunded');
		world.processor.becomes(bought[3]!.ref, 'open');
		const found = await reconcile(world.app);
		expect(found).toEqual({ changed: 3, settled: 0, woken: 0 });
		expect(await verdict(bought[1]!.memberId)).toBe('shut');
		expect(await verdict(bought[3]!.memberId)).toBe('shut');
		expect(await verdict(bought[2]!.memberId)).toBe('open');
		expect(await reconcile(world.app)).toEqual({ changed: 0, settled: 0, woken: 0 });
		const states = await world.app.db.select({ state: orders.state }).from(orders);
		expect(states.map(({ state }) => state)).toEqual(Array.from({ length: 8 }, () => 'paid'));
	});

	it('moves on an agreement whose next step is in no job any more', async () => {
		const { memberId } = await buy(world, shop.slug);
		await world.app.db.delete(jobs);
		await passDays(world, 32);
		expect((await world.app.db.select().from(agreements))[0]?.state).toBe('running');
		expect((await reconcile(world.app)).woken).toBe(1);
		await world.stile.runner.runDue('billing');
		expect((await paymentsOf(world.app.db, memberId)).map(({ period }) => period).sort()).toEqual([0, 1]);
		// The charge itself lost, too.
		await world.app.db.delete(jobs);
		await passDays(world, 32);
		expect((await reconcile(world.app)).woken).toBe(1);
		await world.app.db.delete(jobs);
		expect((await world.app.db.select().from(agreements))[0]?.state).toBe('renewing');
		expect((await reconcile(world.app)).woken).toBe(1);
		await world.stile.runner.runDue('billing');
		expect((await paymentsOf(world.app.db, memberId)).map(({ period }) => period).sort()).toEqual([0, 1, 2]);
	});

	it('does each of its parts although another one fails, and forgets what only grows', async () => {
		const begun = await begin('device');
		await notify('old', refOf(begun));
		await world.stile.runner.runDue('payments');
		await world.app.db.update(notifications).set({ receivedAt: 1 });
		await world.app.db.update(jobs).set({ createdAt: 1 });
		const old = { wallAt: 1, businessAt: 1, subjectKind: 'account', subjectId: uuidv7() };
		await world.app.db.insert(audit).values([
			{ ...old, action: LOOKED },
			{ ...old, action: 'ended-grant' }
		]);
		world.processor.isAway = true;
		await round(world.app);
		const kept = await world.app.db.select().from(audit).where(eq(audit.wallAt, 1));
		expect(kept.map(({ action }) => action)).toEqual(['ended-grant']);
		expect(await world.app.db.select().from(notifications)).toEqual([]);
		expect((await world.app.db.select().from(jobs)).filter(({ state }) => state === 'done')).toEqual([]);
	});
});

describe('a pay page', () => {
	it('ends with the price that it was opened at, and what was typed is kept for the next', async () => {
		const begun = await begin('device');
		const wish = { ...PLAN, terms: monthly(1500) };
		await agreeing((yes) => editPlan(world.app, null, shop.planId, wish, yes));
		await world.stile.runner.runDue('payments');
		expect(world.processor.facts.get(refOf(begun))?.state).toBe('expired');
		expect((await settleReturn(world.app, begun.orderId, 'device', null))?.kind).toBe('ended');
		const next = await begin('device');
		expect(next.orderId).not.toBe(begun.orderId);
		expect(world.processor.facts.get(refOf(next))?.amount.minor).toBe(1500);
	});

	it('that the processor has forgotten is replaced by a new attempt', async () => {
		const begun = await begin('device');
		world.processor.facts.delete(refOf(begun));
		expect((await settleReturn(world.app, begun.orderId, 'device', null))?.kind).toBe('ended');
		const again = await begin('device');
		expect(again.orderId).toBe(begun.orderId);
		expect(again.payUrl).not.toBe(begun.payUrl);
		expect((await world.app.db.select().from(payments)).map(({ attempt }) => attempt).sort()).toEqual([1, 2]);
	});
});

describe('many at once, with nothing in memory', () => {
	let cold: Stile;
	beforeEach(async () => {
		cold = await compose(world.app.settings);
		cold.app.processors = { ...cold.app.processors, card: world.processor };
		cold.app.mailer = world.app.mailer;
	});
	afterEach(async () => cold.stop());

	// Two more than the pool has connections.
	it('buyers who come back from paying are all served', async () => {
		const begun = [];
		for (let n = 0; n < 14; n++) begun.push(await begin(`device-${n}`, `buyer-${n}@mail.example`));
		for (const one of begun) world.processor.becomes(refOf(one), 'captured');
		const states = await Promise.all(
			begun.map((one, n) => settleReturn(cold.app, one.orderId, `device-${n}`, null))
		);
		expect(states.map((one) => one?.kind)).toEqual(Array.from({ length: 14 }, () => 'paid'));
	});

	it('notifications, sign-in links and codes of one kind each finish', async () => {
		const batch = await makeBatch(world.app, null, {
			name: 'Fair',
			code: 'fair26',
			count: 1,
			does: { kind: 'gives' as const, planId: shop.planId, days: 30 },
			startsAt: null,
			endsAt: null,
			usesPerCode: 16
		});
		if (!batch.ok) throw new Error(batch.code);
		const members: string[] = [];
		for (let n = 0; n < 16; n++) {
			const added = await addMember(world.app, null, {
				email: `coded-${n}@mail.example`,
				name: '',
				planId: null,
				until: null
			});
			if (added.ok) members.push(added.memberId);
		}
		const answers = await Promise.all([
			...members.map((memberId, n) => redeem(cold.app, { memberId }, 'FAIR 26', `198.51.100.${n}`)),
			// The same press twice.
			...members.map((memberId, n) => redeem(cold.app, { memberId }, 'fair26', `198.51.100.${n}`)),
			...Array.from({ length: 16 }, (_, n) => notify(`many-${n}`, 'ref-unknown', cold.app)),
			...members.map((_, n) =>
				askForLink(cold.app, { email: `coded-${n}@mail.example`, next: '/', client: `c${n}` })
			)
		]);
		expect(answers.map(({ ok }) => ok)).toEqual(Array.from({ length: 64 }, () => true));
		expect(await codesOf(world.app, batch.batchId)).toEqual([{ code: 'FAIR26', uses: 16 }]);
	});

	it('let one drain of a lane wait, however many ask for one', async () => {
		const { runner } = cold;
		const first = runner.runDue('mail');
		await Promise.resolve();
		const asked = new Set(Array.from({ length: 50 }, () => runner.runDue('mail')));
		expect(asked.size).toBe(1);
		await Promise.all([first, ...asked]);
	});
});

describe('a job that ends its process each time', () => {
	it('is tried no more after some beginnings, and says so', async () => {
		await transact(world.app, null, (work) => work.queue('sign-in-mail', { email: 'x', next: '/' }));
		const { db } = world.app;
		for (let n = 0; n < MAX_BEGINNINGS; n++) {
			const taken = await takeDue(db, 'sign-in', world.app.clock.wall() + 1000, world.app.clock.wall());
			expect(taken?.attempts).toBe(n + 1);
			await db.update(jobs).set({ leaseUntil: 1 });
			await releaseLost(db, world.app.clock.wall());
		}
		expect(await db.select().from(jobs)).toMatchObject([
			{ state: 'failed', problem: expect.stringContaining('the process that ran it ended') }
		]);
	});
});
