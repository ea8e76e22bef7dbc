/** Composes a mail when it is sent, so that ways in are younger than the mail and never lie in the queue. */
import { isAwaited } from '$core/billing/order';
import type { Message } from '$core/billing/agreement-effects';
import { announcementOf } from '$core/billing/announcing';
import { amountAsked, paidThrough, phaseOf } from '$core/billing/phases';
import type { Using } from '../app';
import { accountByEmail, accountById, type Account } from '../db/queries/members';
import {
	agreementById,
	agreementsOfOrder,
	courseNow,
	heldInPlaceOf,
	livingAgreements
} from '../db/queries/agreements';
import { giftById } from '../db/queries/gifts';
import { seatById } from '../db/queries/seats';
import {
	cardByRef,
	lineById,
	lineOf,
	linesOfOrder,
	paymentsOfOrder,
	plansOfOrder,
	type OrderLine,
	orderById,
	paymentById,
	planById,
	planNames,
	priceVersionById,
	refundById,
	type Order
} from '../db/queries/sales';
import { waitingById } from '../db/queries/waiting-list';
import type { SiteSettings } from '../db/schema/running';
import type { Mail } from '../ports/mail';
import type { AddressChange } from '../usecases/accounts/change-address';
import { OFFLINE_WAITS_MS } from '../usecases/sales/end-pay-page';
import { leavingPath } from '../usecases/sales/waiting-list';
import { endingPath, isStillReminded } from '../usecases/sales/remind';
import { landingPath } from '../usecases/sales/landing';
import { pricesBesides } from '../usecases/sales/look-at-order';
import type { MailKey, MailText } from '$words/en/mail';
import { frontWords } from '$words/front';
import { languageOf, type Language, type LanguageCode } from '$words/languages';
import { recoveryCodesLeft } from '../db/queries/second-factors';
import { letter, type About } from './messages';
import type { Occasion } from './occasions';
import { aboutTold } from './told';

export type Words = Omit<Mail, 'key'> & { about: MailKey };

/** Ways in that a mail carries, and its words: of a mail that is sent, real ones. */
export interface Ways {
	signIn(accountId: string, next: string): Promise<string>;
	join(email: string, next: string, does?: { orderId?: string | null }): Promise<string>;
	address(accountId: string, email: string, change: AddressChange): Promise<string>;
	/** The publisher's own; `null`: those that Stile came with. */
	words(key: MailKey, language: LanguageCode): Promise<MailText | null>;
}

export type Composing = Using<'clock' | 'db' | 'keys' | 'rights' | 'settings' | 'site'> & {
	ways: Ways;
	/** Whatever the reader's is. */
	language?: LanguageCode;
};

/** `null`: there is nothing to say any more. */
export async function compose(app: Composing, about: Occasion): Promise<Words | null> {
	switch (about.occasion) {
		case 'invitation': {
			const account = await addressed(app, about.memberId);
			return account && invitation(app, account, about.planId);
		}
		case 'staff': {
			const account = await addressed(app, about.memberId);
			// Taken out again before it was sent: then there is nothing to say.
			return account && account.role !== 'member' ? staffInvitation(app, account) : null;
		}
		case 'new-address':
			return newAddressWords(app, about);
		case 'address-changed':
			return addressChangedWords(app, about);
		case 'second-factor':
			return factorWords(app, about);
		case 'told': {
			const told = await aboutTold(app, (reader) => siteFor(app, reader), about);
			return told && written(app, told.account, told.about);
		}
		case 'order':
		case 'had-already':
			return orderWords(app, about);
		case 'gift-bought':
			return giftBoughtWords(app, about.giftId);
		case 'gift':
			return giftWords(app, about.giftId);
		case 'seat':
			return seatWords(app, about.seatId);
		case 'order-waits':
			return waitingWords(app, about.orderId);
		case 'reminder':
			return reminderWords(app, about.orderId);
		case 'on-sale':
			return onSaleWords(app, about.waitingId);
		case 'order-refused':
			return refusedWords(app, about);
		case 'to-pay':
			return toPayWords(app, about.paymentId);
		case 'card-expires':
			return cardWords(app, about.cardRef);
		case 'renews-soon':
			return soonWords(app, about);
		case 'refund':
			return refundWords(app, about.refundId);
		case 'subscription':
			return agreementWords(app, about);
	}
}

