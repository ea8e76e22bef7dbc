/** What is done to many payments or subscriptions at once: said in numbers first, and the yes is to exactly that. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { NO_PERMISSIONS } from '$core/staff/permissions';
import { agreementsOf } from '$server/db/queries/agreements';
import { paymentsOf } from '$server/db/queries/sales';
import { grants } from '$server/db/schema/access';
import { payments, refunds } from '$server/db/schema/sales';
import { NotAllowed } from '$server/people/need';
import { agreementIds, paymentIds } from '$server/reads/desk/sales-lists';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveSite, sitePart } from '$server/usecases/running/save-site';
import { pressLink } from '$server/usecases/accounts/sign-in-link';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import { answerMany, MOST_SALES, refundMany, steerMany } from '$server/usecases/sales/run-many-sales';
import { cancelAgreement, resumeAgreement } from '$server/usecases/sales/steer-agreement';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, mailedToken, makeShop, makeWorld, NEW_DEVICE, order, passDays, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => {
	// Whatever was done, the books hold.
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const NAMES = ['wren', 'bramble', 'clover'];
const address = (name: string) => `${name}@mail.example`;
const url = (query = '') => new URL(`http://127.0.0.1/?${query}`);
const verdict = async (memberId: string) => (await world.app.rights.decide(memberId, shop.itemId)).verdict;
const subjectsTo = async (name: string) => {
	await world.stile.runner.runDue('mail');
	return world.mails.filter(({ to }) => to === address(name)).map(({ subject }) => subject);
};
async function bought() {
	const found = [];
	for (const name of NAMES) {
		const { memberId } = await buy(world, shop.slug, address(name));
		const [payment] = await paymentsOf(world.app.db, memberId);
		const [agreement] = await agreementsOf(world.app.db, memberId);
		if (!payment || !agreement) throw new Error('nothing was bought');
		found.push({ memberId, paymentId: payment.id, agreementId: agreement.id });
	}
	return found;
}

describe('refunding many', () => {
	const wish = { endsAccess: true, why: 'The course is off' };

	it('says in numbers what would go back, and does nothing before somebody says yes to it', async () => {
		const all = await bought();
		const paymentIds = all.map(({ paymentId }) => paymentId);
		const [first = ''] = paymentIds;
		const part = { id: first, paymentId: first, amountMinor: 200, endsAccess: false, why: '' };
		await refundPayment(world.app, null, part);
		const foretold = await refundMany(world.app, null, { ...wish, paymentIds }, null);
		expect(foretold).toMatchObject({
			...{ kind: 'foretold', count: 3, byHand: 0, left: [] },
			sums: [{ currency: 'EUR', minor: 1000 + 1200 + 1200 }]
		});
		expect(await world.app.db.select().from(refunds)).toHaveLength(1);
	});

	it('gives back what is left of each, ends what it paid for, and tells each member', async () => {
		const all = await bought();
		const ids = all.map(({ paymentId }) => paymentId);
		const done = await yes((agreedTo) => refundMany(world.app, null, { ...wish, paymentIds: ids }, agreedTo));
		expect(done).toMatchObject({ kind: 'done', count: 3, missed: 0 });
		await world.stile.runner.runDue('billing');
		const back = await world.app.db.select().from(payments);
		expect(back.map(({ refundedMinor }) => refundedMinor)).toEqual([1200, 1200, 1200]);
		for (const { memberId } of all) expect(await verdict(memberId)).not.toBe('open');
		for (const name of NAMES)
			expect((await subjectsTo(name)).filter((one) => /refund|back/i.test(one))).toHaveLength(1);
	});

	it('leaves to jobs what follows of all but the first, and loses none', async () => {
		const ids: string[] = [];
		for (let n = 0; n < 53; n++) {
			const { memberId } = await buy(world, shop.slug, address(`buyer${n}`));
			ids.push(...(await paymentsOf(world.app.db, memberId)).map(({ id }) => id));
		}
		const ask = { ...wish, paymentIds: ids };
		const done = await yes((agreedTo) => refundMany(world.app, null, ask, agreedTo));
		if (done.kind !== 'done') throw new Error(done.kind);
		expect(done).toMatchObject({ count: 53, missed: 0 });
		expect(done.later).toBeGreaterThanOrEqual(3);
		const open = async () => (await world.app.db.select().from(refunds)).filter(({ doneAt }) => !doneAt);
		expect(await open()).toHaveLength(done.later);
		await world.stile.runner.runDue('billing');
		expect(await open()).toEqual([]);
	});

	it('is one refund of each, however often the same yes is sent at once', async () => {
		const ids = (await bought()).map(({ paymentId }) => paymentId);
		const ask = { ...wish, paymentIds: ids };
		const foretold = await refundMany(world.app, null, ask, null);
		if (foretold.kind !== 'foretold') throw new Error(foretold.kind);
		await Promise.all(Array.from({ length: 4 }, () => refundMany(world.app, null, ask, foretold.digest)));
		await world.stile.runner.runDue('billing');
		expect(await world.app.db.select().from(refunds)).toHaveLength(3);
		const back = await world.app.db.select().from(payments);
		expect(back.map(({ refundedMinor }) => refundedMinor)).toEqual([1200, 1200, 1200]);
	});

	it('says the numbers anew where somebody has refunded one meanwhile', async () => {
		const ids = (await bought()).map(({ paymentId }) => paymentId);
		const ask = { ...wish, paymentIds: ids };
		const foretold = await refundMany(world.app, null, ask, null);
		if (foretold.kind !== 'foretold') throw new Error(foretold.kind);
		const [first = ''] = ids;
		const whole = { id: first, paymentId: first, amountMinor: 1200, endsAccess: true, why: '' };
		await refundPayment(world.app, null, whole);
		expect(await refundMany(world.app, null, ask, foretold.digest)).toMatchObject({
			...{ kind: 'foretold', count: 2, left: [{ why: 'nothing-left', count: 1 }] },
			sums: [{ currency: 'EUR', minor: 2400 }]
		});
		// A yes to another end of access, or to other words, is none to this one.
		for (const instead of [{ endsAccess: false }, { why: 'Something else' }]) {
			const other = await refundMany(world.app, null, { ...ask, ...instead }, null);
			if (other.kind !== 'foretold') throw new Error(other.kind);
			expect(await refundMany(world.app, null, ask, other.digest)).toMatchObject({ kind: 'foretold' });
		}
		expect(await world.app.db.select().from(refunds)).toHaveLength(1);
	});

	it('is nobody’s who may not refund, and of no more than so many', async () => {
		const none = { id: 'x', permissions: NO_PERMISSIONS };
		await expect(refundMany(world.app, none, { ...wish, paymentIds: [] }, null)).rejects.toThrow(NotAllowed);
		const paymentIds = Array.from({ length: MOST_SALES + 1 }, (_, n) => `${n}`);
		expect(await refundMany(world.app, null, { ...wish, paymentIds }, null)).toEqual({
			...{ kind: 'refused', code: 'too-many' }
		});
		expect(await refundMany(world.app, null, { ...wish, paymentIds: ['gone'] }, null)).toEqual({
			...{ kind: 'refused', code: 'nobody' }
		});
	});
});

describe('money that is waited for', () => {
	beforeEach(async () => {
		const money = sitePart('money', await world.app.site());
		const offline = { payBy: ['card', 'offline'] as const, offline: { name: '', how: 'To 4711' } };
		await agreeing((yes) => saveSite(world.app, null, 'money', { ...money, ...offline }, { agreedTo: yes }));
		for (const name of NAMES) {
			const ask = { email: address(name), name, payBy: 'offline' as const, deviceToken: name };
			await order(world, shop.slug, ask);
			await pressLink(world.app, await mailedToken(world, address(name)), NEW_DEVICE, true);
		}
	});

	it('came in for all of the list: each opens, with one receipt', async () => {
		const ids = await paymentIds(world.app, url('state=waiting'), MOST_SALES);
		const ask = { paymentIds: ids, state: 'captured' as const, why: '' };
		expect(await answerMany(world.app, null, ask, null)).toMatchObject({
			...{ kind: 'foretold', count: 3, sums: [{ currency: 'EUR', minor: 3600 }] }
		});
		expect(await yes((agreedTo) => answerMany(world.app, null, ask, agreedTo))).toMatchObject({ count: 3 });
		await world.stile.runner.runDue('payments');
		expect(await world.app.db.select().from(grants)).toHaveLength(3);
		for (const name of NAMES) expect(await subjectsTo(name)).toContain('Workshop is open for you');
		// Said once, it is not waited for any more.
		expect(await answerMany(world.app, null, ask, null)).toEqual({ kind: 'refused', code: 'nobody' });
	});

	it('did not come in: the orders are refused, in the words of whoever says so', async () => {
		const ids = await paymentIds(world.app, url('state=waiting'), MOST_SALES);
		const ask = { paymentIds: ids, state: 'declined' as const, why: 'Nothing arrived in June.' };
		expect(await yes((agreedTo) => answerMany(world.app, null, ask, agreedTo))).toMatchObject({ count: 3 });
		await world.stile.runner.runDue('payments');
		expect(await world.app.db.select().from(grants)).toEqual([]);
		await world.stile.runner.runDue('mail');
		const told = world.mails.filter(({ text }) => text.includes('Nothing arrived in June.'));
		expect(told.map(({ to }) => to).toSorted()).toEqual(NAMES.map(address).toSorted());
	});
});

describe('steering many subscriptions', () => {
	it('says what is not asked for any more and who is left out, and ends the others when what is paid is over', async () => {
		const all = await bought();
		const ids = await agreementIds(world.app, url(`plan=${shop.planId}`), MOST_SALES);
		expect(ids).toHaveLength(3);
		const cancelled = all[0];
		if (!cancelled) throw new Error('nobody');
		const own = { reason: 'other' as const, words: '' };
		await cancelAgreement(world.app, cancelled.memberId, cancelled.agreementId, own);
		const ask = { agreementIds: ids, step: 'cancel' as const };
		expect(await steerMany(world.app, null, ask, null)).toMatchObject({
			...{ kind: 'foretold', count: 2, sums: [{ currency: 'EUR', minor: 2400 }] },
			...{ left: [{ why: 'already-so', count: 1 }], plans: [{ name: 'Workshop', count: 2 }] }
		});
		const done = await yes((agreedTo) => steerMany(world.app, null, ask, agreedTo));
		expect(done).toMatchObject({ kind: 'done', count: 2, missed: 0 });
		for (const { memberId } of all) expect(await verdict(memberId)).toBe('open');
		await passDays(world, 40);
		for (const { memberId } of all) expect(await verdict(memberId)).not.toBe('open');
		expect(await steerMany(world.app, null, ask, null)).toEqual({ kind: 'refused', code: 'nobody' });
	});

	it('says the numbers anew where one has moved meanwhile', async () => {
		const [one] = await bought();
		if (!one) throw new Error('nobody');
		const ids = await agreementIds(world.app, url(), MOST_SALES);
		const ask = { agreementIds: ids, step: 'stop' as const };
		const foretold = await steerMany(world.app, null, ask, null);
		if (foretold.kind !== 'foretold') throw new Error(foretold.kind);
		await cancelAgreement(world.app, one.memberId, one.agreementId, { reason: 'other', words: '' });
		expect(await steerMany(world.app, null, ask, foretold.digest)).toMatchObject({ kind: 'foretold' });
		await resumeAgreement(world.app, one.memberId, one.agreementId);
		expect(await steerMany(world.app, null, ask, foretold.digest)).toMatchObject({ kind: 'done', count: 3 });
		expect(await verdict(one.memberId)).not.toBe('open');
	});

	it('lets them rest and go on, together', async () => {
		const all = await bought();
		const ids = all.map(({ agreementId }) => agreementId);
		const rest = { agreementIds: ids, step: 'rest-2' as const };
		expect(await yes((agreedTo) => steerMany(world.app, null, rest, agreedTo))).toMatchObject({ count: 3 });
		await passDays(world, 40);
		for (const { memberId } of all) expect(await verdict(memberId)).not.toBe('open');
		expect(await agreementIds(world.app, url('state=resting'), MOST_SALES)).toHaveLength(3);
		const wake = { agreementIds: ids, step: 'wake' as const };
		expect(await yes((agreedTo) => steerMany(world.app, null, wake, agreedTo))).toMatchObject({ count: 3 });
		await world.stile.runner.runDue('billing');
		for (const { memberId } of all) expect(await verdict(memberId)).toBe('open');
	});
});

/** Says yes to what is foretold. */
async function yes<T extends { kind: string }>(does: (agreedTo: string | null) => Promise<T>): Promise<T> {
	const foretold = await does(null);
	const { digest } = foretold as T & { digest?: string };
	if (digest === undefined) throw new Error(foretold.kind);
	return does(digest);
}
