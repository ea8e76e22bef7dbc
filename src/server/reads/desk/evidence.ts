/**
 * What speaks for the publisher where a buyer's bank takes a payment back: who bought, what it was, what was handed over and mailed,
 * and what was opened of it since. As a paper, in English, for whoever decides.
 */
import { and, asc, desc, eq, gte, ne } from 'drizzle-orm';
import { openedByPlan } from '$core/access/policy';
import type { ProofSource } from '$core/billing/tax';
import { phaseOf } from '$core/billing/phases';
import { standingOf, type PaymentStanding } from '$core/billing/payment';
import { OWN_COLOUR, tonesOf } from '$core/looks/colour';
import { frontWords, type FrontWords } from '$words/front';
import { priceText } from '$words/price';
import type { Using } from '../../app';
import { agreementsOfOrder, courseNow } from '../../db/queries/agreements';
import { giftOfOrder, type Gift } from '../../db/queries/gifts';
import type { SentMail } from '../../db/queries/sent-mails';
import { accountById } from '../../db/queries/members';
import {
	cardByRef,
	disputeById,
	mainLinesOf,
	orderById,
	paymentById,
	paymentsOfOrder,
	plansOfOrder,
	statementNameOf,
	type Order,
	type Payment
} from '../../db/queries/sales';
import { linkOpenings, uses } from '../../db/schema/access';
import { positions } from '../../db/schema/library';
import { sentMails, type SiteSettings } from '../../db/schema/running';
import { documents } from '../../db/schema/sales';
import type { Report } from '../../ports/papers';
import { deskNames } from './names';

type Reading = Using<'clock' | 'db' | 'rights' | 'site'>;

/** Whoever decides reads no more. */
const MOST_ROWS = 300;
const MOST_ITEMS = 60;

export interface Evidence {
	orderNumber: string;
	at: number;
	report: Report;
}

/** `null`: there is no such dispute of the order. */
export async function evidenceOf(app: Reading, orderId: string, disputeId: string): Promise<Evidence | null> {
	const dispute = await disputeById(app.db, disputeId);
	const payment = dispute && (await paymentById(app.db, dispute.paymentId));
	const order = payment?.orderId === orderId ? await orderById(app.db, orderId) : null;
	if (!dispute || !payment || !order || order.memberId === null) return null;
	const site = await app.site();
	const words = frontWords('en');
	const say = saying(words, site, payment.currency);
	const at = app.clock.business();
	const { memberId } = order;
	const gift = await giftOfOrder(app.db, order.id);
	const sections = [
		await paymentsIn(app, order, say),
		await documentsIn(app, order, say),
		await openedIn(app, gift?.memberId ?? memberId, order.createdAt, say),
		await mailsIn(app, memberId, order.createdAt, say),
		await handedOver(app, order)
	];
	const { seller, siteName, looks } = site;
	return {
		...{ orderNumber: order.number, at },
		report: {
			language: words.locale,
			colour: tonesOf(looks.colour ?? OWN_COLOUR).light.moss,
			from: {
				name: seller.name || siteName,
				lines: [
					...seller.address.split('\n'),
					...(seller.taxNumber ? [`Tax number ${seller.taxNumber}`] : [])
				].filter((text) => text !== '')
			},
			title: `Disputed payment, order ${order.number}`,
			facts: [
				{ label: 'Disputed', value: `${say.money(dispute.amountMinor)}, on ${say.moment(dispute.openedAt)}` },
				...(await factsOf(app, { order, payment, memberId }, words, say)),
				...(gift ? giftFacts(gift, say) : []),
				{ label: 'Put together', value: `${say.moment(at)}; all times are those of ${site.zone}` }
			],
			sections
		}
	};
}

/** What was bought for somebody else was opened by them, and not by whoever paid. */
function giftFacts({ email, toldAt, openedAt }: Gift, say: Saying): Report['facts'] {
	const fact = (label: string, at: number | null) => (at === null ? [] : [{ label, value: say.moment(at) }]);
	return [
		{ label: 'A gift for', value: email ?? 'somebody who was deleted since' },
		...fact('They were told', toldAt),
		...fact('They opened it', openedAt)
	];
}

interface Saying {
	money(minor: number): string;
	moment(at: number): string;
}

function saying(words: FrontWords, { zone }: SiteSettings, currency: string): Saying {
	return {
		money: (minor) => words.money(minor, currency),
		moment: (at) => words.moment(at, zone)
	};
}