/** The account, where it still has an address: nobody writes to one that was deleted. */
async function addressed(
	app: Composing,
	memberId: string | null
): Promise<(Account & { email: string }) | null> {
	const account = memberId === null ? null : await accountById(app.db, memberId);
	return account?.email ? { ...account, email: account.email } : null;
}

/** The site as it speaks to somebody. */
async function siteFor(app: Composing, reader: Pick<Account, 'language'> | null): Promise<SiteSettings> {
	const site = await app.site();
	return { ...site, language: app.language ?? reader?.language ?? site.language };
}

/** @param reader who has the address; `null`: nobody yet */
export async function written(
	app: Composing,
	reader: Pick<Account, 'language'> | null,
	about: Omit<About, 'origin'>
): Promise<Words> {
	const { origin } = app.settings;
	const site = await siteFor(app, reader);
	const own = await app.ways.words(about.key, site.language);
	return { ...letter(site, own, { ...about, origin }), about: about.key };
}

async function invitation(app: Composing, account: Account & { email: string }, planId: string | null) {
	const plan = planId === null ? null : ((await planNames(app.db, [planId])).get(planId) ?? null);
	const path = await landingPath(app, { memberId: account.id, planId, next: null });
	const url = await app.ways.signIn(account.id, path);
	const to = account.email;
	return plan === null
		? written(app, account, { key: 'invitation', to, values: {}, url })
		: written(app, account, { key: 'invitation-plan', to, values: { plan }, url });
}

/** To an address that is none of the account's yet; where another account has it, its owner is told that it stays theirs. */
async function newAddressWords(
	app: Composing,
	{ memberId, email: to, isByStaff }: Extract<Occasion, { occasion: 'new-address' }>
): Promise<Words | null> {
	const account = await addressed(app, memberId);
	if (!account || account.email === to || (isByStaff && account.role !== 'member')) return null;
	const other = await accountByEmail(app.db, to);
	if (other)
		return written(app, other, {
			key: 'address-taken',
			to,
			values: {},
			url: await app.ways.signIn(other.id, '/account')
		});
	return written(app, account, {
		key: 'new-address',
		to,
		values: {},
		url: await app.ways.address(memberId, to, { isByStaff })
	});
}

async function addressChangedWords(
	app: Composing,
	{ memberId, old: to, at }: Extract<Occasion, { occasion: 'address-changed' }>
): Promise<Words | null> {
	const account = await addressed(app, memberId);
	if (!account || account.email === to) return null;
	return written(app, account, {
		key: 'address-changed',
		to,
		values: { address: account.email },
		url: await app.ways.address(memberId, to, { undoes: at })
	});
}

async function staffInvitation(app: Composing, account: Account & { email: string }) {
	const url = await app.ways.signIn(account.id, '/desk');
	return written(app, account, { key: 'staff', to: account.email, values: {}, url });
}

async function orderWords(
	app: Composing,
	{ occasion, orderId, lineId }: { occasion: 'order' | 'had-already'; orderId: string; lineId?: string }
): Promise<Words | null> {
	const order = await orderById(app.db, orderId);
	const account = await addressed(app, order?.memberId ?? null);
	if (!order || !account) return null;
	// Of several things, it may be about one.
	const one = lineId === undefined ? null : await lineById(app.db, lineId);
	const line = one ?? (await lineOf(app.db, order.id));
	const plan = await planById(app.db, line.planId);
	if (!plan) return null;
	const totalMinor = one ? await thingTotal(app, one) : order.totalMinor;
	const plans = one ? [plan] : await plansOfOrder(app.db, order.id);
	const named = plans.map(({ name }) => name).join(', ');
	const note = plans.flatMap((each) => each.note || []).join('\n\n');
	const path = await landingPath(app, { memberId: account.id, planId: plan.id, next: order.next });
	const site = await siteFor(app, account);
	const amount = frontWords(site.language).money(totalMinor, order.currency);
	const parts = languageOf(site.language).mailParts;
	const held =
		occasion === 'had-already' ? await heldInPlaceOf(app.db, account.id, plan, app.clock.business()) : null;
	const other = held && held.planId !== plan.id ? await planById(app.db, held.planId) : null;
	if (other) {
		const isFree = totalMinor === 0;
		const values = { plan: named, held: other.name, ...(isFree ? {} : { amount }) };
		const key = isFree ? 'had-free' : 'had-another';
		return written(app, account, {
			key,
			to: account.email,
			values,
			url: await app.ways.signIn(account.id, '/account')
		});
	}
	if (occasion === 'had-already' && totalMinor === 0 && !held) return null;
	const begins = occasion === 'order' ? await beginsLater(app, order.id) : null;
	const day = begins === null ? '' : longDay(begins, site.zone, site.language);
	if (totalMinor === 0) {
		const url = await app.ways.signIn(account.id, path);
		const values = { plan: named, ...(day && { day }) };
		const key = day ? 'joined-later' : 'joined-plan';
		return written(app, account, { key, to: account.email, values, note, url });
	}
	return written(app, account, {
		key: day ? 'order-later' : occasion,
		to: account.email,
		values: {
			plan: named,
			...(day && { day }),
			amount,
			number: order.number,
			statement: plan.statementName ?? site.statementName
		},
		url: await app.ways.signIn(account.id, path),
		table: [
			{ label: parts.order, value: order.number },
			{ label: parts.plan, value: named },
			{ label: parts.paid, value: amount }
		],
		note: occasion === 'order' ? note : '',
		accountUrl: `${app.settings.origin}/account`
	});
}

