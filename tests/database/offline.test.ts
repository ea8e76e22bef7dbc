/** Paying without a card: nothing opens before somebody says that the money came in. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { ALL_PERMISSIONS } from '$core/staff/permissions';
import { agreementsOf } from '$server/db/queries/agreements';
import { orderById, paymentById, paymentsOf } from '$server/db/queries/sales';
import { waitingPayments } from '$server/db/queries/waiting';
import { grants } from '$server/db/schema/access';
import { accounts, sessions } from '$server/db/schema/people';
import { documents, ledgerPostings, offlinePayments, orders, payments } from '$server/db/schema/sales';
import { jobs } from '$server/db/schema/running';
import { NotAllowed } from '$server/people/need';
import { round } from '$server/jobs/housekeeping';
import { accountView, duePage } from '$server/reads/front/account-view';
import { lookOf } from '$server/rights/look';
import { today } from '$server/reads/desk/today';
import { pressLink } from '$server/usecases/accounts/sign-in-link';
import { saveSite, sitePart } from '$server/usecases/running/save-site';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { answerPayment, sayRefundSent } from '$server/usecases/sales/answer-payment';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, mailedToken, makeShop, makeWorld, NEW_DEVICE, order, passDays, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	await offer(['card', 'offline']);
});
afterEach(async () => {
	// Whatever was done, the books hold.
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

async function offer(payBy: ('card' | 'offline')[]): Promise<void> {
	const money = sitePart('money', await world.app.site());
	const wish = { ...money, payBy, offline: { name: 'By transfer', how: 'To account 4711\nat the bank' } };
	await agreeing((agreedTo) => saveSite(world.app, null, 'money', wish, { agreedTo }));
}

const WREN = 'wren@mail.example';
const verdict = async (memberId: string) => (await world.app.rights.decide(memberId, shop.itemId)).verdict;
const begin = async (over: Parameters<typeof order>[2] = {}) => {
	const begun = await order(world, shop.slug, { payBy: 'offline', ...over });
	if (!begun.ok) throw new Error(begun.code);
	return begun;
};
/** Orders, and presses the link in the mail. */
const stoodBy = async (email = WREN, over: Parameters<typeof order>[2] = {}) => {
	const begun = await begin({ email, ...over });
	const pressed = await pressLink(world.app, await mailedToken(world, email), NEW_DEVICE, true);
	if (!pressed) throw new Error('the link does not work');
	return { ...begun, memberId: pressed.accountId };
};
const waiting = () => waitingPayments(world.app.db, 10);
const comesIn = async (paymentId: string) =>
	answerPayment(world.app, null, { paymentId, state: 'captured', why: '' });
const only = <T>(all: T[]): T => {
	if (all.length !== 1 || all[0] === undefined) throw new Error(`${all.length} of one`);
	return all[0];
};
const mailsTo = async (email: string) => {
	await world.stile.runner.runDue('mail');
	return world.mails.filter(({ to }) => to === email);
};

