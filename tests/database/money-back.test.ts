/** Money that goes back: refunds of any part, several and at once, at the processor or refused by it; disputes decided. */
import { v7 as uuidv7 } from 'uuid';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { standingOf } from '$core/billing/payment';
import { documentByNumber, paymentById, paymentsOf, refundsOf } from '$server/db/queries/sales';
import { audit } from '$server/db/schema/running';
import { agreements, documents, ledgerPostings } from '$server/db/schema/sales';
import { documentPage } from '$server/reads/front/documents';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { editPlan } from '$server/usecases/plans/save-plan';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { reconcile } from '$server/usecases/sales/reconcile';
import { settlePayment } from '$server/usecases/sales/settle-payment';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, makeShop, makeWorld, monthly, passDays, PLAN, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let memberId: string;
let ref: string;
let paymentId: string;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	({ memberId, ref } = await buy(world, shop.slug));
	paymentId = (await paymentsOf(world.app.db, memberId))[0]?.id ?? '';
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const refund = (amountMinor: number, endsAccess = false, id = uuidv7(), of = paymentId) =>
	refundPayment(world.app, null, { id, paymentId: of, amountMinor, endsAccess, why: 'a late parcel' });
const isOpen = async () =>
	(await world.app.rights.decide(memberId, shop.itemId, world.app.clock.business())).verdict === 'open';
const payment = async () => {
	const found = await paymentById(world.app.db, paymentId);
	if (!found) throw new Error('The payment is gone');
	return found;
};
const state = async () => (await world.app.db.select().from(agreements))[0]?.state;
const mails = async () => {
	await world.stile.runner.runDue('mail');
	return world.mails.map(({ subject, text }) => `${subject}: ${text}`);
};

describe('a refund of a part', () => {
	it('leaves access as it is where that was chosen, and renews as if nothing had been', async () => {
		expect(await refund(500)).toEqual({ ok: true, isDone: true });
		expect(standingOf(await payment())).toBe('part-refunded');
		expect(await isOpen()).toBe(true);
		const told = (await mails()).find((mail) => mail.includes('We refunded 5.00 EUR for Workshop'));
		expect(told).toContain('stays open as it was');
		await passDays(world, 32);
		expect((await paymentsOf(world.app.db, memberId)).map(({ period }) => period).sort()).toEqual([0, 1]);
		// Nobody left, so nobody of the staff is told so.
		const actions = (await world.app.db.select().from(audit)).map(({ action }) => action);
		expect(actions).toContain('payment-credited');
		expect(actions).not.toContain('payment-refunded');
	});

	it('ends access where that was chosen', async () => {
		expect(await refund(500, true)).toEqual({ ok: true, isDone: true });
		expect(await isOpen()).toBe(false);
		expect(await state()).toBe('ended');
		expect((await mails()).find((mail) => mail.includes('We refunded'))).toContain('is closed now');
	});

	it('may be followed by others, until nothing is left', async () => {
		expect(await refund(500)).toMatchObject({ ok: true });
		expect(await refund(700, true)).toMatchObject({ ok: true });
		expect(await isOpen()).toBe(false);
		expect(standingOf(await payment())).toBe('refunded');
		expect(await refund(1)).toEqual({ ok: false, code: 'nothing-left' });
	});

	it('is never more than is left', async () => {
		await refund(500);
		expect(await refund(701)).toEqual({ ok: false, code: 'too-much', leftMinor: 700, currency: 'EUR' });
		expect((await payment()).refundedMinor).toBe(500);
	});

	it('takes of each line what is left of it, to the minor unit', async () => {
		const terms = { ...monthly(1000), feeMinor: 333 };
		await agreeing((yes) => editPlan(world.app, null, shop.planId, { ...PLAN, terms }, yes));
		const other = await buy(world, shop.slug, 'edda@mail.example');
		const [paid] = await paymentsOf(world.app.db, other.memberId);
		for (const amount of [100, 1, 899, 333])
			expect(await refund(amount, false, uuidv7(), paid?.id)).toMatchObject({ ok: true });
		const lines = new Map<string | null, number>();
		for (const { lineId, amountMinor, account } of await world.app.db.select().from(ledgerPostings))
			if (account !== 'processor') lines.set(lineId, (lines.get(lineId) ?? 0) + amountMinor);
		expect([...lines.values()].sort((a, b) => a - b)).toEqual([-1200, 0, 0]);
	});
});

