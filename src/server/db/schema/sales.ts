import { bigint, boolean, char, index, int, mysqlTable, unique, varchar } from 'drizzle-orm/mysql-core';
import type { AfterLapse } from '../../../core/access/model';
import type { LedgerAccount, LedgerKind } from '../../../core/billing/ledger';
import type { DisputeState, PaymentState } from '../../../core/billing/payment';
import type { Beginning } from '../../../core/billing/agreement';
import type { EndReason, AgreementFact, AgreementState } from '../../../core/billing/agreement-facts';
import type { Discount, LessFor } from '../../../core/billing/discount';
import type { Agreed } from '../../../core/billing/phases';
import type { OutsideDeed } from '../../../core/billing/outside';
import type { PlanAccess } from '../../../core/billing/plan-access';
import type { Terms } from '../../../core/billing/terms';
import type { LineKind, OrderState } from '../../../core/billing/order';
import type { ProcessorName } from '../../../core/billing/pay-by';
import type { AgreedTax, OrderTax, TaxedBuyer } from '../../../core/billing/tax';
import type { Why } from '../../../core/measure/recurring';
import type { Postal } from '../../../core/text/postal';
import type { CalendarUnit } from '../../../core/time/calendar';
import { accounts } from './people';
import { exactText, id, instant, json, uuid } from './types';

const processorName = () =>
	varchar('processor', { length: 8 }).$type<ProcessorName>().notNull().default('card');

/** Plans of which a member holds one at a time. */
export const ladders = mysqlTable('ladders', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull()
});

export const plans = mysqlTable('plans', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull(),
	/** The last part of the plan page's address. */
	slug: exactText('slug', 80).notNull().unique(),
	/** What you get, a line each. */
	lines: json<string[]>()('lines').notNull(),
	/** What buyers read when they have it: on the page that thanks them, and in the mail. */
	note: varchar('note', { length: 2000 }).notNull().default(''),
	/** In which order plans are offered; of those that nobody has put in order, all 0, the cheaper stands first. */
	position: int('position').notNull().default(0),
	isPublic: boolean('is_public').notNull(),
	isOnSale: boolean('is_on_sale').notNull(),
	/** When selling opens and closes, where it does. */
	sellsFrom: instant('sells_from'),
	sellsUntil: instant('sells_until'),
	/** What is bought before this day begins on it, for all alike. */
	firstDay: instant('first_day'),
	/** Whether people may leave their address while it is not sold. */
	hasWaitingList: boolean('has_waiting_list').notNull().default(false),
	/** Shown and sold only to whoever may open this; `null`: to everybody. */
	soldTo: uuid('sold_to'),
	/** How long it gives access, once it is bought. */
	access: json<PlanAccess>()('access').notNull().default({ kind: 'while-paid' }),
	/** Its own ways to pay, the first choice first; `null`: as the site. */
	payBy: json<readonly ProcessorName[]>()('pay_by'),
	/** Whether joining for nothing lets a new address in at once, on the device that typed it; else the mailed link does. */
	isOpenAtOnce: boolean('is_open_at_once').notNull().default(true),
	/** What a tenure does after a lapse. */
	afterLapse: varchar('after_lapse', { length: 12 }).$type<AfterLapse>().notNull(),
	/** What holders of some other plans pay less. */
	lessFor: json<LessFor>()('less_for'),
	ladderId: uuid('ladder_id'),
	/** Whether going down from it is at once, for what is paid, and not at the end of that. */
	isDownAtOnce: boolean('is_down_at_once').notNull().default(false),
	/** From the lowest, 0. */
	rung: int('rung').notNull().default(0),
	/** Where it is bought, if that is another checkout than ours. */
	buyAt: varchar('buy_at', { length: 500 }),
	/** How its seller stands on card statements; `null`: as the site. */
	statementName: varchar('statement_name', { length: 22 }),
	/** The mailing list of whoever holds it, as programs that are told know it; `null`: none of its own. */
	mailingList: varchar('mailing_list', { length: 120 }),
	/** Whether it can be bought for somebody else. */
	sellsAsGift: boolean('sells_as_gift').notNull().default(false),
	/** Whether it can be bought for several people, its price for each. */
	sellsSeats: boolean('sells_seats').notNull().default(false),
	/** Whether something is sent by post to whoever buys it. */
	asksPostal: boolean('asks_postal').notNull().default(false),
	/** Since when every new account is given it; `null`: none is. */
	givenFrom: instant('given_from'),
	/** What it sells alone. */
	soleItemId: uuid('sole_item_id').unique(),
	/** A label on members: held like a plan, without a price, and given by staff alone. */
	isLabel: boolean('is_label').notNull().default(false),
	createdAt: instant('created_at').notNull()
});

