/**
 * From the checkout form to wherever it goes on: the processor's page, the page that says how to pay, or thanks for what asks for
 * nothing. What is to be paid grants nothing here.
 */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { includedFor } from '$core/access/included';
import { offAtAll, type OffAnswer, type Taken } from '$core/billing/discount-code';
import { giftOf, tellAt, type GiftOf } from '$core/billing/gift';
import { isAwaited, linesOf, orderTotal } from '$core/billing/order';
import { MOST_SEATS, seatedTerms } from '$core/billing/seats';
import { waysToPay, type ProcessorName } from '$core/billing/pay-by';
import {
	amountDue,
	asksForMoney,
	isSameTerms,
	taxedTerms,
	withDiscount,
	type Terms
} from '$core/billing/terms';
import { termsTax, UNTAXED, type OrderTax } from '$core/billing/tax';
import { isWholePostal, type Postal } from '$core/text/postal';
import { localDay } from '$core/time/calendar';
import { frontWords } from '$words/front';
import type { Using } from '../../app';
import { accountById, lockAccount } from '../../db/queries/members';
import { heldInPlaceOf } from '../../db/queries/agreements';
import { offersTo } from '../../db/queries/discounts';
import { hasPlaceNow } from '../../db/queries/places';
import {
	mainLinesOf,
	orderById,
	paymentById,
	paymentsOfOrder,
	type OfferedPlan,
	type Order,
	type Payment
} from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import { gifts, orderLines, orders, payments } from '../../db/schema/sales';
import { allows } from '../../people/rate-limit';
import { hashOf } from '../../people/sessions';
import { transact, type Work } from '../../transact';
import { hashPassword } from '../accounts/passwords';
import { normaliseEmail } from '../accounts/sign-in';
import { claim, giftKey, memberKey, standingBy, strangerKey } from './claims';
import { endOrder } from './end-pay-page';
import { fulfil, withNewBuyer } from './fulfil-order';
import { orderNumber } from './numbers';
import { payPage } from './pay-page';
import { queueReminder } from './remind';
import type { Selling } from './selling';
import { orderTax, taxAsked, termsOfLine, type TaxWishProblem } from './tax-order';
import { offersToBuyer, pricedThings } from './take-off';
import { thingsBesides, thingWished, type BesidesProblem, type Thing, type WishedThing } from './wished';

export interface OrderWish {
	planSlug: string;
	/** Which of the plan's prices; `null`: the first. */
	priceId: string | null;
	/** What is bought with it, in one order. */
	besides?: readonly WishedThing[];
	/** How it is paid; `null`: the first of the ways. */
	payBy: ProcessorName | null;
	/** What takes something off; empty: no code. */
	code: string;
	/** Where the buyer is, and their number where they buy for a business: as typed, empty where nothing was. */
	country: string;
	taxId: string;
	/** Where it is sent by post, where the plan asks for that. */
	postal?: Postal | null;
	/** For how many people, where the plan is sold so; left out: for one. */
	seats?: number;
	/** For whom it is bought; left out: for oneself. */
	gift?: GiftWish | null;
	/** They were told that all of it is open for them already, and want it all the same. */
	wantsAgain?: boolean;
	/** What was shown as to be paid today; `null`: nothing was. */
	seenMinor: number | null;
	/** The signed-in member; then the address, name and password are not asked. */
	memberId: string | null;
	email: string;
	name: string;
	password: string;
	/** From the cookie that the checkout page set: the same device goes on with the same order. */
	deviceToken: string;
	next: string | null;
	client: string;
}

/** For whom something is bought, as it was typed. */
export interface GiftWish {
	email: string;
	words: string;
	/** On which day they are told, such as 2026-12-24; `null`: today. */
	day: string | null;
}

export type BegunOrder =
	| { ok: true; orderId: string; payUrl: string }
	| {
			ok: false;
			code:
				| 'unknown-plan'
				| 'unknown-price'
				/** It was for the first buyers, and there are as many by now. */
				| 'price-gone'
				| 'unknown-way'
				| 'not-on-sale'
				| 'too-many'
				| 'busy'
				/** It is sold for one, or not for so many. */
				| 'no-seats'
				/** Nothing would be paid for them. */
				| 'seats-free'
				/** Nobody could tell where it is to be sent. */
				| 'no-postal';
	  }
	| { ok: false; code: BesidesProblem }
	/** The code that was typed takes nothing off, or not any more. */
	| ({ ok: false } & CodeRefused)
	| { ok: false; code: TaxWishProblem }
	| { ok: false; code: GiftProblem }
	/** Said to members of themselves only: nobody learns what another address holds. */
	| { ok: false; code: 'included' }
	| ({ ok: false } & Held);