/** What an order is of, by name. */
async function namesOf(app: Composing, orderId: string): Promise<string> {
	return (await plansOfOrder(app.db, orderId)).map(({ name }) => name).join(', ');
}

/** What was paid for one thing of an order, with its joining fee. */
async function thingTotal(app: Composing, { orderId, position }: OrderLine): Promise<number> {
	const lines = await linesOfOrder(app.db, orderId);
	return lines.reduce((sum, line) => sum + (line.position === position ? line.totalMinor : 0), 0);
}

/** The day on which what was bought begins, where that is still to come. */
async function beginsLater(app: Composing, orderId: string): Promise<number | null> {
	const begin = (await agreementsOfOrder(app.db, orderId)).map(({ anchor }) => anchor);
	const first = Math.min(...begin);
	return begin.length > 0 && first > app.clock.business() ? first : null;
}

/** To whoever gives it: what it was, for whom, and when they are told. */
async function giftBoughtWords(app: Composing, giftId: string): Promise<Words | null> {
	const gift = await giftById(app.db, giftId);
	const account = await addressed(app, gift?.giverId ?? null);
	const order = gift && (await orderById(app.db, gift.orderId));
	const plan = gift && (await planById(app.db, gift.planId));
	if (!gift || !account || !order || !plan) return null;
	const site = await siteFor(app, account);
	const amount = frontWords(site.language).money(order.totalMinor, order.currency);
	const { mailParts: parts } = languageOf(site.language);
	return written(app, account, {
		key: 'gift-bought',
		to: account.email,
		values: {
			...{ plan: plan.name, amount, number: order.number, address: gift.email ?? '' },
			day: longDay(gift.tellAt, site.zone, site.language),
			statement: plan.statementName ?? site.statementName
		},
		url: await app.ways.signIn(account.id, '/account'),
		table: [
			{ label: parts.order, value: order.number },
			{ label: parts.plan, value: plan.name },
			{ label: parts.paid, value: amount }
		]
	});
}

/** To whom it is for; `null`: it was opened meanwhile, or the money went back. */
async function giftWords(app: Composing, giftId: string): Promise<Words | null> {
	const gift = await giftById(app.db, giftId);
	if (gift?.state !== 'told' || gift.email === null) return null;
	const { id, email: to, planName: plan, giverName, words } = gift;
	const account = await accountByEmail(app.db, to);
	const site = await siteFor(app, account);
	const own = frontWords(site.language);
	// Whoever gave it may have been deleted since.
	const giver = giverName || site.siteName;
	const note = words === '' ? '' : own.say('gift.writes', { giver, words });
	const path = `/gifts/${id}`;
	const url = account ? await app.ways.signIn(account.id, path) : await app.ways.join(to, path);
	return written(app, account, { key: 'gift', to, values: { plan, giver }, note, url });
}

/** `null`: it was taken, or taken back. */
async function seatWords(app: Composing, seatId: string): Promise<Words | null> {
	const seat = await seatById(app.db, seatId);
	if (!seat || seat.email === null || seat.memberId !== null || seat.endedAt !== null) return null;
	const { email: to, planName: plan } = seat;
	const account = await accountByEmail(app.db, to);
	const giver = seat.giver || (await app.site()).siteName;
	const path = `/account/seat/${seatId}`;
	const url = account ? await app.ways.signIn(account.id, path) : await app.ways.join(to, path);
	return written(app, account, { key: 'seat', to, values: { plan, giver }, url });
}

