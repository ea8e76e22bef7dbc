/** The card that what follows is charged to: changed by the member, taken when what is owed is paid by hand, nearly over. */
import { eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { BY_HAND } from '$core/billing/agreement-facts';
import { standingOf } from '$core/billing/payment';
import { paymentsOf } from '$server/db/queries/sales';
import { signInLinks } from '$server/db/schema/people';
import { agreements, cardChanges, cards, payments } from '$server/db/schema/sales';
import { accountView } from '$server/reads/front/account-view';
import { lookOf } from '$server/rights/look';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { createPlan } from '$server/usecases/plans/save-plan';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { askForCard, forgetCardPages, settleOwnCard, tellOfExpiry } from '$server/usecases/sales/change-card';
import { payNow, settleOwnPayment } from '$server/usecases/sales/pay-now';
import { receiveNotification } from '$server/usecases/sales/receive-notification';
import { reconcile } from '$server/usecases/sales/reconcile';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, makeShop, makeWorld, monthly, passDays, PLAN, testCard, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let memberId: string;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	({ memberId } = await buy(world, shop.slug));
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const agreement = async () => {
	const [row] = await world.app.db.select().from(agreements).where(eq(agreements.memberId, memberId));
	if (!row) throw new Error('There is no agreement');
	return row;
};
const isOpen = async () =>
	(await world.app.rights.decide(memberId, shop.itemId, world.app.clock.business())).verdict === 'open';
const owes = async () => (await world.app.rights.standing(memberId))?.owes ?? null;
const owing = async () => {
	world.processor.renewalsWork = false;
	await passDays(world, 32);
	return agreement();
};
const renewals = async () => (await paymentsOf(world.app.db, memberId)).filter(({ period }) => period === 1);
const refOf = (url: string) => url.split('/').at(-1) ?? '';
const NEW = { ref: 'card-new', ending: '1881', expires: '2031-05' };

/** The member asks for the page, and gives a card on it. */
async function giveCard(agreementId: string, of = memberId): Promise<string> {
	const asked = await askForCard(world.app, of, agreementId);
	if (!asked.ok) throw new Error(asked.code);
	world.processor.givesCard(refOf(asked.payUrl), NEW);
	const [change] = await world.app.db
		.select()
		.from(cardChanges)
		.where(eq(cardChanges.processorRef, refOf(asked.payUrl)));
	return change?.id ?? '';
}

describe('another card', () => {
	it('is what follows is charged to, however the news comes', async () => {
		const { id } = await agreement();
		const change = await giveCard(id);
		const body = new TextEncoder().encode(`e1 page-card:${change}`);
		const told = { method: 'POST', path: '/', header: () => null, body };
		await Promise.all([
			settleOwnCard(world.app, memberId, change),
			receiveNotification(world.app, 'card', told),
			reconcile(world.app)
		]);
		await world.stile.runner.runDue('payments');
		expect((await agreement()).cardRef).toBe('card-new');
		expect((await world.app.db.select().from(cards)).map(({ ending }) => ending).sort()).toEqual([
			'1881',
			'4242'
		]);
		const look = await lookOf(world.app, await world.app.rights.standing(memberId), null, null);
		expect((await accountView(world.app, look, memberId)).plans[0]?.card).toEqual({
			ending: '1881',
			expires: '05/2031'
		});
		await passDays(world, 32);
		const [renewal] = await renewals();
		expect(world.processor.facts.get(renewal?.processorRef ?? '')?.card?.ref).toBe('card-new');
	});

	it('takes over everything that was charged to the card before it, and nothing else', async () => {
		await createPlan(world.app, null, { ...PLAN, name: 'Bench', terms: monthly(500) });
		await createPlan(world.app, null, { ...PLAN, name: 'Clinic', terms: monthly(700) });
		await buy(world, 'bench');
		await buy(world, 'clinic');
		const all = await world.app.db.select().from(agreements).where(eq(agreements.memberId, memberId));
		expect(all).toHaveLength(3);
		const [one, two] = all;
		await world.app.db
			.update(agreements)
			.set({ cardRef: one?.cardRef ?? '' })
			.where(eq(agreements.id, two?.id ?? ''));
		await settleOwnCard(world.app, memberId, await giveCard(one?.id ?? ''));
		const after = await world.app.db.select().from(agreements).where(eq(agreements.memberId, memberId));
		const changed = after.filter(({ cardRef }) => cardRef === 'card-new').map(({ id }) => id);
		expect(changed.sort()).toEqual([one?.id, two?.id].sort());
	});

	it('is asked for on one page at a time, and is nobody else’s to give', async () => {
		const { id } = await agreement();
		const first = await askForCard(world.app, memberId, id);
		expect(await askForCard(world.app, memberId, id)).toEqual(first);
		const other = await buy(world, shop.slug, 'edda@mail.example');
		expect(await askForCard(world.app, other.memberId, id)).toEqual({ ok: false, code: 'unknown' });
		const [change] = await world.app.db.select().from(cardChanges);
		expect(await settleOwnCard(world.app, other.memberId, change?.id ?? '')).toBeNull();
		await passDays(world, 8);
		await forgetCardPages(world.app);
		expect(await world.app.db.select().from(cardChanges)).toEqual([]);
	});

	it('is not asked for where nothing follows', async () => {
		const { id } = await agreement();
		await cancelAgreement(world.app, memberId, id, { reason: 'other', words: '' });
		await passDays(world, 40);
		expect(await askForCard(world.app, memberId, id)).toEqual({ ok: false, code: 'nothing-follows' });
	});

	it('is tried at once where something is owed', async () => {
		const { id } = await owing();
		world.processor.renewalsWork = true;
		await settleOwnCard(world.app, memberId, await giveCard(id));
		await world.stile.runner.runDue('billing');
		expect(await agreement()).toMatchObject({ state: 'running', period: 1 });
	});

	it('is forgotten with the account', async () => {
		expect(await deleteMember(world.app, null, memberId)).toEqual({ ok: true });
		expect(await world.app.db.select().from(cards)).toEqual([]);
	});
});

describe('what is owed', () => {
	it('is said on each page, and paid by hand with another card, which is charged from then on', async () => {
		const { id } = await owing();
		expect(await owes()).toEqual({ agreementId: id, plan: 'Workshop' });
		const asked = await payNow(world.app, memberId, id);
		if (!asked.ok) throw new Error(asked.code);
		world.processor.becomes(refOf(asked.payUrl), 'captured');
		const pending = (await world.app.db.select().from(payments)).find(({ attempt }) => attempt >= BY_HAND);
		expect(await settleOwnPayment(world.app, memberId, pending?.id ?? '')).toBe('captured');
		expect(await agreement()).toMatchObject({
			...{ state: 'running', period: 1 },
			cardRef: `card-${refOf(asked.payUrl)}`
		});
		expect(await owes()).toBeNull();
		expect(await isOpen()).toBe(true);
		// The try that was to come charges nothing more.
		world.processor.renewalsWork = true;
		await passDays(world, 6);
		expect((await renewals()).filter((one) => standingOf(one) === 'captured')).toHaveLength(1);
	});

	it('has one page, however often it is asked for, and another after that was declined', async () => {
		const { id } = await owing();
		const [first, again] = await Promise.all([
			payNow(world.app, memberId, id),
			payNow(world.app, memberId, id)
		]);
		expect(first).toEqual(again);
		if (!first.ok) throw new Error(first.code);
		world.processor.becomes(refOf(first.payUrl), 'declined');
		await reconcile(world.app);
		expect((await agreement()).state).toBe('owing');
		const second = await payNow(world.app, memberId, id);
		expect(second.ok && second.payUrl).not.toBe(first.payUrl);
	});

	it('is not paid twice: what comes in beside a try of the old card goes back', async () => {
		const { id } = await owing();
		const asked = await payNow(world.app, memberId, id);
		if (!asked.ok) throw new Error(asked.code);
		world.processor.renewalsWork = true;
		await passDays(world, 6);
		expect(await agreement()).toMatchObject({ state: 'running', period: 1 });
		// The page has ended with what was owed; but somebody had paid on it in that very moment.
		await world.stile.runner.runDue('payments');
		expect(world.processor.facts.get(refOf(asked.payUrl))?.state).toBe('expired');
		world.processor.becomes(refOf(asked.payUrl), 'captured');
		await reconcile(world.app);
		await world.stile.runner.runDue('billing');
		const cameIn = (await renewals()).map(standingOf).filter((one) => one !== 'declined');
		expect(cameIn.sort()).toEqual(['captured', 'refunded']);
		expect(await agreement()).toMatchObject({ state: 'running', period: 1 });
	});

	it('is nobody else’s to pay, and nothing where all is paid', async () => {
		const { id } = await agreement();
		expect(await payNow(world.app, memberId, id)).toEqual({ ok: false, code: 'nothing-due' });
		const other = await buy(world, shop.slug, 'edda@mail.example');
		await owing();
		expect(await payNow(world.app, other.memberId, id)).toEqual({ ok: false, code: 'unknown' });
		expect(await payNow(world.app, memberId, 'no-id')).toEqual({ ok: false, code: 'unknown' });
	});

	it('is led to by the mail that tells of it', async () => {
		const { id } = await owing();
		await world.stile.runner.runDue('mail');
		const mail = world.mails.find(({ subject }) => subject.includes('was declined'));
		expect(mail?.text).toContain('Pay with another card');
		const links = await world.app.db.select({ next: signInLinks.next }).from(signInLinks);
		expect(links.map(({ next }) => next)).toContain(`/account/pay/${id}`);
	});
});

describe('a card that is nearly over', () => {
	it('is told of once, three weeks before, where something is charged to it', async () => {
		const { id } = await agreement();
		const at = new Date(world.app.clock.business());
		at.setUTCMonth(at.getUTCMonth() + 2, 1);
		const expires = at.toISOString().slice(0, 7);
		const asked = await askForCard(world.app, memberId, id);
		if (!asked.ok) throw new Error(asked.code);
		world.processor.givesCard(refOf(asked.payUrl), { ...testCard('soon'), ending: '0069', expires });
		await reconcile(world.app);
		await passDays(world, 20);
		const told = async () => {
			await world.stile.runner.runDue('mail');
			return world.mails.filter(({ subject }) => subject === 'Your card for Workshop is nearly over');
		};
		expect(await told()).toEqual([]);
		await passDays(world, 75);
		const [mail, ...more] = await told();
		expect(mail?.text).toContain(
			`ending in 0069, which is good to ${expires.split('-').reverse().join('/')}`
		);
		expect(more).toEqual([]);
	});

	it('is not told of where it was replaced before', async () => {
		const { id } = await agreement();
		const [card] = await world.app.db.select().from(cards);
		await settleOwnCard(world.app, memberId, await giveCard(id));
		await tellOfExpiry(world.app, card?.ref ?? '');
		await world.stile.runner.runDue('mail');
		expect(world.mails.filter(({ subject }) => subject.includes('nearly over'))).toEqual([]);
	});
});