/** `no-gift`: it cannot be given. `gift-own`: it is for their own address. `gift-free`: nothing would be paid. */
export type GiftProblem = 'no-gift' | 'gift-own' | 'gift-over' | 'gift-too-far' | 'gift-free';

export async function beginOrder(
	app: Selling & Using<'settings' | 'geography'>,
	wish: OrderWish
): Promise<BegunOrder> {
	if (!(await allows(app, 'orderByClient', wish.client))) return { ok: false, code: 'too-many' };
	const now = app.clock.business();
	const buyer = { memberId: wish.memberId, deviceHash: hashOf(wish.deviceToken) };
	const head = await thingWished(app, wish, buyer);
	if (!head.ok) return head;
	const { plan, price: listed } = head.thing;
	const together = await thingsBesides(app, head.thing, wish.besides ?? [], buyer);
	if (!together.ok) return together;
	const isAlone = together.things.length === 1;
	const postal = together.things.some((one) => one.plan.asksPostal) ? (wish.postal ?? null) : null;
	if (together.things.some((one) => one.plan.asksPostal) && !(postal && isWholePostal(postal)))
		return { ok: false, code: 'no-postal' };
	const site = await app.site();
	if (wish.gift && !isAlone) return { ok: false, code: 'no-gift' };
	const giving = wish.gift ? await givingOf(app, wish, wish.gift, { plan, terms: listed.terms }) : null;
	if (giving && !giving.ok) return giving;
	const { seats = 1 } = wish;
	const isForMany = Number.isInteger(seats) && seats > 1 && seats <= MOST_SEATS;
	if (seats !== 1 && (!isForMany || !plan.sellsSeats || giving || !isAlone))
		return { ok: false, code: 'no-seats' };
	const things = together.things.map((thing, n) => {
		if (n > 0) return thing;
		const terms = giving ? giving.terms : seatedTerms(listed.terms, seats);
		return { ...thing, price: { ...listed, terms } };
	});
	if (!giving && !wish.wantsAgain)
		for (const { plan: one, price } of things)
			if (asksForMoney(price.terms) && (await hasAll(app, wish.memberId, one.id)))
				return { ok: false, code: 'included' };
	const ways = things.reduce((left, one) => waysToPay(left, one.plan.payBy), site.payBy);
	const processor = wish.payBy ?? ways[0] ?? 'card';
	if (!ways.includes(processor)) return { ok: false, code: 'unknown-way' };
	const offers = await offersToBuyer(app, { ...wish, plan });
	if (!offers) return { ok: false, code: 'too-many-codes' };
	const off = offAtAll(offers.typed, await pricedThings(app, things, offers, { ...buyer, now }), now);
	if (!off.ok) return off;
	const dearest = things.find(({ price }) => asksForMoney(price.terms)) ?? head.thing;
	const asked = taxAsked(app, site.tax, dearest.price.terms, wish);
	if (!asked.ok) return asked;
	const { buyer: taxed, proofs } = asked;
	const day = localDay(now, site.zone);
	const tax = { ...orderTax(site.tax, taxed, day), proofs };
	const bargains = things.map((thing, n) => {
		const taken = off.taken[n] ?? null;
		const less = withDiscount(thing.price.terms, taken?.discount ?? null);
		return { ...thing, taken, terms: taxedTerms(less, termsTax(tax.taxed)) };
	});
	const total = orderTotal(bargains.flatMap(({ terms }) => linesOf(terms, tax.taxed)));
	if (wish.seenMinor !== null && wish.seenMinor !== total) return { ok: false, code: 'changed' };
	const asks = askingFor(
		bargains.map(({ terms }) => terms),
		processor
	);
	// Whoever gives pays for it: nobody mails strangers for nothing.
	if (giving && !asks.isPaid) return { ok: false, code: 'gift-free' };
	if (seats > 1 && !asks.isPaid) return { ok: false, code: 'seats-free' };
	const bought: Bought = { things: bargains, tax, seats, processor, site, giving, postal, ...asks };
	const email = wish.memberId === null ? normaliseEmail(wish.email) : null;
	// Where nothing is paid on a page, the address is written to.
	if (email !== null && !bought.hasPage && !(await allows(app, 'linkByEmail', email)))
		return { ok: false, code: 'too-many' };
	const hashed =
		wish.memberId === null && wish.password !== ''
			? await hashPassword(wish.password)
			: { ok: true as const, hash: null };
	if (!hashed.ok) return { ok: false, code: 'busy' };
	const placed = await transact(app, wish.memberId ? { id: wish.memberId } : null, (work) =>
		placeOrder(work, wish, email, bought, hashed.hash)
	);
	if ('code' in placed) return { ok: false, ...placed };
	const { orderId, payment } = placed;
	if (!payment) return { ok: true, orderId, payUrl: `/thanks/${orderId}` };
	const named = { name: things.map((one) => one.plan.name).join(', '), statementName: plan.statementName };
	const to = { plan: named, returnPath: `/checkout/return/${orderId}` };
	return { ok: true, orderId, payUrl: await payPage(app, payment, to) };
}