/** What a plan costs: it may have several, with the same rights. */
export const prices = mysqlTable('prices', {
	id: id(),
	planId: uuid('plan_id')
		.notNull()
		.references(() => plans.id),
	/** What buyers choose it by, such as “by the year”. */
	name: varchar('name', { length: 80 }).notNull().default(''),
	/** The first is chosen first. */
	position: int('position').notNull().default(0),
	isOnSale: boolean('is_on_sale').notNull(),
	/** For so many buyers, the first; `null`: for all. */
	firstBuyers: int('first_buyers')
});

/** Who is told when a plan is sold again; each has shown that the mailbox is theirs. */
export const waitingList = mysqlTable(
	'waiting_list',
	{
		id: id(),
		planId: uuid('plan_id')
			.notNull()
			.references(() => plans.id),
		email: exactText('email', 254).notNull(),
		at: instant('at').notNull(),
		/** When the mail was sent off that says it: then they wait no more. */
		toldAt: instant('told_at')
	},
	(t) => [
		unique('waiting_list_once').on(t.planId, t.email),
		index('waiting_list_next').on(t.planId, t.toldAt, t.at),
		index('waiting_list_told').on(t.toldAt),
		index('waiting_list_email').on(t.email)
	]
);

/** What a price was and is. Rows are never changed (a trigger refuses it): the newest version is on sale. */
export const priceVersions = mysqlTable(
	'price_versions',
	{
		id: id(),
		priceId: uuid('price_id')
			.notNull()
			.references(() => prices.id),
		version: int('version').notNull(),
		/** What it asks for, and when. */
		terms: json<Terms>()('terms').notNull(),
		createdAt: instant('created_at').notNull()
	},
	(t) => [unique('price_versions_once').on(t.priceId, t.version)]
);

export const orders = mysqlTable(
	'orders',
	{
		id: id(),
		number: varchar('number', { length: 20 }).notNull().unique(),
		/** Who bought; `null` while a stranger's order is not paid: it makes no member. */
		memberId: uuid('member_id').references(() => accounts.id),
		/** The address that a stranger typed. */
		email: exactText('email', 254),
		state: varchar('state', { length: 10 }).$type<OrderState>().notNull(),
		totalMinor: bigint('total_minor', { mode: 'number' }).notNull(),
		currency: char('currency', { length: 3 }).notNull(),
		/** How its buyer pays. */
		processor: processorName(),
		/** The code that takes something off. */
		codeId: uuid('code_id'),
		/** For how many people it is. */
		seats: int('seats').notNull().default(1),
		/** What tax is in it, of whom it depends, and how that is known; `null` for rows from before tax was kept. */
		tax: json<OrderTax>()('tax'),
		/** SHA-256 of the token in the cookie of the device that ordered. */
		deviceHash: char('device_hash', { length: 64 }).notNull(),
		/** When paying signed that device in: once. */
		signedInAt: instant('signed_in_at'),
		/** The name and password typed at checkout, taken over when the order claims the account; cleared when it ends. */
		typedName: varchar('typed_name', { length: 120 }),
		typedPasswordHash: varchar('typed_password_hash', { length: 200 }),
		/** Where it is sent by post, where its plan asks for that. */
		postal: json<Postal>()('postal'),
		/** Path the buyer came from and lands on. */
		next: varchar('next', { length: 700 }),
		createdAt: instant('created_at').notNull(),
		paidAt: instant('paid_at'),
		/** The agreement that it moves to another price. */
		movesId: uuid('moves_id'),
		/** The order after which it was offered, and taken by one press. */
		extraOf: uuid('extra_of'),
		/** Since when it is known that the mailbox is its buyer's, where money is waited for. */
		stoodByAt: instant('stood_by_at')
	},
	(t) => [
		index('orders_member').on(t.memberId),
		index('orders_email').on(t.email),
		index('orders_created').on(t.createdAt),
		index('orders_state').on(t.state, t.createdAt),
		index('orders_listed').on(t.state, t.memberId),
		index('orders_code').on(t.codeId, t.state),
		index('orders_device').on(t.deviceHash)
	]
);