async function factsOf(
	app: Reading,
	{ order, payment, memberId }: { order: Order; payment: Payment; memberId: string },
	words: FrontWords,
	say: Saying
): Promise<Report['facts']> {
	const account = await accountById(app.db, memberId);
	const lines = await mainLinesOf(app.db, order.id);
	const every = await agreementsOfOrder(app.db, order.id);
	// What an agreement has asked for is of that alone.
	const own = every.filter(({ id }) => payment.agreementId === null || id === payment.agreementId);
	const cardRef = own.find((one) => one.cardRef !== null)?.cardRef;
	const card = cardRef ? await cardByRef(app.db, cardRef) : null;
	// As it was for what is disputed: what was agreed to at joining may have been moved since.
	const agreed: string[] = [];
	for (const one of own)
		agreed.push(priceText(words, phaseOf((await courseNow(app.db, one)).phases, payment.period).terms));
	const cancelled = own.flatMap(({ cancelledAt }) => cancelledAt ?? []);
	const { statementName } = await app.site();
	const proofs = order.tax?.proofs ?? [];
	const fact = (label: string, value: string | null) => (value === null ? [] : [{ label, value }]);
	return [
		...fact('Buyer', account ? [account.name, account.email].filter(Boolean).join(', ') : null),
		...fact('Account since', account && say.moment(account.createdAt)),
		...fact(
			'Mailbox proved',
			account?.provedAt ? `${say.moment(account.provedAt)}, by a mailed link that was pressed` : null
		),
		...fact(
			'Bought',
			`${lines.map(({ text }) => text).join(', ')}, ordered on ${say.moment(order.createdAt)}`
		),
		...fact('Agreed to', agreed.join('; ') || null),
		...fact(
			'Paid',
			payment.settledAt === null
				? null
				: `${say.money(payment.amountMinor)}, on ${say.moment(payment.settledAt)}`
		),
		...fact('Card kept now', card && `ending in ${card.ending}`),
		...fact('On the statement', (await statementNameOf(app.db, lines[0]?.planId)) ?? statementName),
		...fact(
			'Country of the buyer',
			proofs.length === 0
				? null
				: proofs.map(({ from, country }) => `${words.country(country)} by ${PROOFS[from]}`).join(', ')
		),
		...fact('Cancelled', cancelled.map(say.moment).join(', ') || 'Not before this paper')
	];
}

const PROOFS: Record<ProofSource, string> = {
	said: 'their own word',
	network: 'the network they ordered from',
	card: 'the card'
};

const STANDING: Record<PaymentStanding, string> = {
	pending: 'not paid yet',
	declined: 'declined',
	expired: 'ended unpaid',
	captured: 'paid',
	'part-refunded': 'refunded in part',
	refunded: 'refunded',
	disputed: 'disputed',
	won: 'paid, dispute won',
	lost: 'dispute lost'
};

async function paymentsIn(app: Reading, order: Order, say: Saying): Promise<Report['sections'][number]> {
	const all = (await paymentsOfOrder(app.db, order.id))
		.filter(({ state }) => state !== 'expired')
		.toReversed();
	return {
		title: 'Payments of this order',
		columns: [
			{ label: 'When', share: 0.42 },
			{ label: 'Payment', share: 0.16 },
			{ label: 'Amount', share: 0.2 },
			{ label: 'State', share: 0.22 }
		],
		...cut(
			all.map((one) => [
				say.moment(one.settledAt ?? one.createdAt),
				String(one.period + 1),
				say.money(one.amountMinor),
				STANDING[standingOf(one)]
			])
		),
		none: 'None.'
	};
}

async function documentsIn(app: Reading, order: Order, say: Saying): Promise<Report['sections'][number]> {
	const ids = new Set((await paymentsOfOrder(app.db, order.id)).map(({ id }) => id));
	const own = await app.db
		.select()
		.from(documents)
		.where(eq(documents.memberId, order.memberId ?? ''))
		.orderBy(asc(documents.issuedAt), asc(documents.number));
	return {
		title: 'Documents',
		columns: [
			{ label: 'When', share: 0.42 },
			{ label: 'Document', share: 0.36 },
			{ label: 'Amount', share: 0.22 }
		],
		...cut(
			own
				.filter(({ paymentId }) => ids.has(paymentId))
				.map(({ issuedAt, kind, number, amountMinor }) => [
					say.moment(issuedAt),
					`${kind === 'credit-note' ? 'Credit note' : kind === 'invoice' ? 'Invoice' : 'Receipt'} ${number}`,
					say.money(amountMinor)
				])
		),
		none: 'None.'
	};
}