/** What is given, to whom and when. */
type Giving = { email: string; words: string; tellAt: number } & GiftOf;

async function givingOf(
	app: Selling,
	wish: OrderWish,
	{ email: typed, words, day }: GiftWish,
	{ plan, terms }: { plan: OfferedPlan; terms: Terms }
): Promise<({ ok: true } & Giving) | { ok: false; code: GiftProblem }> {
	const gift = plan.sellsAsGift ? giftOf(terms, plan.access) : null;
	if (!gift) return { ok: false, code: 'no-gift' };
	const email = normaliseEmail(typed);
	const giver = wish.memberId === null ? null : await accountById(app.db, wish.memberId);
	if (email === (giver ? giver.email : normaliseEmail(wish.email))) return { ok: false, code: 'gift-own' };
	const { zone } = await app.site();
	const at = tellAt(day, zone, app.clock.business());
	if (!at.ok) return { ok: false, code: `gift-${at.code}` };
	return { ok: true, ...gift, email, words, tellAt: at.at };
}

/** Whether a member may open all that a plan opens by what they hold: nobody pays twice without knowing it. */
async function hasAll(app: Selling, memberId: string | null, planId: string): Promise<boolean> {
	const standing = memberId === null ? null : await app.rights.standing(memberId);
	if (!standing) return false;
	return includedFor(await app.rights.policy(), standing.viewer, planId, app.clock.business()) !== null;
}

type CodeRefused = { code: Extract<OffAnswer, { ok: false }>['code'] | 'too-many-codes' | 'changed' };
type PlaceRefused = { code: 'price-gone' };

/** A thing at what is agreed to. */
interface Bargain extends Thing {
	taken: Taken | null;
	/** Of the price, with what is taken off it, and its tax. */
	terms: Terms;
}

interface Bought extends Asking {
	/** One, or several together. The terms of the first are for all of the people. */
	things: readonly Bargain[];
	seats: number;
	tax: OrderTax;
	processor: ProcessorName;
	site: SiteSettings;
	/** `null`: it is bought for oneself. */
	giving: Giving | null;
	/** `null`: nothing is sent. */
	postal: Postal | null;
}

interface Asking {
	/** Whether something is paid at first. */
	isPaid: boolean;
	/** Whether it goes on at a page of the processor: to pay, or to keep a card for what follows. */
	hasPage: boolean;
}

function askingFor(all: readonly Terms[], processor: ProcessorName): Asking {
	const isPaid = all.some((terms) => (amountDue(terms, 0) ?? 0) > 0);
	return {
		isPaid,
		hasPage: processor === 'card' && (isPaid || all.some(({ then }) => then.kind === 'more'))
	};
}

/** The plan, or another rung of its ladder: then one moves. `has-besides`: something else of what was put together. */
type Held = { code: 'has-plan' | 'has-besides' } | { code: 'has-rung'; agreementId: string };

/** `payment`: what is to be paid; `null`: nothing. */
interface Placed {
	orderId: string;
	payment: Payment | null;
}