describe('an order that is paid without a card', () => {
	it('makes no member, opens nothing and stands nowhere before its mailbox says yes', async () => {
		const begun = await begin();
		expect(await world.app.db.select().from(accounts)).toEqual([]);
		expect(await waiting()).toEqual([]);
		const returned = await settleReturn(world.app, begun.orderId, 'device', null);
		expect(returned).toMatchObject({ kind: 'waits', waiting: { asks: WREN, amountMinor: 1200 } });
		// Nobody can say that it came in: it is no order yet.
		const [payment] = await world.app.db.select().from(payments);
		expect(await comesIn(payment?.id ?? '')).toEqual({ ok: false, code: 'not-waiting' });
	});

	it('stands on Today once the mailed link was pressed, and opens when somebody says that the money came in', async () => {
		const { memberId, orderId } = await stoodBy();
		const listed = only((await today(world.app, ALL_PERMISSIONS)).waiting.payments);
		expect(listed).toMatchObject({ plan: 'Workshop', isFirst: true, amountMinor: 1200, memberId });
		expect(await verdict(memberId)).toBe('shut');
		expect(
			(
				await accountView(
					world.app,
					await lookOf(world.app, await world.app.rights.standing(memberId), null, null),
					memberId
				)
			).waiting
		).toMatchObject([{ id: orderId, amountMinor: 1200 }]);
		expect(await comesIn(listed.id)).toEqual({ ok: true });
		expect(await verdict(memberId)).toBe('open');
		expect((await orderById(world.app.db, orderId))?.state).toBe('paid');
		expect(await waiting()).toEqual([]);
		expect(only(await world.app.db.select().from(documents)).kind).toBe('receipt');
		const held = (await world.app.db.select().from(ledgerPostings)).filter(
			({ amountMinor }) => amountMinor > 0
		);
		expect(held.map(({ account, amountMinor }) => [account, amountMinor])).toEqual([['cash', 1200]]);
		expect((await mailsTo(WREN)).at(-1)?.subject).toBe('Workshop is open for you');
	});

	it('says in its mail what is to be done, in the publisher’s words, a line each', async () => {
		await begin();
		const mail = only(await mailsTo(WREN));
		expect(mail.text).toContain('To account 4711\nat the bank');
		expect(mail.html).toContain('To account 4711<br>at the bank');
		expect(mail.text).toContain('S-10001');
		expect(mail.text).toContain('12.00 EUR');
	});

	it('is mailed again to whoever orders again before the link was pressed, and stays the same order', async () => {
		const first = await begin();
		const again = await begin();
		expect(again.orderId).toBe(first.orderId);
		expect(await mailsTo(WREN)).toHaveLength(2);
		const pressed = await pressLink(world.app, await mailedToken(world, WREN), NEW_DEVICE, true);
		expect(pressed).not.toBeNull();
		expect(await waiting()).toHaveLength(1);
	});

	it('writes to one address five times an hour and no more', async () => {
		for (let n = 0; n < 5; n++) await begin({ deviceToken: `device-${n}` });
		expect(await order(world, shop.slug, { payBy: 'offline', deviceToken: 'device-5' })).toEqual({
			ok: false,
			code: 'too-many'
		});
		// On a pay page nobody is written to before it is paid.
		expect((await order(world, shop.slug, { deviceToken: 'device-6' })).ok).toBe(true);
	});

	it('is answered once, however many say so at the same moment', async () => {
		await stoodBy();
		const { id } = only(await waiting());
		const answers = await Promise.all([
			comesIn(id),
			comesIn(id),
			answerPayment(world.app, null, { paymentId: id, state: 'declined', why: '' })
		]);
		expect(answers.filter(({ ok }) => ok)).toHaveLength(1);
		await world.stile.runner.runDue('payments');
		const order = only(await world.app.db.select().from(orders));
		const opened = await world.app.db.select().from(grants);
		expect(['paid 1', 'refused 0']).toContain(`${order.state} ${opened.length}`);
	});

	it('that is refused opens nothing, tells why by mail, and may be ordered again', async () => {
		const { memberId, orderId } = await stoodBy();
		const { id } = only(await waiting());
		await answerPayment(world.app, null, { paymentId: id, state: 'declined', why: 'Only half of it came.' });
		expect((await orderById(world.app.db, orderId))?.state).toBe('refused');
		expect(await verdict(memberId)).toBe('shut');
		const mail = (await mailsTo(WREN)).at(-1);
		expect(mail?.subject).toContain('S-10001');
		expect(mail?.text).toContain('Only half of it came.');
		expect((await settleReturn(world.app, orderId, 'device', null))?.kind).toBe('refused');
		const again = await begin({ memberId, email: '' });
		expect(again.orderId).not.toBe(orderId);
		expect(await waiting()).toHaveLength(1);
	});

	it('ends after thirty days, and what a stranger typed and never stood by is forgotten', async () => {
		await stoodBy();
		await begin({ email: 'robin@mail.example', deviceToken: 'other' });
		await passDays(world, 29);
		await round(world.app);
		expect(await waiting()).toHaveLength(1);
		await passDays(world, 2);
		await round(world.app);
		await world.stile.runner.runDue('payments');
		expect(await waiting()).toEqual([]);
		expect((await world.app.db.select().from(orders)).map(({ email }) => email)).toEqual([WREN]);
		expect(only(await world.app.db.select().from(offlinePayments)).state).toBe('expired');
	});

	it('is replaced where its member pays by card after all; a stranger on the same address replaces nothing', async () => {
		const { orderId, memberId } = await stoodBy();
		await order(world, shop.slug, { payBy: 'card', deviceToken: 'stranger' });
		expect((await orderById(world.app.db, orderId))?.state).toBe('waiting');
		await order(world, shop.slug, { payBy: 'card', memberId, email: '' });
		expect((await orderById(world.app.db, orderId))?.state).toBe('replaced');
		expect(await waiting()).toEqual([]);
		await world.stile.runner.runDue('payments');
		expect(only(await world.app.db.select().from(offlinePayments)).state).toBe('expired');
	});

	it('by a member whose mailbox is proved stands on Today at once', async () => {
		const { memberId } = await stoodBy();
		await answerPayment(world.app, null, { paymentId: only(await waiting()).id, state: 'declined', why: '' });
		await begin({ memberId, email: '' });
		expect(await waiting()).toHaveLength(1);
		expect((await mailsTo(WREN)).map(({ subject }) => subject)).toContain('How to pay for Workshop');
	});

	it('costs nobody who held the address before anything that they have', async () => {
		// Somebody bought by card, and nobody has pressed a link yet.
		const { memberId } = await buy(world, shop.slug, WREN);
		await world.app.db.insert(sessions).values({
			...{ tokenHash: 'a'.repeat(64), accountId: memberId, createdAt: 0, expiresAt: 4e12, how: 'order' }
		});
		await begin({ deviceToken: 'stranger' });
		expect(await world.app.db.select().from(sessions)).toHaveLength(1);
		expect(await verdict(memberId)).toBe('open');
	});

	it('goes on where the process ended between saying so and settling it', async () => {
		const { memberId } = await stoodBy();
		const { id } = only(await waiting());
		const { offline } = world.app.processors;
		const broken = { ...offline, fetch: () => Promise.reject(new Error('the process ends here')) };
		world.app.processors = { ...world.app.processors, offline: broken };
		expect(await comesIn(id)).toEqual({ ok: true });
		expect(await verdict(memberId)).toBe('shut');
		world.app.processors = { ...world.app.processors, offline };
		await world.stile.runner.runDue('payments');
		expect(await verdict(memberId)).toBe('open');
	});

	it('is refused by a way that neither the site nor the plan offers', async () => {
		await offer(['card']);
		expect(await order(world, shop.slug, { payBy: 'offline' })).toEqual({ ok: false, code: 'unknown-way' });
	});

	it('is answered by whoever may, and by nobody else', async () => {
		await stoodBy();
		const { id: paymentId } = only(await waiting());
		const clerk = { id: paymentId, permissions: new Set(['sales', 'members', 'refunds'] as const) };
		const said = answerPayment(world.app, clerk, { paymentId, state: 'captured', why: '' });
		await expect(said).rejects.toThrow(NotAllowed);
		expect((await today(world.app, new Set(['sales']))).waiting.payments).toEqual([]);
	});
});