/**
 * Of an order that goes on by mail. Whoever has shown that the mailbox is theirs is told how to pay; else the button stands by the
 * order, and makes the account where there is none.
 */
async function waitingWords(app: Composing, orderId: string): Promise<Words | null> {
	const order = await orderById(app.db, orderId);
	if (!order || !isAwaited(order.state)) return null;
	const account = await addressed(app, order.memberId);
	const to = account?.email ?? order.email;
	const plan = await planById(app.db, (await lineOf(app.db, order.id)).planId);
	if (to === null || !plan) return null;
	// Of what is paid in parts, what is left.
	const came = (await paymentsOfOrder(app.db, order.id)).filter(({ state }) => state === 'captured');
	const totalMinor = came.reduce((left, { amountMinor }) => left - amountMinor, order.totalMinor);
	const values = await payingValues(
		app,
		account,
		{ ...order, totalMinor },
		{
			plan: await namesOf(app, order.id),
			until: waitsUntil(order.createdAt)
		}
	);
	const path = `/checkout/return/${order.id}`;
	if (account && order.stoodByAt !== null)
		return written(app, account, {
			key: 'order-pay',
			to,
			values,
			url: await app.ways.signIn(account.id, path)
		});
	const key = order.totalMinor === 0 ? 'join-plan' : 'order-confirm';
	return written(app, account, {
		key,
		to,
		values,
		url: await app.ways.join(to, path, { orderId: order.id })
	});
}

/** What mails say of paying without a card. */
async function payingValues(
	app: Composing,
	account: Account | null,
	{ number, totalMinor, currency }: Pick<Order, 'number' | 'totalMinor' | 'currency'>,
	{ plan, until }: { plan: string; until: number }
) {
	const { language, offline, zone } = await siteFor(app, account);
	const how = { dateStyle: 'long', timeZone: zone } as const;
	const day = new Intl.DateTimeFormat(languageOf(language).locale, how).format(until);
	return { plan, number, day, how: offline.how, amount: frontWords(language).money(totalMinor, currency) };
}

function waitsUntil(createdAt: number): number {
	return createdAt + OFFLINE_WAITS_MS;
}

/** `null`: it was bought meanwhile, or is not wanted any more. */
async function reminderWords(app: Composing, orderId: string): Promise<Words | null> {
	const order = await orderById(app.db, orderId);
	const account = await addressed(app, order?.memberId ?? null);
	if (!order || !account || !(await isStillReminded(app, orderId))) return null;
	const { planId, priceVersionId } = await lineOf(app.db, order.id);
	const plan = await planById(app.db, planId);
	const { priceId } = await priceVersionById(app.db, priceVersionId);
	if (!plan) return null;
	const next = order.next === null ? '' : `&next=${encodeURIComponent(order.next)}`;
	const seats = order.seats > 1 ? `&seats=${order.seats}` : '';
	const besides = (await pricesBesides(app.db, order.id)).map((id) => `&with=${id}`).join('');
	const path = `/checkout/${plan.slug}?price=${priceId}${seats}${besides}${next}`;
	return written(app, account, {
		key: 'reminder',
		to: account.email,
		values: { plan: plan.name },
		url: await app.ways.signIn(account.id, path),
		endedAt: `${app.settings.origin}${endingPath(app, account.id)}`
	});
}

/** `null`: they wait no more. */
async function onSaleWords(app: Composing, waitingId: string): Promise<Words | null> {
	const waiting = await waitingById(app.db, waitingId);
	const plan = waiting && (await planById(app.db, waiting.planId));
	if (!waiting || !plan) return null;
	const { email: to } = waiting;
	const account = await accountByEmail(app.db, to);
	const path = `/checkout/${plan.slug}`;
	return written(app, account, {
		key: 'on-sale',
		to,
		values: { plan: plan.name },
		url: account ? await app.ways.signIn(account.id, path) : `${app.settings.origin}${path}`,
		endedAt: `${app.settings.origin}${leavingPath(app, plan.id, to)}`
	});
}