export const orderLines = mysqlTable(
	'order_lines',
	{
		id: id(),
		orderId: uuid('order_id')
			.notNull()
			.references(() => orders.id),
		kind: varchar('kind', { length: 8 }).$type<LineKind>().notNull().default('plan'),
		/** What it says, as it was bought. */
		text: varchar('text', { length: 200 }).notNull(),
		planId: uuid('plan_id').notNull(),
		/** The version it was bought at. */
		priceVersionId: uuid('price_version_id')
			.notNull()
			.references(() => priceVersions.id),
		/** Which thing of the order it belongs to, in the order in which they were put; what an order is of first is 0. */
		position: int('position').notNull().default(0),
		/** What was taken off of it, whyever. */
		discount: json<Discount>()('discount'),
		/** What it has begun, or moved; `null`: nothing yet. */
		agreementId: uuid('agreement_id'),
		/** Before discounts, in minor units. */
		amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
		discountMinor: bigint('discount_minor', { mode: 'number' }).notNull().default(0),
		/** Part of the total, or on top of it, as the line was sold. */
		taxMinor: bigint('tax_minor', { mode: 'number' }).notNull().default(0),
		/** What is paid for it. */
		totalMinor: bigint('total_minor', { mode: 'number' }).notNull()
	},
	(t) => [
		index('order_lines_order').on(t.orderId),
		index('order_lines_plan').on(t.planId),
		index('order_lines_agreement').on(t.agreementId)
	]
);

/** By what orders stand: of each there is one, as long as it is neither paid nor ended. */
export const orderClaims = mysqlTable(
	'order_claims',
	{
		id: id(),
		/** Of a member and a plan or its ladder; of a stranger's device and address with it (usecases/sales/claims.ts). */
		key: varchar('claim_key', { length: 80 }).notNull(),
		orderId: uuid('order_id')
			.notNull()
			.references(() => orders.id)
	},
	(t) => [unique('order_claims_once').on(t.key), index('order_claims_order').on(t.orderId)]
);

/** What buyers of a plan are offered besides when they have paid. */
export const extras = mysqlTable(
	'extras',
	{
		id: id(),
		/** After what. */
		planId: uuid('plan_id')
			.notNull()
			.references(() => plans.id),
		/** What is offered. */
		priceId: uuid('price_id')
			.notNull()
			.references(() => prices.id),
		/** What the publisher says of it. */
		words: varchar('words', { length: 500 }).notNull().default(''),
		/** What is taken off it there. */
		less: json<Discount>()('less'),
		/** The first is offered first. */
		position: int('position').notNull(),
		createdAt: instant('created_at').notNull(),
		/** From then on it is offered no more. */
		endedAt: instant('ended_at')
	},
	(t) => [index('extras_plan').on(t.planId, t.endedAt)]
);

/** What buyers have answered: each offer after an order once. */
export const extraAnswers = mysqlTable(
	'extra_answers',
	{
		id: id(),
		orderId: uuid('order_id')
			.notNull()
			.references(() => orders.id),
		extraId: uuid('extra_id')
			.notNull()
			.references(() => extras.id),
		takes: boolean('takes').notNull(),
		/** The order that was made of it. */
		takenId: uuid('taken_id'),
		at: instant('at').notNull()
	},
	(t) => [
		unique('extra_answers_once').on(t.orderId, t.extraId),
		index('extra_answers_extra').on(t.extraId, t.takenId)
	]
);

/** What is bought for somebody else: it waits for them from when it is paid, and is an agreement of theirs once it is opened. */
export const gifts = mysqlTable(
	'gifts',
	{
		id: id(),
		orderId: uuid('order_id')
			.notNull()
			.unique()
			.references(() => orders.id),
		planId: uuid('plan_id').notNull(),
		/** How long it opens, as it was bought. */
		access: json<PlanAccess>()('access').notNull(),
		/** Who gives it, as they call themselves; empty when they were deleted. */
		giverName: varchar('giver_name', { length: 120 }).notNull(),
		/** Whose mailbox it is for; `null`: whoever had it was deleted. */
		email: exactText('email', 254),
		/** What the giver says. */
		words: varchar('words', { length: 500 }).notNull().default(''),
		tellAt: instant('tell_at').notNull(),
		/** When the mail was sent off that says it, the last one. */
		toldAt: instant('told_at'),
		/** Who has opened it. */
		memberId: uuid('member_id'),
		openedAt: instant('opened_at')
	},
	(t) => [index('gifts_email').on(t.email), index('gifts_member').on(t.memberId)]
);