describe('what follows', () => {
	const joined = async () => {
		const { memberId } = await stoodBy();
		await comesIn(only(await waiting()).id);
		return memberId;
	};
	const agreement = async (memberId: string) => only(await agreementsOf(world.app.db, memberId));

	it('is asked for by mail when it is due, stays open for a week, and goes on when it came in', async () => {
		const memberId = await joined();
		await passDays(world, 32);
		const due = only(await waiting());
		expect(due).toMatchObject({ period: 1, amountMinor: 1200, memberId });
		expect((await agreement(memberId)).state).toBe('renewing');
		expect(await verdict(memberId)).toBe('open');
		expect((await mailsTo(WREN)).map(({ subject }) => subject)).toContain('12.00 EUR is due for Workshop');
		expect(await duePage(world.app, memberId, due.id)).toMatchObject({
			number: 'S-10001',
			amountMinor: 1200
		});
		expect(await duePage(world.app, due.id, due.id)).toBeNull();
		await comesIn(due.id);
		expect((await agreement(memberId)).state).toBe('running');
		expect(await waiting()).toEqual([]);
		expect(await paymentsOf(world.app.db, memberId)).toHaveLength(2);
	});

	it('is shut after that week while it is waited for, and opens again when it came in', async () => {
		const memberId = await joined();
		await passDays(world, 45);
		expect(await verdict(memberId)).toBe('shut');
		const due = only(await waiting());
		await comesIn(due.id);
		expect(await verdict(memberId)).toBe('open');
		const { period, state } = await agreement(memberId);
		expect([period, state]).toEqual([1, 'running']);
	});

	it('lapses when somebody says that it did not come, or nobody has said anything for thirty days', async () => {
		const memberId = await joined();
		await passDays(world, 32);
		await answerPayment(world.app, null, { paymentId: only(await waiting()).id, state: 'declined', why: '' });
		expect(await agreement(memberId)).toMatchObject({ state: 'ended', endReason: 'unpaid' });
		expect(await verdict(memberId)).toBe('shut');
		expect((await mailsTo(WREN)).at(-1)?.text).toContain('We have not received the payment');

		const robin = await stoodBy('robin@mail.example', { deviceToken: 'robin' });
		await comesIn(only(await waiting()).id);
		await passDays(world, 63);
		await round(world.app);
		expect(await agreement(robin.memberId)).toMatchObject({ state: 'ended', endReason: 'unpaid' });
		expect(await waiting()).toEqual([]);
	});

	it('stands on Today no longer than somebody owes it: not when it was cancelled, ended or its member deleted', async () => {
		const memberId = await joined();
		await passDays(world, 32);
		const { id } = only(await waiting());
		const mine = await agreement(memberId);
		await cancelAgreement(world.app, memberId, mine.id, { reason: 'other', words: '' });
		await world.stile.runner.runDue('payments');
		expect(await waiting()).toEqual([]);
		expect(await comesIn(id)).toEqual({ ok: false, code: 'not-waiting' });
		const robin = await stoodBy('robin@mail.example', { deviceToken: 'robin' });
		expect(await waiting()).toHaveLength(1);
		await deleteMember(world.app, null, robin.memberId);
		await world.stile.runner.runDue('payments');
		expect(await waiting()).toEqual([]);
		expect((await orderById(world.app.db, robin.orderId))?.state).toBe('expired');
	});

	it('is asked for once, however often the hourly look comes by', async () => {
		await joined();
		await passDays(world, 32);
		for (let n = 0; n < 3; n++) {
			await round(world.app);
			await world.stile.runner.runDue('billing');
		}
		expect(await waiting()).toHaveLength(1);
		const mails = (await mailsTo(WREN)).filter(({ subject }) => subject.includes('is due'));
		expect(mails).toHaveLength(1);
	});
});

