/** Tax from the checkout to the report: what is asked for, booked, handed out and summed up. */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ALL_PERMISSIONS } from '$core/staff/permissions';
import { NO_TAX, type TaxRate, type TaxRules } from '$core/billing/tax';
import { localDay } from '$core/time/calendar';
import { agreementRevision, agreementsOf } from '$server/db/queries/agreements';
import { movesOf } from '$server/db/queries/moves';
import { linesOfOrder, orderById, paymentsOf, paymentsOfOrder } from '$server/db/queries/sales';
import { documents, ledgerPostings, payments } from '$server/db/schema/sales';
import { taxDocuments, taxReport } from '$server/reads/desk/tax-report';
import { documentPage, paperOf } from '$server/reads/front/documents';
import { likelyBuyer } from '$server/reads/front/priced';
import { makeBatch } from '$server/usecases/codes/codes';
import { createPlan } from '$server/usecases/plans/save-plan';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import { changeTaxBuyer, ownTaxBuyer } from '$server/usecases/sales/change-tax';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { beginMove } from '$server/usecases/sales/move-plan';
import { saveSite } from '$server/usecases/running/save-site';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { makeShop, makeWorld, monthly, order, passDays, PLAN, testCard, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const WREN = 'wren@mail.example';
const rate = (country: string, percent: number, from = '2020-01-01'): TaxRate => ({
	...{ country, from, name: 'VAT' },
	rate: percent * 1000
});
const RATES = [rate('DE', 19), rate('FR', 20), rate('AT', 20)];

async function taxed(over: Partial<TaxRules> = {}): Promise<void> {
	const tax: TaxRules = { way: 'included', home: 'DE', isHomeRateInUnion: false, rates: RATES, ...over };
	expect(await saveSite(world.app, null, 'tax', { tax })).toEqual({ kind: 'saved' });
}

const today = async () => localDay(world.app.clock.business(), (await world.app.site()).zone);
const year = async () => Number((await today()).slice(0, 4));

async function buyIn(country: string, over: Parameters<typeof order>[2] = {}, card = testCard('card-1')) {
	const email = over.email ?? WREN;
	const begun = await order(world, shop.slug, { email, deviceToken: email, country, ...over });
	if (!begun.ok) throw new Error(begun.code);
	const ref = begun.payUrl.split('/').at(-1) ?? '';
	const paid = world.processor.becomes(ref, 'captured');
	world.processor.facts.set(ref, { ...paid, card });
	await settleReturn(world.app, begun.orderId, email, null);
	const bought = await orderById(world.app.db, begun.orderId);
	return { orderId: begun.orderId, memberId: bought?.memberId ?? '', order: bought };
}

const paidBy = async (memberId: string) =>
	(await paymentsOf(world.app.db, memberId))
		.filter(({ state }) => state === 'captured')
		.sort((a, b) => a.period - b.period)
		.map(({ amountMinor }) => amountMinor);
const papers = () => world.app.db.select().from(documents).orderBy(documents.id);
const booked = async (account: string) =>
	(await world.app.db.select().from(ledgerPostings).orderBy(ledgerPostings.id))
		.filter((posting) => posting.account === account)
		.map(({ amountMinor }) => amountMinor);

// By hand: 12.00 with 19 % in it are 10.08 and 1.92; with 20 %, 10.00 and 2.00; on top of 12.00, 19 % are 2.28.
describe('tax in the price', () => {
	it('is booked apart, said on an invoice with the buyer’s country, and changes nothing that is paid', async () => {
		await taxed();
		const bought = await year();
		const { memberId, orderId } = await buyIn('DE');
		expect(await linesOfOrder(world.app.db, orderId)).toMatchObject([{ taxMinor: 192, totalMinor: 1200 }]);
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([1200, 1200]);
		expect(await booked('tax')).toEqual([-192, -192]);
		expect(await booked('sales')).toEqual([-1008, -1008]);
		const own = { kind: 'invoice', amountMinor: 1200, taxMinor: 192, taxRate: 19_000, taxCountry: 'DE' };
		expect(await papers()).toMatchObject([
			{
				...own,
				number: `I-${bought}-00001`,
				content: { buyer: { country: 'DE' }, isTaxIncluded: true }
			},
			own
		]);
	});

	it('is that of the country where the buyer is, at the rate of the day', async () => {
		await taxed({ rates: [...RATES, rate('FR', 25, '2099-01-01')] });
		await buyIn('FR');
		expect(await booked('tax')).toEqual([-200]);
	});

	it('is taken out of a price for a business in another country of the Union, which owes it itself', async () => {
		await taxed();
		const { memberId } = await buyIn('AT', { taxId: 'atu 13585627' });
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([1000, 1000]);
		expect(await booked('tax')).toEqual([]);
		const [first] = await papers();
		expect(first).toMatchObject({
			...{ kind: 'invoice', taxKind: 'reversed', taxCountry: 'AT', taxMinor: 0, amountMinor: 1000 },
			content: { buyer: { country: 'AT', taxId: 'ATU13585627' } }
		});
		const reader = { id: memberId, permissions: ALL_PERMISSIONS };
		const page = await documentPage(world.app, first?.number ?? '', reader);
		const paper = page && (await paperOf(world.app, page));
		expect(paper?.notes).toEqual([expect.stringContaining('Reverse charge')]);
		expect(paper?.to.lines).toEqual([WREN, 'Austria', 'Tax number ATU13585627']);
	});

	it('follows the law from the next due on: the price stays, and what is in it is another', async () => {
		await taxed();
		const { memberId } = await buyIn('DE');
		const soon = localDay(world.app.clock.business() + 86_400_000, 'UTC');
		await taxed({ rates: [...RATES, rate('DE', 25, soon)] });
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([1200, 1200]);
		expect(await booked('tax')).toEqual([-192, -240]);
	});

	it('is asked of nobody who joins for nothing, and needs no country there', async () => {
		await taxed();
		const terms = { currency: 'EUR', firstMinor: 0, feeMinor: 0, then: { kind: 'nothing' as const } };
		await createPlan(world.app, null, { ...PLAN, name: 'Visitor', terms });
		const begun = await order(world, 'visitor', { country: '' });
		expect(begun.ok).toBe(true);
	});

	it('is of what is left of a discount, which the books have without it', async () => {
		await taxed();
		const times = { startsAt: null, endsAt: null, usesPerCode: null };
		const off = { off: { kind: 'percent' as const, percent: 25 }, payments: 2 };
		const does = { kind: 'takes-off' as const, discount: off, planIds: null, isOncePerBuyer: false };
		await makeBatch(world.app, null, { name: 'Spring', code: 'SPRING', count: 1, does, ...times });
		const { memberId } = await buyIn('DE', { code: 'SPRING' });
		await passDays(world, 40);
		// By hand: 9.00 with 19 % in it are 7.56 and 1.44; of 12.00 without tax, 10.08, that is 2.52 less.
		expect(await paidBy(memberId)).toEqual([900, 900]);
		expect(await booked('tax')).toEqual([-144, -144]);
		expect(await booked('sales')).toEqual([-1008, -1008]);
		expect(await booked('discounts')).toEqual([252, 252]);
		expect((await papers()).map(({ content }) => content.lines[0])).toMatchObject([
			{ amountMinor: 900, discountMinor: 300 },
			{ amountMinor: 900, discountMinor: 300 }
		]);
	});
});

describe('tax on top of the price', () => {
	it('is part of what is paid, now and at each renewal, and stands below the lines', async () => {
		await taxed({ way: 'added' });
		const { memberId, orderId } = await buyIn('DE');
		expect(await linesOfOrder(world.app.db, orderId)).toMatchObject([
			{ amountMinor: 1200, taxMinor: 228, totalMinor: 1428 }
		]);
		const [agreement] = await agreementsOf(world.app.db, memberId);
		expect(agreement?.nextMinor).toBe(1428);
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([1428, 1428]);
		expect(await booked('sales')).toEqual([-1200, -1200]);
		expect(await booked('tax')).toEqual([-228, -228]);
		const [, renewal] = await papers();
		const page = await documentPage(world.app, renewal?.number ?? '', {
			...{ id: memberId, permissions: ALL_PERMISSIONS }
		});
		const paper = page && (await paperOf(world.app, page));
		expect(paper?.rows.map(({ amount }) => amount)).toEqual(['12.00 EUR']);
		expect(paper?.sums.map(({ amount }) => amount)).toEqual(['12.00 EUR', '2.28 EUR']);
		expect(paper?.total.amount).toBe('14.28 EUR');
	});

	it('is not asked for where no rate is known, nor of a business abroad', async () => {
		await taxed({ way: 'added' });
		const abroad = await buyIn('US', { email: 'robin@mail.example' });
		const business = await buyIn('AT', { email: 'edda@mail.example', taxId: 'ATU13585627' });
		expect(await paidBy(abroad.memberId)).toEqual([1200]);
		expect(await paidBy(business.memberId)).toEqual([1200]);
		expect((await papers()).map(({ kind, taxKind }) => [kind, taxKind])).toEqual([
			['receipt', null],
			['invoice', 'reversed']
		]);
	});

	it('follows the law from the first due after its day on, and not before', async () => {
		await taxed({ way: 'added' });
		const { memberId } = await buyIn('DE');
		const later = localDay(world.app.clock.business() + 40 * 86_400_000, 'UTC');
		await taxed({ way: 'added', rates: [...RATES, rate('DE', 25, later)] });
		await passDays(world, 100);
		expect(await paidBy(memberId)).toEqual([1428, 1428, 1500, 1500]);
		expect(await booked('tax')).toEqual([-228, -228, -300, -300]);
		expect((await papers()).map(({ taxRate }) => taxRate)).toEqual([19_000, 19_000, 25_000, 25_000]);
	});

	it('comes on top for whoever buys from now on; whoever has bought before pays what they agreed to', async () => {
		const early = await buyIn('');
		await taxed({ way: 'added' });
		const late = await buyIn('DE', { email: 'robin@mail.example' }, testCard('card-2'));
		await passDays(world, 40);
		expect(await paidBy(early.memberId)).toEqual([1200, 1200]);
		expect(await paidBy(late.memberId)).toEqual([1428, 1428]);
		// What is in the renewal of the first is taxed at home all the same.
		expect((await papers()).map(({ kind, taxMinor }) => `${kind} ${taxMinor}`).sort()).toEqual([
			...['invoice 192', 'invoice 228', 'invoice 228', 'receipt 0']
		]);
	});

	it('is not asked for any more once the publisher asks for none', async () => {
		await taxed({ way: 'added' });
		const { memberId } = await buyIn('DE');
		await taxed({ ...NO_TAX });
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([1428, 1200]);
	});

	it('is refused where another sum was shown, and asked for anew where the country is another', async () => {
		await taxed({ way: 'added' });
		expect(await order(world, shop.slug, { country: 'DE', seenMinor: 1200 })).toEqual({
			...{ ok: false, code: 'changed' }
		});
		const german = await order(world, shop.slug, { country: 'DE', seenMinor: 1428 });
		const french = await order(world, shop.slug, { country: 'FR', seenMinor: 1440 });
		if (!german.ok || !french.ok) throw new Error('refused');
		expect(french.orderId).not.toBe(german.orderId);
		expect((await orderById(world.app.db, german.orderId))?.state).toBe('replaced');
		const [payment] = await paymentsOfOrder(world.app.db, french.orderId);
		expect(payment?.amountMinor).toBe(1440);
		// The same again is the same order.
		expect(await order(world, shop.slug, { country: 'FR' })).toMatchObject({ orderId: french.orderId });
	});
});

describe('who buys', () => {
	it.each([
		['', '', 'unknown-country'],
		['XX', '', 'unknown-country'],
		['DE', '136695977', 'tax-id-not-its-digits'],
		['DE', 'hello', 'tax-id-not-its-form'],
		['DE', 'FR40303265045', 'tax-id-other-country']
	])('in “%s” with the number “%s” is refused: %s', async (country, taxId, code) => {
		await taxed();
		expect(await order(world, shop.slug, { country, taxId })).toEqual({ ok: false, code });
	});

	it('is where they said, and the card’s bank and the network say so or not', async () => {
		await taxed();
		world.app.geography = { countryOf: () => 'DE' };
		const { order: bought } = await buyIn('DE', {}, { ...testCard('card-1'), country: 'FR' });
		expect(bought?.tax?.proofs).toEqual([
			{ from: 'said', country: 'DE' },
			{ from: 'network', country: 'DE' },
			{ from: 'card', country: 'FR' }
		]);
		const [row] = await taxDocuments(world.app, await year());
		expect(row).toMatchObject({ proof: 'two', order: bought?.number });
	});

	it('is likely where they bought before, else where their network is, else at home', async () => {
		await taxed();
		const likely = async (id: string | null) => (await likelyBuyer(world.app, id, '127.0.0.1')).country;
		expect(await likely(null)).toBe('DE');
		world.app.geography = { countryOf: () => 'FR' };
		expect(await likely(null)).toBe('FR');
		const { memberId } = await buyIn('AT');
		expect(await likely(memberId)).toBe('AT');
		// As they said since.
		await changeTaxBuyer(world.app, memberId, { country: 'DE', taxId: '', client: '127.0.0.1' });
		expect(await likely(memberId)).toBe('DE');
	});
});

describe('whoever moves to another country', () => {
	it('says so, and pays the tax of there from the next payment on; what is paid stays', async () => {
		await taxed({ way: 'added' });
		const { memberId } = await buyIn('DE');
		expect(await ownTaxBuyer(world.app, memberId)).toEqual({ country: 'DE', taxId: null });
		const wish = { country: 'FR', taxId: '', client: '127.0.0.1' };
		expect(await changeTaxBuyer(world.app, memberId, wish)).toEqual({ ok: true });
		expect((await agreementsOf(world.app.db, memberId))[0]).toMatchObject({ nextMinor: 1440 });
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([1428, 1440]);
		expect((await papers()).map(({ taxCountry, taxMinor }) => [taxCountry, taxMinor])).toEqual([
			['DE', 228],
			['FR', 240]
		]);
		await world.stile.runner.runDue('mail');
		expect(world.mails.filter(({ subject }) => /stays|changes|costs|move/i.test(subject))).toEqual([]);
	});

	it('or begins a business there owes it themselves; a wrong number changes nothing', async () => {
		await taxed();
		const { memberId } = await buyIn('DE');
		const wrong = { country: 'AT', taxId: 'ATU13585628', client: '127.0.0.1' };
		expect(await changeTaxBuyer(world.app, memberId, wrong)).toEqual({
			...{ ok: false, code: 'tax-id-not-its-digits' }
		});
		expect(await ownTaxBuyer(world.app, memberId)).toEqual({ country: 'DE', taxId: null });
		await changeTaxBuyer(world.app, memberId, { ...wrong, taxId: 'ATU13585627' });
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([1200, 1000]);
		expect((await papers()).map(({ taxKind }) => taxKind)).toEqual(['taxed', 'reversed']);
	});

	it('is not asked where nothing that they pay has tax', async () => {
		const { memberId } = await buyIn('');
		expect(await ownTaxBuyer(world.app, memberId)).toBeNull();
	});
});

describe('a refund', () => {
	it('takes its part of the tax back, on a credit note that says so, and in the report', async () => {
		await taxed();
		const { memberId } = await buyIn('DE');
		const [paid] = await paymentsOf(world.app.db, memberId);
		const part = {
			id: uuidv7(),
			paymentId: paid?.id ?? '',
			amountMinor: 600,
			endsAccess: false,
			why: 'half'
		};
		expect(await refundPayment(world.app, null, part)).toMatchObject({ ok: true });
		const [, note] = await papers();
		expect(note).toMatchObject({ kind: 'credit-note', amountMinor: 600, taxMinor: 96, taxRate: 19_000 });
		expect(await booked('tax')).toEqual([-192, 96]);
		const rest = { ...part, id: uuidv7(), why: 'and the rest' };
		expect(await refundPayment(world.app, null, rest)).toMatchObject({ ok: true });
		expect(await booked('tax')).toEqual([-192, 96, 96]);
		const { quarters } = await taxReport(world.app, await year());
		const rows = quarters.flatMap((quarter) => quarter.rows);
		expect(rows).toEqual([
			{
				...{ kind: 'taxed', country: 'DE', name: 'VAT', rate: 19_000, currency: 'EUR' },
				...{ netMinor: 0, taxMinor: 0, documents: 3 }
			}
		]);
	});

	it('is taxed as the payment was, whatever the rates are by then', async () => {
		await taxed();
		const { memberId } = await buyIn('DE');
		await taxed({ rates: [rate('DE', 25)] });
		const [paid] = await paymentsOf(world.app.db, memberId);
		const whole = { id: uuidv7(), paymentId: paid?.id ?? '', amountMinor: 1200, endsAccess: true, why: '' };
		expect(await refundPayment(world.app, null, whole)).toMatchObject({ ok: true });
		expect((await papers()).map(({ taxMinor, taxRate }) => [taxMinor, taxRate])).toEqual([
			[192, 19_000],
			[192, 19_000]
		]);
	});
});

describe('the report', () => {
	it('sums up by quarter, country, rate and who owes it', async () => {
		await taxed();
		await buyIn('DE', { email: 'a@mail.example' }, testCard('card-1'));
		await buyIn('DE', { email: 'b@mail.example' }, testCard('card-2'));
		await buyIn('FR', { email: 'c@mail.example' }, testCard('card-3'));
		await buyIn('AT', { email: 'd@mail.example', taxId: 'ATU13585627' }, testCard('card-4'));
		const { quarters } = await taxReport(world.app, await year());
		const month = Number((await today()).slice(5, 7));
		expect(quarters.flatMap(({ quarter, rows }) => rows.map(() => quarter))).toEqual(
			Array.from({ length: 3 }, () => Math.ceil(month / 3))
		);
		const rows = quarters.flatMap((quarter) => quarter.rows);
		expect(rows.map((row) => [row.country, row.kind, row.netMinor, row.taxMinor, row.documents])).toEqual([
			['AT', 'reversed', 1000, 0, 1],
			['DE', 'taxed', 2016, 384, 2],
			['FR', 'taxed', 1000, 200, 1]
		]);
		expect((await taxReport(world.app, (await year()) - 1)).quarters.flatMap(({ rows: of }) => of)).toEqual(
			[]
		);
	});
});

describe('a move to another rung', () => {
	it('asks for tax on top of what is left, says so on its line, and renews with it', async () => {
		await taxed({ way: 'added' });
		const rung = { ladder: 'Workshop', terms: monthly(1200) };
		await createPlan(world.app, null, { ...PLAN, ...rung, name: 'Apprentice', rung: 1 });
		await createPlan(world.app, null, {
			...{ ...PLAN, ...rung, name: 'Journeyman', rung: 2 },
			terms: monthly(1800)
		});
		shop = { ...shop, slug: 'apprentice' };
		const { memberId } = await buyIn('DE');
		const [row] = await agreementsOf(world.app.db, memberId);
		if (!row) throw new Error('nothing was agreed');
		const { zone, tax } = await world.app.site();
		const at = world.app.clock.business();
		const moves = await movesOf(world.app.db, memberId, row.id, { now: at, zone, tax });
		const to = moves?.to.find(({ plan }) => plan.name === 'Journeyman');
		// By hand: nothing of 12.00 is used yet, so 6.00 of 18.00 are left, and 1.14 of tax.
		expect(to?.answer).toMatchObject({ kind: 'now', priceMinor: 1800, creditMinor: 1200, asksMinor: 714 });
		const seen = { at, revision: agreementRevision(row), asksMinor: 714 };
		const wish = { memberId, agreementId: row.id, priceId: to?.price.priceId ?? '', payBy: null };
		const moved = await beginMove(world.app, { ...wish, seen, deviceToken: 'device' });
		if (!moved.ok || moved.kind !== 'to-pay') throw new Error(JSON.stringify(moved));
		const ref = moved.payUrl.split('/').at(-1) ?? '';
		world.processor.becomes(ref, 'captured');
		const [payment] = await world.app.db.select().from(payments).where(eq(payments.processorRef, ref));
		await settleReturn(world.app, payment?.orderId ?? '', 'device', memberId);
		expect(await linesOfOrder(world.app.db, payment?.orderId ?? '')).toMatchObject([
			{ kind: 'move', amountMinor: 1800, discountMinor: 1200, taxMinor: 114, totalMinor: 714 }
		]);
		expect((await agreementsOf(world.app.db, memberId))[0]).toMatchObject({ nextMinor: 2142 });
		await passDays(world, 40);
		expect(await paidBy(memberId)).toEqual([1428, 714, 2142]);
		expect(await booked('tax')).toEqual([-228, -114, -342]);
	});
});