async function refusedWords(
	app: Composing,
	{ orderId, why }: { orderId: string; why: string }
): Promise<Words | null> {
	const order = await orderById(app.db, orderId);
	const account = await addressed(app, order?.memberId ?? null);
	const plan = order && (await planById(app.db, (await lineOf(app.db, order.id)).planId));
	if (!order || !account || !plan) return null;
	const plans = await namesOf(app, order.id);
	const values = await payingValues(app, account, order, { plan: plans, until: order.createdAt });
	const url = `${app.settings.origin}/plans/${plan.slug}`;
	return written(app, account, { key: 'order-refused', to: account.email, values: { ...values, why }, url });
}

/** Of what is due; `null`: it came in meanwhile. */
async function toPayWords(app: Composing, paymentId: string): Promise<Words | null> {
	const payment = await paymentById(app.db, paymentId);
	const account = await addressed(app, payment?.memberId ?? null);
	const order = payment && (await orderById(app.db, payment.orderId));
	const row = payment?.agreementId ? await agreementById(app.db, payment.agreementId) : null;
	const plan = row && (await planById(app.db, row.planId));
	if (payment?.state !== 'pending' || !account || !order || !plan) return null;
	const { open } = await courseNow(app.db, row);
	const asked = { number: order.number, totalMinor: payment.amountMinor, currency: payment.currency };
	const until = open?.until ?? app.clock.business();
	const values = await payingValues(app, account, asked, { plan: plan.name, until });
	const url = await app.ways.signIn(account.id, `/account/waiting/${payment.id}`);
	return written(app, account, { key: 'to-pay', to: account.email, values, url });
}

async function cardWords(app: Composing, cardRef: string): Promise<Words | null> {
	const card = await cardByRef(app.db, cardRef);
	const account = await addressed(app, card?.memberId ?? null);
	if (!card?.expires || !account) return null;
	const charged = (await livingAgreements(app.db, account.id, app.clock.business())).filter(
		(one) => one.cardRef === cardRef && one.nextAt !== null
	);
	const names = await planNames(
		app.db,
		charged.map(({ planId }) => planId)
	);
	if (names.size === 0) return null;
	const { language } = await siteFor(app, account);
	const plan = new Intl.ListFormat(languageOf(language).locale).format(names.values());
	return written(app, account, {
		key: 'card-expires',
		to: account.email,
		values: { plan, ending: card.ending, month: card.expires.split('-').reverse().join('/') },
		url: await app.ways.signIn(account.id, '/account')
	});
}

const FACTOR_MAILS = { on: 'code-asked', off: 'code-not-asked', recovery: 'recovery-code-used' } as const;

async function factorWords(
	app: Composing,
	{ memberId, what }: Extract<Occasion, { occasion: 'second-factor' }>
): Promise<Words | null> {
	const account = await addressed(app, memberId);
	if (!account) return null;
	return written(app, account, {
		key: FACTOR_MAILS[what],
		to: account.email,
		values: { count: await recoveryCodesLeft(app.db, memberId) },
		// No way in: whoever reads the mail is not therefore let in by it.
		url: `${app.settings.origin}/account/second`
	});
}

async function soonWords(
	app: Composing,
	{ agreementId, period }: Extract<Occasion, { occasion: 'renews-soon' }>
): Promise<Words | null> {
	const row = await agreementById(app.db, agreementId);
	const account = await addressed(app, row?.memberId ?? null);
	if (!row || !account) return null;
	const course = await courseNow(app.db, row);
	const coming = announcementOf(course);
	// It was cancelled since, or is charged already.
	if (coming?.period !== period) return null;
	const { planId, terms } = phaseOf(course.phases, period);
	const plan = await planById(app.db, planId);
	const { zone, language } = await siteFor(app, account);
	return written(app, account, {
		key: row.processor === 'card' ? 'renews-soon' : 'falls-due-soon',
		to: account.email,
		values: {
			plan: plan?.name ?? '',
			amount: frontWords(language).money(coming.amountMinor, terms.currency),
			day: longDay(coming.dueAt, zone, language)
		},
		url: await app.ways.signIn(account.id, '/account')
	});
}

function longDay(at: number, zone: string, language: string): string {
	const how = { dateStyle: 'long', timeZone: zone } as const;
	return new Intl.DateTimeFormat(languageOf(language).locale, how).format(at);
}