/** What stands behind everything that is bought: paid once, by instalments, or until it is ended. */
export const agreements = mysqlTable(
	'agreements',
	{
		id: id(),
		memberId: uuid('member_id')
			.notNull()
			.references(() => accounts.id),
		planId: uuid('plan_id').notNull(),
		orderLineId: uuid('order_line_id').notNull().unique(),
		priceVersionId: uuid('price_version_id').notNull(),
		/** As agreed at joining, whatever becomes of the price and the plan. */
		agreed: json<Agreed>()('agreed').notNull(),
		/** For how many people it is, the buyer among them. */
		seats: int('seats').notNull().default(1),
		/** What was agreed of tax; `null`: nothing was said of it. */
		tax: json<AgreedTax>()('tax'),
		/** Length of the periods that are paid now; `null` where nothing is paid by the period. */
		periodUnit: varchar('period_unit', { length: 6 }).$type<CalendarUnit>(),
		periodCount: int('period_count'),
		grantId: uuid('grant_id').notNull(),
		/** Where its facts begin; `null` for rows from before facts were kept: they begin with what the row says. */
		beginning: json<Beginning>()('beginning'),
		/** The processor's reference to the vaulted card; `null` where nothing more is charged. */
		cardRef: varchar('card_ref', { length: 80 }),
		/** Whom it is asked of. */
		processor: processorName(),
		anchor: instant('anchor').notNull(),
		zone: varchar('zone', { length: 60 }).notNull(),
		state: varchar('state', { length: 10 }).$type<AgreementState['kind']>().notNull(),
		period: int('period').notNull(),
		/** The try that is under way or comes next; 0: none. */
		attempt: int('attempt').notNull(),
		/** The end of what is paid; `null`: of what was paid once. */
		paidThrough: instant('paid_through'),
		/** What is asked for next, and when; `null`: nothing. */
		nextAt: instant('next_at'),
		nextMinor: bigint('next_minor', { mode: 'number' }),
		/** Whether its steps of recurring income are written; not yet of rows from before there were any. */
		isIncomeKept: boolean('is_income_kept').notNull().default(false),
		endReason: varchar('end_reason', { length: 10 }).$type<EndReason>(),
		endedAt: instant('ended_at'),
		cancelledAt: instant('cancelled_at'),
		cancelWhy: varchar('cancel_why', { length: 20 }),
		cancelWords: varchar('cancel_words', { length: 1000 })
	},
	(t) => [
		index('agreements_member').on(t.memberId),
		index('agreements_plan').on(t.planId, t.anchor),
		index('agreements_grant').on(t.grantId),
		index('agreements_income').on(t.isIncomeKept),
		index('agreements_began').on(t.anchor),
		index('agreements_counted').on(t.state, t.periodUnit),
		index('agreements_state').on(t.state, t.anchor)
	]
);

/** Seats that whoever bought for several has given. */
export const seats = mysqlTable(
	'seats',
	{
		id: id(),
		agreementId: uuid('agreement_id')
			.notNull()
			.references(() => agreements.id),
		/** Whose mailbox it is for; `null`: whoever had it was deleted. */
		email: exactText('email', 254),
		invitedAt: instant('invited_at').notNull(),
		/** Who has taken it. */
		memberId: uuid('member_id'),
		joinedAt: instant('joined_at'),
		/** What it gave last. */
		grantId: uuid('grant_id'),
		/** When it was taken back. */
		endedAt: instant('ended_at')
	},
	(t) => [
		index('seats_agreement').on(t.agreementId, t.endedAt),
		index('seats_email').on(t.email),
		index('seats_member').on(t.memberId)
	]
);