describe('a refund that is asked for', () => {
	it('twice under one name is one', async () => {
		const id = uuidv7();
		const both = await Promise.all([refund(500, false, id), refund(500, false, id)]);
		expect(both.map(({ ok }) => ok)).toEqual([true, true]);
		expect((await payment()).refundedMinor).toBe(500);
		expect(world.processor.facts.get(ref)?.refunds).toHaveLength(1);
	});

	it('by five at once goes no further than what came in', async () => {
		const all = await Promise.all(Array.from({ length: 5 }, () => refund(500)));
		expect(all.filter(({ ok }) => ok)).toHaveLength(2);
		expect(world.processor.facts.get(ref)?.refunds).toHaveLength(2);
		expect((await payment()).refundedMinor).toBe(1000);
	});

	it('while the processor is away is done when it is back, and counts meanwhile', async () => {
		world.processor.isAway = true;
		expect(await refund(800)).toEqual({ ok: true, isDone: false });
		expect(await refund(500)).toMatchObject({ ok: false, code: 'too-much', leftMinor: 400 });
		expect((await refundsOf(world.app.db, paymentId))[0]?.doneAt).toBeNull();
		world.processor.isAway = false;
		await passDays(world, 1);
		expect((await refundsOf(world.app.db, paymentId))[0]?.doneAt).not.toBeNull();
		expect(world.processor.facts.get(ref)?.refunds).toMatchObject([{ amountMinor: 800 }]);
	});

	it('of what the processor has no more is taken back, and said to be refused', async () => {
		// Somebody has refunded at the processor, and nobody has told yet.
		world.processor.gives(ref, 1000);
		expect(await refund(500)).toEqual({ ok: false, code: 'refused' });
		expect(await payment()).toMatchObject({ refundedMinor: 0 });
		await reconcile(world.app);
		expect(await payment()).toMatchObject({ refundedMinor: 1000 });
		expect(await refund(200)).toMatchObject({ ok: true });
	});

	it('and was refused may be asked for under the same name, and is not lost where the processor is away then', async () => {
		const id = uuidv7();
		world.processor.gives(ref, 1000);
		expect(await refund(500, false, id)).toEqual({ ok: false, code: 'refused' });
		await reconcile(world.app);
		world.processor.isAway = true;
		expect(await refund(200, false, id)).toEqual({ ok: true, isDone: false });
		world.processor.isAway = false;
		await passDays(world, 1);
		expect(standingOf(await payment())).toBe('refunded');
		expect((await refundsOf(world.app.db, paymentId)).every(({ doneAt }) => doneAt !== null)).toBe(true);
	});
});

describe('a refund at the processor', () => {
	it('of a part leaves access, of all ends it', async () => {
		world.processor.gives(ref, 500);
		await reconcile(world.app);
		expect(await isOpen()).toBe(true);
		expect(await refundsOf(world.app.db, paymentId)).toMatchObject([{ cause: 'outside', endsAccess: false }]);
		world.processor.gives(ref, 700);
		await reconcile(world.app);
		expect(await isOpen()).toBe(false);
		expect((await mails()).filter((mail) => mail.includes('We refunded'))).toHaveLength(2);
	});

	it('of more than came in is not believed, and keeps no other from being heard of', async () => {
		const other = await buy(world, shop.slug, 'edda@mail.example');
		world.processor.gives(ref, 1201);
		world.processor.gives(other.ref, 300);
		await reconcile(world.app);
		expect(await payment()).toMatchObject({ refundedMinor: 0 });
		const [heard] = await paymentsOf(world.app.db, other.memberId);
		expect(heard).toMatchObject({ refundedMinor: 300 });
		await expect(settlePayment(world.app, await payment())).rejects.toThrow(/More of payment/);
	});
});

describe('the document of a refund', () => {
	it('is a credit note in a series of its own, names what it corrects, and is named there', async () => {
		await refund(500);
		await refund(200);
		const all = await world.app.db.select().from(documents);
		const numbers = (kind: string) => all.filter((one) => one.kind === kind).map(({ number }) => number);
		const [receipt = ''] = numbers('receipt');
		const notes = numbers('credit-note').sort();
		expect(notes.map((number) => number.replace(/\d{4}/, 'Y'))).toEqual(['C-Y-00001', 'C-Y-00002']);
		const member = { id: memberId, permissions: new Set<'sales'>() };
		const page = await documentPage(world.app, receipt, member);
		expect(page).toMatchObject({ corrects: null, corrections: notes });
		const other = { id: 'somebody else', permissions: new Set<'sales'>() };
		expect(await documentPage(world.app, receipt, other)).toBeNull();
		const bookkeeper = { ...other, permissions: new Set<'sales'>(['sales']) };
		expect(await documentPage(world.app, receipt, bookkeeper)).toEqual(page);
		expect(await documentByNumber(world.app.db, notes[0] ?? '')).toMatchObject({
			corrects: receipt,
			amountMinor: 500,
			content: { lines: [{ text: 'Workshop', amountMinor: 500 }] }
		});
		expect((await paymentsOf(world.app.db, memberId))[0]?.documents.map(({ number }) => number)).toEqual([
			receipt,
			...notes
		]);
	});

	it('keeps the name and loses the address with the account', async () => {
		await refund(500);
		expect(await deleteMember(world.app, null, memberId)).toEqual({ ok: true });
		const buyers = (await world.app.db.select().from(documents)).map(({ content }) => content.buyer.email);
		expect(buyers).toEqual(['', '']);
	});
});

describe('a dispute', () => {
	it('that is lost leaves access shut and the money gone', async () => {
		world.processor.becomes(ref, 'open');
		await reconcile(world.app);
		expect(await refund(100)).toEqual({ ok: false, code: 'nothing-left' });
		world.processor.becomes(ref, 'lost');
		await reconcile(world.app);
		expect(standingOf(await payment())).toBe('lost');
		expect(await isOpen()).toBe(false);
		expect(await refund(100)).toEqual({ ok: false, code: 'nothing-left' });
	});

	it('of what a refund left is over that alone, and after it is won another may come', async () => {
		await refund(300);
		world.processor.becomes(ref, 'open');
		await reconcile(world.app);
		expect(await isOpen()).toBe(false);
		world.processor.becomes(ref, 'won');
		await reconcile(world.app);
		expect(await isOpen()).toBe(true);
		expect(standingOf(await payment())).toBe('part-refunded');
		world.processor.becomes(ref, 'open');
		await reconcile(world.app);
		expect(standingOf(await payment())).toBe('disputed');
		expect(await isOpen()).toBe(false);
	});
});