async function refundWords(app: Composing, refundId: string): Promise<Words | null> {
	const refund = await refundById(app.db, refundId);
	const payment = refund && (await paymentById(app.db, refund.paymentId));
	const account = await addressed(app, payment?.memberId ?? null);
	if (!refund || !payment || !account) return null;
	const order = await orderById(app.db, payment.orderId);
	// What is asked for by an agreement is of that alone.
	const own = payment.agreementId === null ? null : await agreementById(app.db, payment.agreementId);
	const plan = own && (await planById(app.db, own.planId));
	const { language } = await siteFor(app, account);
	const amount = frontWords(language).money(refund.amountMinor, payment.currency);
	return written(app, account, {
		key: refund.endsAccess ? 'refunded-shut' : 'refunded',
		to: account.email,
		values: {
			plan: plan?.name ?? (await namesOf(app, payment.orderId)),
			amount,
			number: order?.number ?? ''
		},
		url: await app.ways.signIn(account.id, '/account')
	});
}

async function agreementWords(
	app: Composing,
	{ agreementId, message, period, hasEnded }: Extract<Occasion, { occasion: 'subscription' }>
): Promise<Words | null> {
	const row = await agreementById(app.db, agreementId);
	const account = await addressed(app, row?.memberId ?? null);
	if (!row || !account) return null;
	const { state, phases, zone: own } = await courseNow(app.db, row);
	const said = phaseOf(phases, message === 'moves-later' ? period + 1 : period).planId;
	const plan = await planById(app.db, said);
	if (!plan) return null;
	const { zone, language } = await siteFor(app, account);
	// What was asked for; of what goes on again, what will be.
	const asked = OF_NEXT.has(message) ? period + 1 : period;
	const { currency } = phaseOf(phases, asked).terms;
	const amountMinor = amountAsked(phases, asked) ?? 0;
	// Of a payment of nothing there is nothing to say.
	if (message === 'renewed' && amountMinor === 0) return null;
	const amount = frontWords(language).money(amountMinor, currency);
	const until = paidThrough(phases, own, period) ?? app.clock.business();
	const day = longDay(until, zone, language);
	const isShut = state.kind === 'owing' && !state.hasAccess;
	const isOffline = row.processor === 'offline';
	const key = keyOf(message, { hasEnded, isShut, isOffline });
	const path = await pathAfter(app, key, plan, row);
	return written(app, account, {
		key,
		to: account.email,
		values: { plan: plan.name, amount, day },
		url: await app.ways.signIn(account.id, path),
		table: tableOf(key, languageOf(language).mailParts, { plan: plan.name, amount, day }),
		accountUrl: `${app.settings.origin}/account`
	});
}

function keyOf(
	message: Message,
	{ hasEnded, isShut, isOffline }: { hasEnded: boolean; isShut: boolean; isOffline: boolean }
): MailKey {
	if (message === 'lapsed' && isOffline) return 'lapsed-unpaid';
	if (message === 'cancelled' && hasEnded) return 'cancelled-now';
	return message === 'payment-declined' && isShut ? 'declined-shut' : message;
}

/** Messages that speak of the payment to come. */
const OF_NEXT: ReadonlySet<Message> = new Set([
	...(['resumed', 'goes-on', 'lowered', 'moves-later', 'price-changes', 'stays'] as const)
]);

const LEADS_IN: ReadonlySet<MailKey> = new Set([
	...(['renewed', 'resumed', 'goes-on', 'finished', 'moved', 'lowered'] as const)
]);

/** Where the button leads: to the content, to what is owed, to where it can be bought again, or to the account. */
async function pathAfter(
	app: Composing,
	key: MailKey,
	plan: { id: string; slug: string },
	{ id: agreementId, memberId }: { id: string; memberId: string }
): Promise<string> {
	if (LEADS_IN.has(key)) return landingPath(app, { memberId, planId: plan.id, next: null });
	if (key === 'payment-declined' || key === 'declined-shut') return `/account/pay/${agreementId}`;
	return key === 'lapsed' || key === 'lapsed-unpaid' ? `/checkout/${plan.slug}` : '/account';
}

function tableOf(
	key: MailKey,
	parts: Language['mailParts'],
	{ plan, amount, day }: { plan: string; amount: string; day: string }
) {
	const named = { label: parts.plan, value: plan };
	switch (key) {
		case 'renewed':
			return [named, { label: parts.paid, value: amount }, { label: parts.openUntil, value: day }];
		case 'finished':
			return [named, { label: parts.paid, value: amount }];
		case 'cancelled':
		case 'rests':
			return [named, { label: parts.openUntil, value: day }];
		case 'resumed':
		case 'goes-on':
			return [named, { label: parts.nextPayment, value: `${amount}, ${day}` }];
		default:
			return [];
	}
}
