/**
 * From the checkout form to wherever it goes on: the processor's page, the page that says how to pay, or thanks for what asks for
 * nothing. What is to be paid grants nothing here.
 */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { includedFor } from '$core/access/included';
import { offAt, type OffAnswer, type Taken } from '$core/billing/discount-code';
import { giftOf, tellAt, type GiftOf } from '$core/billing/gift';
import { linesOf, orderTotal } from '$core/billing/order';
import { MOST_SEATS, seatedTerms } from '$core/billing/seats';
import { waysToPay, type ProcessorName } from '$core/billing/pay-by';
import { sellsAt } from '$core/billing/plan-access';
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
import { hasPlaceNow, withPlaces } from '../../db/queries/places';
import {
	lineOf,
	orderById,
	paymentById,
	paymentsOfOrder,
	planBySlug,
	type OfferedPlan,
	type OfferedPrice,
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
import { endOrder } from './end-pay-page';
import { fulfil, withNewBuyer } from './fulfil-order';
import { giftKey, memberKey, strangerKey } from './open-key';
import { orderNumber } from './numbers';
import { payPage } from './pay-page';
import { queueReminder } from './remind';
import { isSoldTo } from './sold-to';
import type { Selling } from './selling';
import { orderTax, taxAsked, termsOfOrder, type TaxWishProblem } from './tax-order';
import { offersToBuyer } from './take-off';

export interface OrderWish {
	planSlug: string;
	/** Which of the plan's prices; `null`: the first. */
	priceId: string | null;
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
	const known = await planBySlug(app.db, wish.planSlug);
	if (!known) return { ok: false, code: 'unknown-plan' };
	const now = app.clock.business();
	const buyer = { memberId: wish.memberId, deviceHash: hashOf(wish.deviceToken) };
	const [plan = known] = await withPlaces(app.db, [known], { now, buyer });
	if (plan.isFull && sellsAt(known, now)) return { ok: false, code: 'price-gone' };
	if (!sellsAt(plan, now) || plan.buyAt !== null) return { ok: false, code: 'not-on-sale' };
	if (!(await isSoldTo(app, wish.memberId, plan))) return { ok: false, code: 'not-on-sale' };
	const listed = wish.priceId === null ? plan.price : plan.prices.find((one) => one.priceId === wish.priceId);
	const isGone = known.prices.some(({ priceId }) => priceId === wish.priceId);
	if (!listed) return { ok: false, code: isGone ? 'price-gone' : 'unknown-price' };
	const postal = plan.asksPostal ? (wish.postal ?? null) : null;
	if (plan.asksPostal && !(postal && isWholePostal(postal))) return { ok: false, code: 'no-postal' };
	const site = await app.site();
	const giving = wish.gift ? await givingOf(app, wish, wish.gift, { plan, terms: listed.terms }) : null;
	if (giving && !giving.ok) return giving;
	const { seats = 1 } = wish;
	const isForMany = Number.isInteger(seats) && seats > 1 && seats <= MOST_SEATS;
	if (seats !== 1 && (!isForMany || !plan.sellsSeats || giving)) return { ok: false, code: 'no-seats' };
	const seated = { ...listed, terms: seatedTerms(listed.terms, seats) };
	const price = giving ? { ...listed, terms: giving.terms } : seated;
	const isAgain =
		!giving && asksForMoney(price.terms) && !wish.wantsAgain && (await hasAll(app, wish.memberId, plan.id));
	if (isAgain) return { ok: false, code: 'included' };
	const ways = waysToPay(site.payBy, plan.payBy);
	const processor = wish.payBy ?? ways[0] ?? 'card';
	if (!ways.includes(processor)) return { ok: false, code: 'unknown-way' };
	const offers = await offersToBuyer(app, { ...wish, plan });
	if (!offers) return { ok: false, code: 'too-many-codes' };
	const off = offAt(offers, plan.id, price.terms, now);
	if (!off.ok) return off;
	const asked = taxAsked(app, site.tax, price.terms, wish);
	if (!asked.ok) return asked;
	const { buyer: taxed, proofs } = asked;
	const day = localDay(now, site.zone);
	const tax = { ...orderTax(site.tax, taxed, day), proofs };
	const terms = taxedTerms(withDiscount(price.terms, off.taken?.discount ?? null), termsTax(tax.taxed));
	if (wish.seenMinor !== null && wish.seenMinor !== orderTotal(linesOf(terms, tax.taxed)))
		return { ok: false, code: 'changed' };
	const taken = { taken: off.taken, tax, terms, ...askingFor(terms, processor) };
	// Whoever gives pays for it: nobody mails strangers for nothing.
	if (giving && !taken.isPaid) return { ok: false, code: 'gift-free' };
	if (seats > 1 && !taken.isPaid) return { ok: false, code: 'seats-free' };
	const bought: Bought = { plan, price, seats, processor, site, giving, postal, ...taken };
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
	const to = { plan, returnPath: `/checkout/return/${orderId}` };
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

interface Bought extends Asking {
	plan: OfferedPlan;
	/** Its terms are for all of the people. */
	price: OfferedPrice;
	seats: number;
	taken: Taken | null;
	tax: OrderTax;
	/** Of the price, with what is taken off it, and its tax. */
	terms: Terms;
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

function askingFor(terms: Terms, processor: ProcessorName): Asking {
	const isPaid = (amountDue(terms, 0) ?? 0) > 0;
	return { isPaid, hasPage: processor === 'card' && (isPaid || terms.then.kind === 'more') };
}

/** The plan, or another rung of its ladder: then one moves. */
type Held = { code: 'has-plan' } | { code: 'has-rung'; agreementId: string };

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
	const { plan, price, processor, taken, terms, giving } = bought;
	if (memberId !== null) {
		await lockAccount(work.tx, memberId);
		// Whoever holds it gives it to others.
		const held = giving ? null : await heldInPlaceOf(work.tx, memberId, plan, work.now);
		if (held)
			return held.planId === plan.id ? { code: 'has-plan' } : { code: 'has-rung', agreementId: held.id };
	}
	const deviceHash = hashOf(wish.deviceToken);
	const ownKey = memberId !== null ? memberKey(memberId, plan.id) : strangerKey(deviceHash, email, plan.id);
	const openKey = giving ? giftKey(ownKey, giving.email) : ownKey;
	const [open] = await work.tx.select().from(orders).where(eq(orders.openKey, openKey)).for('update');
	const { postal } = bought;
	const typed = {
		...{ typedName: wish.name || null, typedPasswordHash: passwordHash },
		...{ next: wish.next, postal }
	};
	const isSame = open?.deviceHash === deviceHash && open.processor === processor;
	const refused = await codeNow(work, wish, bought, { deviceHash, except: open?.id });
	if (refused) return refused;
	const own = open && { memberId, deviceHash, except: { orderId: open.id } };
	if (!(await hasPlaceNow(work.tx, price, work.now, own))) return { code: 'price-gone' };
	if (open && isSame && (await isAtPrice(work, open, bought))) {
		await work.tx
			.update(orders)
			.set({ ...typed, tax: bought.tax })
			.where(eq(orders.id, open.id));
		if (giving) await keepGift(work, open.id, wish, bought, giving);
		// Whoever asks again has not got the mail.
		if (open.state === 'waiting' && open.stoodByAt === null) await writeAboutOrder(work, open);
		return { orderId: open.id, payment: await askedOf(work, open, bought) };
	}
	// Begun elsewhere or at another price. If it is paid all the same, settling decides what becomes of it.
	if (open) await endOrder(work, open, 'replaced');
	const orderId = uuidv7();
	const lines = linesOf(terms, bought.tax.taxed);
	await work.tx.insert(orders).values({
		...{ codeId: taken?.codeId ?? null, discount: taken?.discount ?? null, tax: bought.tax },
		...{ id: orderId, number: await orderNumber(work), memberId, email },
		state: bought.hasPage ? 'open' : 'waiting',
		...{ totalMinor: orderTotal(lines), currency: terms.currency, processor, seats: bought.seats },
		...{ openKey, deviceHash, ...typed, createdAt: work.now }
	});
	await work.tx.insert(orderLines).values(
		lines.map((line) => ({
			...{ ...line, orderId, text: lineText(bought) },
			...{ planId: plan.id, priceVersionId: price.id }
		}))
	);
	if (giving) await keepGift(work, orderId, wish, bought, giving);
	await work.note({
		action: 'began-order',
		subject: { kind: 'order', id: orderId },
		...(memberId === null ? {} : { memberId }),
		after: { plan: plan.name, price: price.name, payBy: processor, discount: taken?.discount ?? null }
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

/** What documents say: of a plan with several prices, which it was, and whether it was for somebody else. */
function lineText({ plan, price, giving, site, seats }: Bought): string {
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
	{ plan }: Bought,
	{ email, words, tellAt, access }: Giving
): Promise<void> {
	const giver = memberId === null ? null : await accountById(tx, memberId);
	const typed = { email, words, tellAt, access, giverName: giver?.name ?? name };
	await tx
		.insert(gifts)
		.values({ orderId, planId: plan.id, ...typed })
		.onDuplicateKeyUpdate({ set: typed });
}

async function isAtPrice({ tx }: Work, order: Order, bought: Bought): Promise<boolean> {
	const { price, taken, terms, tax, seats } = bought;
	if (order.codeId !== (taken?.codeId ?? null) || order.seats !== seats) return false;
	// The price is for all of them by now.
	if (!isSameTerms(termsOfOrder(price.terms, { ...order, seats: 1 }), terms)) return false;
	// As much may be paid of another tax.
	if (JSON.stringify(order.tax?.taxed ?? UNTAXED) !== JSON.stringify(tax.taxed)) return false;
	return (await lineOf(tx, order.id)).priceVersionId === price.id;
}

/** Behind the code's lock: whether it takes off what was worked out before, and of the last uses nobody has had it since. */
async function codeNow(
	work: Work,
	wish: OrderWish,
	{ plan, price, terms }: Bought,
	of: { deviceHash: string; except: string | undefined }
): Promise<CodeRefused | null> {
	const { memberId, code } = wish;
	const ask = { plan, typed: code, memberId, now: work.now, deviceHash: of.deviceHash };
	const except = of.except === undefined ? {} : { except: { orderId: of.except } };
	const off = offAt(await offersTo(work.tx, { ...ask, ...except }, true), plan.id, price.terms, work.now);
	if (!off.ok) return { code: off.code };
	const now = withDiscount(price.terms, off.taken?.discount ?? null);
	return isSameTerms(now, taxedTerms(terms, null)) ? null : { code: 'changed' };
}

/**
 * Without a page of a processor. Members have it at once, or are told how to pay; so does a new address that joins for nothing,
 * where the plan lets it in at once. Any other address is asked by mail: a known one is nobody's who typed it.
 */
async function goOnByMail(work: Work, order: Order, { plan, site, isPaid }: Bought): Promise<void> {
	const { memberId, email } = order;
	const account = memberId === null ? null : await accountById(work.tx, memberId);
	const isFree = { payment: null, card: null };
	if (account && !isPaid) return fulfil(work, site, order, isFree);
	if (account?.provedAt != null) {
		await work.tx.update(orders).set({ stoodByAt: work.now }).where(eq(orders.id, order.id));
		return writeAboutOrder(work, order);
	}
	const isLetIn = email !== null && !isPaid && plan.isOpenAtOnce;
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