/** What it opens: what the buyer got for it. */
async function handedOver(app: Reading, order: Order): Promise<Report['sections'][number]> {
	const policy = await app.rights.policy();
	const plans = await plansOfOrder(app.db, order.id);
	const every = plans.flatMap(({ id }) => openedByPlan(policy, id));
	const opened = [...new Map(every.map((resource) => [resource.id, resource])).values()];
	const { resources } = await deskNames(app);
	const rest = opened.length - MOST_ITEMS;
	return {
		title: 'What it opens now',
		columns: [
			{ label: 'Title', share: 0.62 },
			{ label: 'Kind', share: 0.38 }
		],
		rows: opened.slice(0, MOST_ITEMS).map(({ id, kind }) => [resources[id]?.title ?? '', kind]),
		none: 'Nothing.',
		...(rest > 0 ? { note: `And ${rest} more.` } : {})
	};
}

/** Since the order, of whatever the buyer held. */
async function openedIn(
	app: Reading,
	memberId: string,
	since: number,
	say: Saying
): Promise<Report['sections'][number]> {
	// Watching and fetching are written down by the wall clock, which in the demo is another one.
	const offset = app.clock.business() - app.clock.wall();
	const sinceByWall = since - offset;
	const [used, watched, linked] = await Promise.all([
		app.db
			.select({ itemId: uses.itemId, at: uses.at })
			.from(uses)
			.where(and(eq(uses.memberId, memberId), gte(uses.at, since)))
			.orderBy(desc(uses.at))
			.limit(MOST_ROWS),
		app.db
			.select({ itemId: positions.itemId, seconds: positions.seconds, at: positions.changedAt })
			.from(positions)
			.where(and(eq(positions.memberId, memberId), gte(positions.changedAt, sinceByWall)))
			.orderBy(desc(positions.changedAt))
			.limit(MOST_ROWS),
		app.db
			.select()
			.from(linkOpenings)
			.where(and(eq(linkOpenings.memberId, memberId), gte(linkOpenings.firstAt, sinceByWall)))
			.orderBy(desc(linkOpenings.firstAt))
			.limit(MOST_ROWS)
	]);
	const all = [
		...used.map(({ itemId, at }) => ({ itemId, at, how: 'Opened, and counted', from: '' })),
		...watched.map(({ itemId, at, seconds }) => ({
			...{ itemId, at: at + offset, how: `Watched or heard to ${clockOf(seconds)}`, from: '' }
		})),
		...linked.map(({ itemId, firstAt, network, requests }) => ({
			...{
				itemId,
				at: firstAt + offset,
				how: requests === 1 ? 'Fetched once' : `Fetched in ${requests} pieces`
			},
			from: network
		}))
	].sort((a, b) => a.at - b.at);
	const { resources } = await deskNames(app);
	return {
		title: 'What was opened since the order, and from where',
		columns: [
			{ label: 'When', share: 0.34 },
			{ label: 'What', share: 0.28 },
			{ label: 'How', share: 0.2 },
			{ label: 'From the network', share: 0.18 }
		],
		...cut(
			all.map(({ itemId, at, how, from }) => [
				say.moment(at),
				resources[itemId]?.title ?? 'Something that is gone',
				how,
				from
			])
		),
		none: 'Nothing is written down. Pages that are only read are not.'
	};
}

function clockOf(seconds: number): string {
	return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}

/** What the receiving server reported of a mail, as far as it did. */
const CAME_BACK: Record<SentMail['fate'], string> = {
	sent: 'Accepted',
	late: 'Delayed',
	refused: 'Returned',
	gone: 'Returned',
	complaint: 'Accepted',
	held: ''
};

async function mailsIn(
	app: Reading,
	memberId: string,
	since: number,
	say: Saying
): Promise<Report['sections'][number]> {
	const sent = await app.db
		.select()
		.from(sentMails)
		.where(and(eq(sentMails.memberId, memberId), gte(sentMails.at, since), ne(sentMails.fate, 'held')))
		.orderBy(asc(sentMails.at), asc(sentMails.id))
		.limit(MOST_ROWS);
	return {
		title: 'What was mailed to the buyer since the order',
		columns: [
			{ label: 'When', share: 0.28 },
			{ label: 'To', share: 0.24 },
			{ label: 'Subject', share: 0.34 },
			{ label: 'Delivery', share: 0.14 }
		],
		...cut(sent.map(({ at, address, subject, fate }) => [say.moment(at), address, subject, CAME_BACK[fate]])),
		none: 'Nothing is written down.'
	};
}

/** The latest of them, where there are too many. */
function cut(rows: string[][]): Pick<Report['sections'][number], 'rows' | 'note'> {
	if (rows.length <= MOST_ROWS) return { rows };
	return { rows: rows.slice(-MOST_ROWS), note: `The last ${MOST_ROWS} of ${rows.length}.` };
}