/** What moved recurring income, as it is worked out of an agreement's facts; those that will come by themselves included. */
export const incomeSteps = mysqlTable(
	'income_steps',
	{
		id: id(),
		agreementId: uuid('agreement_id')
			.notNull()
			.references(() => agreements.id),
		memberId: uuid('member_id').notNull(),
		planId: uuid('plan_id').notNull(),
		/** The plan before, where it was another one. */
		fromPlanId: uuid('from_plan_id'),
		currency: char('currency', { length: 3 }).notNull(),
		/** As for a month, without tax, in minor units. */
		beforeMinor: bigint('before_minor', { mode: 'number' }).notNull(),
		afterMinor: bigint('after_minor', { mode: 'number' }).notNull(),
		why: varchar('why', { length: 8 }).$type<Why>().notNull(),
		at: instant('at').notNull(),
		/** Such as 2026-05-31, in the publisher's zone. */
		day: char('day', { length: 10 }).notNull()
	},
	(t) => [
		index('income_steps_agreement').on(t.agreementId),
		index('income_steps_member').on(t.memberId),
		// All that sums ask for.
		index('income_steps_day').on(t.day, t.currency, t.why, t.at, t.beforeMinor, t.afterMinor)
	]
);

/** What is known of an agreement, each with the moment at which it happened: what has become of it is worked out of them. */
export const agreementFacts = mysqlTable(
	'agreement_facts',
	{
		id: id(),
		agreementId: uuid('agreement_id')
			.notNull()
			.references(() => agreements.id),
		at: instant('at').notNull(),
		heardAt: instant('heard_at').notNull(),
		fact: json<AgreementFact>()('fact').notNull(),
		/** What the processor tells happens once. */
		onceKey: varchar('once_key', { length: 60 })
	},
	(t) => [unique('agreement_facts_once').on(t.agreementId, t.onceKey)]
);

/** Cards as processors keep them, and as they may be shown. */
export const cards = mysqlTable(
	'cards',
	{
		/** The processor's reference. */
		ref: exactText('ref', 80).primaryKey(),
		memberId: uuid('member_id')
			.notNull()
			.references(() => accounts.id),
		ending: varchar('ending', { length: 4 }).notNull(),
		/** The month it is good to, such as 2028-09. */
		expires: char('expires', { length: 7 }),
		createdAt: instant('created_at').notNull()
	},
	(t) => [index('cards_member').on(t.memberId)]
);

/** Pages of the processor on which a member gives another card. */
export const cardChanges = mysqlTable(
	'card_changes',
	{
		id: id(),
		memberId: uuid('member_id').notNull(),
		agreementId: uuid('agreement_id')
			.notNull()
			.references(() => agreements.id),
		processorRef: exactText('processor_ref', 80).unique(),
		payUrl: varchar('pay_url', { length: 500 }),
		state: varchar('state', { length: 10 }).$type<PaymentState>().notNull(),
		createdAt: instant('created_at').notNull()
	},
	(t) => [index('card_changes_agreement').on(t.agreementId), index('card_changes_state').on(t.state, t.id)]
);

export const payments = mysqlTable(
	'payments',
	{
		id: id(),
		/** `null` as on the order. */
		memberId: uuid('member_id'),
		orderId: uuid('order_id')
			.notNull()
			.references(() => orders.id),
		/** For a renewal; the first payment of an order has none. */
		agreementId: uuid('agreement_id'),
		period: int('period').notNull(),
		attempt: int('attempt').notNull(),
		/** What makes the processor do it once. */
		idempotencyKey: varchar('idempotency_key', { length: 120 }).notNull().unique(),
		processor: processorName(),
		processorRef: exactText('processor_ref', 80).unique(),
		payUrl: varchar('pay_url', { length: 500 }),
		state: varchar('state', { length: 10 }).$type<PaymentState>().notNull(),
		amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
		currency: char('currency', { length: 3 }).notNull(),
		createdAt: instant('created_at').notNull(),
		settledAt: instant('settled_at'),
		/** Summed up of its refunds, those that are asked for included. */
		refundedMinor: bigint('refunded_minor', { mode: 'number' }).notNull().default(0),
		/** What has become of its last dispute. */
		dispute: varchar('dispute', { length: 4 }).$type<DisputeState>()
	},
	(t) => [
		index('payments_state').on(t.state, t.id),
		index('payments_listed').on(t.state, t.memberId, t.amountMinor),
		index('payments_order').on(t.orderId),
		index('payments_agreement').on(t.agreementId, t.state),
		index('payments_member').on(t.memberId),
		index('payments_created').on(t.createdAt)
	]
);

/** Numbers without gaps, one row a series. */
export const numberSeries = mysqlTable('number_series', {
	series: varchar('series', { length: 20 }).primaryKey(),
	last: int('last').notNull()
});