describe('money that goes back without a card', () => {
	it('is written down as sent by whoever gives it back, with what it ends', async () => {
		const { memberId } = await stoodBy();
		await comesIn(only(await waiting()).id);
		const payment = only(await world.app.db.select().from(payments));
		const wish = { id: payment.orderId, paymentId: payment.id, amountMinor: 1200, endsAccess: true, why: '' };
		expect(await refundPayment(world.app, null, wish)).toEqual({ ok: true, isDone: true });
		expect(await verdict(memberId)).toBe('shut');
		expect((await world.app.db.select().from(documents)).map(({ kind }) => kind).sort()).toEqual([
			'credit-note',
			'receipt'
		]);
	});

	it('that came in for nothing stands on Today until somebody says that they sent it', async () => {
		const { memberId } = await stoodBy();
		// Paid by card on another device meanwhile.
		await buy(world, shop.slug, WREN);
		await comesIn(only(await waiting()).id);
		await world.stile.runner.runDue('billing');
		const { waiting: byHand } = await today(world.app, ALL_PERMISSIONS);
		const refund = only(byHand.refunds);
		expect(refund).toMatchObject({ amountMinor: 1200, memberId });
		// Nothing is booked of it before.
		expect((await world.app.db.select().from(documents)).some(({ kind }) => kind === 'credit-note')).toBe(
			false
		);
		const said = await Promise.all([
			sayRefundSent(world.app, null, refund.id),
			sayRefundSent(world.app, null, refund.id)
		]);
		expect(said.filter(({ ok }) => ok)).toHaveLength(1);
		expect((await today(world.app, ALL_PERMISSIONS)).waiting.refunds).toEqual([]);
		expect(await verdict(memberId)).toBe('open');
		const failed = await world.app.db.select().from(jobs).where(eq(jobs.state, 'failed'));
		expect(failed).toEqual([]);
	});
});

it('says of a payment that is gone that nobody waits for it', async () => {
	const id = '0198c0de-0000-7000-8000-000000000001';
	expect(await comesIn(id)).toEqual({ ok: false, code: 'not-waiting' });
	expect(await sayRefundSent(world.app, null, id)).toEqual({ ok: false, code: 'not-waiting' });
	expect(await paymentById(world.app.db, id)).toBeNull();
});