async function placeOrder(
	work: Work,
	wish: OrderWish,
	email: string | null,
	bought: Bought,
	passwordHash: string | null
): Promise<Placed | Held | CodeRefused | PlaceRefused> {
	const { memberId } = wish;
	const { things, processor, giving } = bought;
	if (memberId !== null) {
		await lockAccount(work.tx, memberId);
		// Whoever holds it gives it to others.
		for (const [n, { plan }] of giving ? [] : things.entries()) {
			const held = await heldInPlaceOf(work.tx, memberId, plan, work.now);
			if (held && n > 0) return { code: 'has-besides' };
			if (held)
				return held.planId === plan.id ? { code: 'has-plan' } : { code: 'has-rung', agreementId: held.id };
		}
	}
	const deviceHash = hashOf(wish.deviceToken);
	const keys = things.map(({ plan }) => {
		const own = memberId !== null ? memberKey(memberId, plan) : strangerKey(deviceHash, email, plan);
		return giving ? giftKey(own, giving.email) : own;
	});
	const standing = await standingBy(work.tx, keys);
	const open = standing.length === 1 ? standing[0] : undefined;
	const { postal } = bought;
	const typed = {
		...{ typedName: wish.name || null, typedPasswordHash: passwordHash },
		...{ next: wish.next, postal }
	};
	const isSame = open?.deviceHash === deviceHash && open.processor === processor;
	const refused = await codeNow(work, wish, bought, { deviceHash, except: open?.id });
	if (refused) return refused;
	const own = open && { memberId, deviceHash, except: { orderId: open.id } };
	// Always in the same order: whoever asks for the same prices waits, and nobody for each other.
	const prices = things.map(({ price }) => price).sort((a, b) => (a.priceId < b.priceId ? -1 : 1));
	for (const price of prices)
		if (!(await hasPlaceNow(work.tx, price, work.now, own))) return { code: 'price-gone' };
	if (open && isSame && (await isAtPrice(work, open, bought))) {
		await work.tx
			.update(orders)
			.set({ ...typed, tax: bought.tax })
			.where(eq(orders.id, open.id));
		if (giving) await keepGift(work, open.id, wish, bought, giving);
		// Whoever asks again has not got the mail.
		if (isAwaited(open.state) && open.stoodByAt === null) await writeAboutOrder(work, open);
		return { orderId: open.id, payment: await askedOf(work, open, bought) };
	}
	// Begun elsewhere, at another price or with other things. If it is paid all the same, settling decides what becomes of it.
	for (const one of standing) await endOrder(work, one, 'replaced');
	const orderId = uuidv7();
	const lines = things.map(({ terms }) => linesOf(terms, bought.tax.taxed));
	const codeId = codeOf(bought);
	await work.tx.insert(orders).values({
		...{ codeId, tax: bought.tax },
		...{ id: orderId, number: await orderNumber(work), memberId, email },
		state: bought.hasPage ? 'open' : 'waiting',
		...{ totalMinor: orderTotal(lines.flat()), currency: currencyOf(bought), processor, seats: bought.seats },
		...{ deviceHash, ...typed, createdAt: work.now }
	});
	await claim(work.tx, orderId, keys);
	await work.tx.insert(orderLines).values(
		things.flatMap((thing, position) =>
			(lines[position] ?? []).map((line) => ({
				...{ ...line, orderId, position, text: lineText(bought, thing) },
				...{ planId: thing.plan.id, priceVersionId: thing.price.id },
				discount: line.kind === 'fee' ? null : (thing.taken?.discount ?? null)
			}))
		)
	);
	if (giving) await keepGift(work, orderId, wish, bought, giving);
	const named = (what: (one: Bargain) => string) => things.map(what).filter(Boolean).join(', ');
	await work.note({
		action: 'began-order',
		subject: { kind: 'order', id: orderId },
		...(memberId === null ? {} : { memberId }),
		after: {
			...{ plan: named(({ plan }) => plan.name), price: named(({ price }) => price.name) },
			...{ payBy: processor, discount: things.find(({ taken }) => taken !== null)?.taken?.discount ?? null }
		}
	});
	const order = await orderById(work.tx, orderId);
	if (!order) throw new Error('The order was not written');
	const payment = await askedOf(work, order, bought);
	const { remindsAfterHours: hours } = bought.site;
	if (hours !== null && memberId !== null && payment && !giving)
		await queueReminder(work, orderId, memberId, hours);
	if (!bought.hasPage) await goOnByMail(work, order, bought);
	return { orderId, payment };
}

const codeOf = ({ things }: Bought) =>
	things.find(({ taken }) => taken?.codeId != null)?.taken?.codeId ?? null;
const currencyOf = ({ things }: Bought) => things[0]?.terms.currency ?? '';

/** What documents say: of a plan with several prices, which it was, and whether it was for somebody else. */
function lineText({ giving, site, seats }: Bought, { plan, price }: Bargain): string {
	const what = price.name === '' ? plan.name : `${plan.name}, ${price.name}`;
	const words = frontWords(site.language);
	const forMany = seats > 1 ? words.say('checkout.seats-line', { plan: what, count: seats }) : what;
	const text = giving ? words.say('checkout.gift-line', { plan: what }) : forMany;
	return text.slice(0, 200);
}