/** Why money went back: somebody of the staff asked, it came in for nothing, or it was done at the processor. */
export type RefundCause = 'asked' | 'surplus' | 'outside';

export const refunds = mysqlTable(
	'refunds',
	{
		id: id(),
		paymentId: uuid('payment_id')
			.notNull()
			.references(() => payments.id),
		/** The processor's reference; `null` until it has answered. */
		ref: exactText('ref', 100).unique(),
		cause: varchar('cause', { length: 8 }).$type<RefundCause>().notNull(),
		/** Which line it is of; `null`: of all of them. */
		lineId: uuid('line_id'),
		amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
		/** Whether access that the payment paid for ends with it. */
		endsAccess: boolean('ends_access').notNull(),
		why: varchar('why', { length: 500 }),
		actorId: uuid('actor_id'),
		askedAt: instant('asked_at').notNull(),
		doneAt: instant('done_at')
	},
	(t) => [index('refunds_payment').on(t.paymentId)]
);

/** What buyers' banks take back. */
export const disputes = mysqlTable(
	'disputes',
	{
		id: id(),
		paymentId: uuid('payment_id')
			.notNull()
			.references(() => payments.id),
		ref: exactText('ref', 100).notNull().unique(),
		amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
		state: varchar('state', { length: 4 }).$type<DisputeState>().notNull(),
		openedAt: instant('opened_at').notNull(),
		closedAt: instant('closed_at')
	},
	(t) => [index('disputes_payment').on(t.paymentId), index('disputes_state').on(t.state, t.openedAt)]
);

/** An invoice or a receipt for what came in, with tax or without; a credit note for what went back. */
export type DocumentKind = 'invoice' | 'receipt' | 'credit-note';

export interface DocumentContent {
	/** Who sells; what later versions of Stile ask for may be missing. */
	seller: { name: string; statementName: string; address?: string; taxNumber?: string };
	buyer: { name: string; email: string } & Partial<TaxedBuyer>;
	/** Whether amounts of lines have the tax in them; missing: there is none. */
	isTaxIncluded?: boolean;
	/** Nothing was sold and no money moved: somebody practised. */
	isPractice?: true;
	/** Amounts are what was paid; what was taken off them before stands beside. */
	lines: {
		text: string;
		kind?: LineKind;
		amountMinor: number;
		discountMinor?: number;
		/** What it pays for, `[from, through)`; missing: no time. */
		period?: { from: number; through: number };
	}[];
}

/** What was handed to the buyer, as it was then. */
export const documents = mysqlTable(
	'documents',
	{
		id: id(),
		number: varchar('number', { length: 20 }).notNull().unique(),
		kind: varchar('kind', { length: 12 }).$type<DocumentKind>().notNull(),
		/** What it is of, as for the ledger's entry: there is one of each. */
		source: varchar('source', { length: 60 }).notNull().unique(),
		paymentId: uuid('payment_id')
			.notNull()
			.references(() => payments.id),
		memberId: uuid('member_id').notNull(),
		/** The number of the document that it corrects. */
		corrects: varchar('corrects', { length: 20 }),
		amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
		currency: char('currency', { length: 3 }).notNull(),
		content: json<DocumentContent>()('content').notNull(),
		/** How it was taxed; `null`: without tax. */
		taxKind: varchar('tax_kind', { length: 8 }).$type<'taxed' | 'reversed'>(),
		/** Where it is owed, and what it is called there. */
		taxCountry: char('tax_country', { length: 2 }),
		taxName: varchar('tax_name', { length: 20 }),
		/** In thousandths of a percent. */
		taxRate: int('tax_rate'),
		/** Part of the amount. */
		taxMinor: bigint('tax_minor', { mode: 'number' }).notNull().default(0),
		issuedAt: instant('issued_at').notNull()
	},
	(t) => [
		index('documents_payment').on(t.paymentId),
		index('documents_member').on(t.memberId),
		index('documents_corrects').on(t.corrects),
		index('documents_taxed').on(t.taxKind, t.issuedAt)
	]
);

export const ledgerEntries = mysqlTable(
	'ledger_entries',
	{
		id: id(),
		at: instant('at').notNull(),
		kind: varchar('kind', { length: 10 }).$type<LedgerKind>().notNull(),
		/** What moved, by its kind and id: `refund:<id of the refund>`. Nothing is entered twice. */
		source: varchar('source', { length: 60 }).notNull().unique(),
		paymentId: uuid('payment_id')
			.notNull()
			.references(() => payments.id)
	},
	(t) => [index('ledger_entries_payment').on(t.paymentId), index('ledger_entries_at').on(t.at)]
);

export const ledgerPostings = mysqlTable('ledger_postings', {
	id: id(),
	entryId: uuid('entry_id')
		.notNull()
		.references(() => ledgerEntries.id),
	account: varchar('account', { length: 12 }).$type<LedgerAccount>().notNull(),
	/** What it was for; `null`: the whole of a payment. */
	planId: uuid('plan_id'),
	lineId: uuid('line_id'),
	amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
	currency: char('currency', { length: 3 }).notNull()
});

/** Checkouts elsewhere, which tell by signed calls who bought what. */
export const outsideCheckouts = mysqlTable('outside_checkouts', {
	id: id(),
	name: varchar('name', { length: 80 }).notNull(),
	/** What its calls are signed with, sealed under the master key of this name. */
	keyId: varchar('key_id', { length: 40 }).notNull(),
	sealed: varchar('sealed', { length: 300 }).notNull(),
	createdAt: instant('created_at').notNull(),
	/** From then on it tells nothing any more. */
	endedAt: instant('ended_at')
});

/** Each purchase that they told of, with what it has come to. */
export const outsidePurchases = mysqlTable(
	'outside_purchases',
	{
		id: id(),
		checkoutId: uuid('checkout_id')
			.notNull()
			.references(() => outsideCheckouts.id),
		/** Their own name for it. */
		purchase: exactText('purchase', 100).notNull(),
		/** Whose it is; `null`: nothing was granted yet. */
		memberId: uuid('member_id'),
		/** What it gave last. */
		grantId: uuid('grant_id')
	},
	(t) => [
		unique('outside_purchases_once').on(t.checkoutId, t.purchase),
		index('outside_purchases_member').on(t.memberId)
	]
);

/** What they told. The same event twice changes nothing. */
export const outsideEvents = mysqlTable(
	'outside_events',
	{
		id: id(),
		checkoutId: uuid('checkout_id').notNull(),
		/** Their own name for it. */
		eventId: exactText('event_id', 100).notNull(),
		purchaseId: uuid('purchase_id')
			.notNull()
			.references(() => outsidePurchases.id),
		/** When it happened, as they say it. */
		at: instant('at').notNull(),
		heardAt: instant('heard_at').notNull(),
		does: json<OutsideDeed>()('does').notNull(),
		/** SHA-256 of what was sent: another message of the same name is refused. */
		digest: char('digest', { length: 64 }).notNull()
	},
	(t) => [
		unique('outside_events_once').on(t.checkoutId, t.eventId),
		index('outside_events_purchase').on(t.purchaseId)
	]
);

/** What the processor told us: the same event twice changes nothing. */
export const notifications = mysqlTable('notifications', {
	eventId: exactText('event_id', 80).primaryKey(),
	paymentRef: exactText('payment_ref', 80).notNull(),
	receivedAt: instant('received_at').notNull()
});

/** What is paid offline, as the publisher says it: the book of the processor `offline`. */
export const offlinePayments = mysqlTable('offline_payments', {
	ref: exactText('ref', 80).primaryKey(),
	idempotencyKey: varchar('idempotency_key', { length: 120 }).notNull().unique(),
	state: varchar('state', { length: 10 }).$type<PaymentState>().notNull(),
	amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
	currency: char('currency', { length: 3 }).notNull(),
	/** By the wall clock, as of every processor. */
	settledAt: instant('settled_at')
});

export const offlineRefunds = mysqlTable(
	'offline_refunds',
	{
		/** The id of Stile's refund. */
		own: uuid('own').primaryKey(),
		ref: exactText('ref', 80)
			.notNull()
			.references(() => offlinePayments.ref),
		amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
		/** When somebody said that the money went back, by the wall clock; `null`: it has to be sent still. */
		doneAt: instant('done_at')
	},
	(t) => [index('offline_refunds_ref').on(t.ref)]
);

/** How far the hourly look has read at the processor. */
export const processorCursors = mysqlTable('processor_cursors', {
	name: varchar('name', { length: 40 }).primaryKey(),
	cursor: exactText('cursor_text', 200).notNull()
});