async function keepGift(
	{ tx }: Work,
	orderId: string,
	{ memberId, name }: OrderWish,
	{ things }: Bought,
	{ email, words, tellAt, access }: Giving
): Promise<void> {
	const planId = things[0]?.plan.id;
	if (planId === undefined) return;
	const giver = memberId === null ? null : await accountById(tx, memberId);
	const typed = { email, words, tellAt, access, giverName: giver?.name ?? name };
	await tx
		.insert(gifts)
		.values({ orderId, planId, ...typed })
		.onDuplicateKeyUpdate({ set: typed });
}

async function isAtPrice({ tx }: Work, order: Order, bought: Bought): Promise<boolean> {
	const { things, tax, seats } = bought;
	if (order.codeId !== codeOf(bought) || order.seats !== seats) return false;
	// As much may be paid of another tax.
	if (JSON.stringify(order.tax?.taxed ?? UNTAXED) !== JSON.stringify(tax.taxed)) return false;
	const lines = await mainLinesOf(tx, order.id);
	// The price of the first is for all of the people by now.
	const isSame = ({ price, terms }: Bargain, n: number) => {
		const line = lines[n];
		return (
			line?.priceVersionId === price.id &&
			isSameTerms(termsOfLine(price.terms, { ...order, seats: 1 }, line), terms)
		);
	};
	return lines.length === things.length && things.every(isSame);
}

/** Behind the code's lock: whether it takes off what was worked out before, and of the last uses nobody has had it since. */
async function codeNow(
	work: Work,
	wish: OrderWish,
	{ things }: Bought,
	of: { deviceHash: string; except: string | undefined }
): Promise<CodeRefused | null> {
	const { memberId, code } = wish;
	const { tx, now } = work;
	const buyer = { memberId, deviceHash: of.deviceHash, now };
	const [head] = things;
	if (!head) return null;
	const except = of.except === undefined ? {} : { except: { orderId: of.except } };
	const offers = await offersTo(tx, { ...buyer, ...except, plan: head.plan, typed: code }, true);
	const off = offAtAll(offers.typed, await pricedThings({ db: tx }, things, offers, buyer), now);
	if (!off.ok) return { code: off.code };
	const isSame = ({ price, terms }: Bargain, n: number) =>
		isSameTerms(withDiscount(price.terms, off.taken[n]?.discount ?? null), taxedTerms(terms, null));
	return things.every(isSame) ? null : { code: 'changed' };
}

/**
 * Without a page of a processor. Members have it at once, or are told how to pay; so does a new address that joins for nothing,
 * where the plan lets it in at once. Any other address is asked by mail: a known one is nobody's who typed it.
 */
async function goOnByMail(work: Work, order: Order, { things, site, isPaid }: Bought): Promise<void> {
	const { memberId, email } = order;
	const account = memberId === null ? null : await accountById(work.tx, memberId);
	const isFree = { payment: null, card: null };
	if (account && !isPaid) return fulfil(work, site, order, isFree);
	if (account?.provedAt != null) {
		await work.tx.update(orders).set({ stoodByAt: work.now }).where(eq(orders.id, order.id));
		return writeAboutOrder(work, order);
	}
	const isLetIn = email !== null && !isPaid && things.every(({ plan }) => plan.isOpenAtOnce);
	// Of several who type a new address at once, one has made it.
	const made = isLetIn ? await withNewBuyer(work, order) : null;
	return made ? fulfil(work, site, made, isFree) : writeAboutOrder(work, order);
}

/** How to pay it, or the link that stands by it. */
export async function writeAboutOrder(work: Work, { id, memberId }: Order): Promise<void> {
	const about = { occasion: 'order-waits' as const, orderId: id };
	const whom = memberId === null ? {} : { memberId };
	await work.queue('mail', about, whom);
}

/** The order's payment under way, or a new attempt where the last one was declined. */
async function askedOf(
	{ tx, now }: Work,
	order: Order,
	{ isPaid, hasPage }: Bought
): Promise<Payment | null> {
	if (!isPaid && !hasPage) return null;
	const [last] = await paymentsOfOrder(tx, order.id);
	if (last && last.state !== 'declined' && last.state !== 'expired') return last;
	const attempt = (last?.attempt ?? 0) + 1;
	const id = uuidv7();
	await tx.insert(payments).values({
		...{ id, memberId: order.memberId, orderId: order.id, period: 0, attempt },
		...{ idempotencyKey: `order:${order.id}:${attempt}`, processor: order.processor },
		...{ state: 'pending', amountMinor: order.totalMinor, currency: order.currency, createdAt: now }
	});
	return paymentById(tx, id);
}
