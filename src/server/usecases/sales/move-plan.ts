/**
 * Moving to another rung of a ladder, or to another price of the same plan. What it asks for is shown before it is done, and what
 * is done is what was shown.
 */
import { and, eq, inArray } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { AWAITED, lineFor, type LineAmounts } from '$core/billing/order';
import { mayMove, periodOfMove, withoutAsking, type MoveAnswer, type MoveRefusal } from '$core/billing/move';
import { waysToPay, type ProcessorName } from '$core/billing/pay-by';
import { MOST_SEATS } from '$core/billing/seats';
import { phaseOf } from '$core/billing/phases';
import type { OrderTax } from '$core/billing/tax';
import type { Using } from '../../app';
import type { Handle } from '../../db/connect';
import {
	agreementById,
	agreementRevision,
	courseNow,
	ownAgreement,
	type AgreementRow
} from '../../db/queries/agreements';
import { moveRevision, movesOf, type Movable, type Moves } from '../../db/queries/moves';
import { keepFirstDay, lockAccount } from '../../db/queries/members';
import {
	lineById,
	orderById,
	paymentById,
	type OfferedPlan,
	type OfferedPrice,
	type Payment
} from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import { agreements, orderLines, orders, payments } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { hashOf } from '../../people/sessions';
import { transact, type Work } from '../../transact';
import { writeAboutOrder } from './begin-order';
import { endOrder } from './end-pay-page';
import { lockAgreement, turnAgreement } from './move-agreement';
import { claim, memberKey, standingBy } from './claims';
import { payPage, type PaidFor } from './pay-page';
import { orderNumber } from './numbers';
import type { Selling } from './selling';
import { agreedTax } from './tax-order';

export interface MoveWish {
	memberId: string;
	agreementId: string;
	priceId: string;
	/** What was shown: when, of what, and what it asks for now. */
	seen: { at: number; revision: string; asksMinor: number | null };
	payBy: ProcessorName | null;
	/** More seats than now of the same; left out: as many. */
	seats?: number;
	deviceToken: string;
}

export type Moved =
	/** Done, now or from the next due on. */
	| { ok: true; kind: 'done' | 'later' }
	| { ok: true; kind: 'to-pay'; payUrl: string }
	/** `changed`: it is not any more what was shown. */
	| { ok: false; code: 'unknown' | 'changed' | 'unknown-way' | MoveRefusal };

/** As long what was shown counts: a credit shrinks by the second. */
const SHOWN_FOR_MS = 3_600_000;

export async function beginMove(app: Selling & Using<'settings'>, wish: MoveWish): Promise<Moved> {
	const site = await app.site();
	const begun = await transact(app, { id: wish.memberId }, async (work) => {
		await lockAccount(work.tx, wish.memberId);
		const known = await ownAgreement(work.tx, wish.memberId, wish.agreementId);
		if (!known) return { ok: false as const, code: 'unknown' as const };
		await lockAgreement(work, known.id);
		return begin(work, wish, site);
	});
	if (!('payment' in begun)) return begun;
	const { payment, plan } = begun;
	const to = { plan, returnPath: `/checkout/return/${payment.orderId}` };
	return { ok: true, kind: 'to-pay', payUrl: await payPage(app, payment, to) };
}

/** By the publisher: at once where it asks for nothing, else with the next due. The member is told by mail. */
export async function moveFromDesk(
	app: Selling,
	actor: Staff,
	{ agreementId, priceId, seen }: { agreementId: string; priceId: string; seen: string }
): Promise<Moved> {
	need(actor, 'members');
	const { zone, tax } = await app.site();
	return transact(app, actor, async (work): Promise<Moved> => {
		const known = await agreementById(work.tx, agreementId);
		if (!known) return { ok: false, code: 'unknown' };
		await lockAccount(work.tx, known.memberId);
		await lockAgreement(work, known.id);
		const moves = await movesOf(work.tx, known.memberId, known.id, { now: work.now, zone, tax });
		const movable = moves?.to.find(({ price }) => price.priceId === priceId);
		if (!moves || !movable) return { ok: false, code: 'unknown' };
		const { row } = moves;
		const answer = withoutAsking(await courseNow(work.tx, row), movable.answer);
		if (answer.kind === 'refused') return { ok: false, code: answer.why };
		if (moveRevision(row, answer) !== seen) return { ok: false, code: 'changed' };
		for (const open of await movingOrders(work.tx, row.id)) await endOrder(work, open, 'replaced');
		return carryOut(work, moves, { ...movable, answer });
	});
}

const TURNS = { now: 'moved', lower: 'lowered', next: 'changed' } as const;

/** A move that nothing is paid for now. */
async function carryOut(
	work: Work,
	{ row, tax }: Moves,
	{ plan, price, answer }: Movable & { answer: Exclude<MoveAnswer, { kind: 'refused' }> }
): Promise<Extract<Moved, { kind: 'done' | 'later' }>> {
	const turn = { planId: plan.id, terms: answer.terms, access: plan.access };
	await keepAgreed(work, row.id, tax, price.id);
	await turnAgreement(work, row.id, { kind: TURNS[answer.kind], ...turn });
	if (answer.kind === 'next') return { ok: true, kind: 'later' };
	await keepFirstDay(work.tx, row.memberId, plan.id, work.now);
	return { ok: true, kind: 'done' };
}

/** What is asked for at once; `null`: it waits for the next due. */
export function asksNow(answer: Exclude<MoveAnswer, { kind: 'refused' }>): number | null {
	if (answer.kind === 'next') return null;
	return answer.kind === 'now' ? answer.asksMinor : 0;
}

type Begun = Exclude<Moved, { kind: 'to-pay' }> | { payment: Payment; plan: PaidFor };

async function begin(
	work: Work,
	wish: MoveWish,
	site: Pick<SiteSettings, 'zone' | 'payBy' | 'tax'>
): Promise<Begun> {
	const { at, revision, asksMinor } = wish.seen;
	const isFresh = at <= work.now && work.now - at <= SHOWN_FOR_MS;
	const { seats } = wish;
	const when = { now: isFresh ? at : work.now, zone: site.zone, tax: site.tax, ...(seats && { seats }) };
	const moves = await movesOf(work.tx, wish.memberId, wish.agreementId, when);
	const movable = moves?.to.find(({ price }) => price.priceId === wish.priceId);
	if (!moves || !movable) return { ok: false, code: 'unknown' };
	const { row, plan: present, tax } = moves;
	const { plan, price, answer } = movable;
	if (answer.kind === 'refused') return { ok: false, code: answer.why };
	const asks = asksNow(answer);
	if (!isFresh || agreementRevision(row) !== revision || asks !== asksMinor)
		return { ok: false, code: 'changed' };
	const isMore = seats !== undefined && seats !== row.seats;
	// What is not paid for at once is as many as before.
	if (isMore && (answer.kind !== 'now' || answer.asksMinor === 0 || seats < row.seats || seats > MOST_SEATS))
		return { ok: false, code: 'changed' };
	if (answer.kind !== 'now' || answer.asksMinor === 0) return carryOut(work, moves, { ...movable, answer });
	const ways = waysToPay(site.payBy, plan.payBy);
	const processor = wish.payBy ?? (ways.includes(row.processor) ? row.processor : (ways[0] ?? 'card'));
	if (!ways.includes(processor)) return { ok: false, code: 'unknown-way' };
	const { priceMinor: amountMinor, creditMinor: discountMinor } = answer;
	const line = lineFor(answer.terms, tax.taxed, { kind: 'move', amountMinor, discountMinor });
	const text = (
		isMore ? `${plan.name}, for ${seats} people` : `${plan.name}, in place of ${present.name}`
	).slice(0, 200);
	const payment = await placeMove(work, wish, { row, plan, price, processor, line, tax, text });
	return { payment, plan };
}

/** What is moved to is the price as it is now, taxed as prices are meant now. */
async function keepAgreed(
	{ tx }: Work,
	agreementId: string,
	tax: OrderTax,
	priceVersionId: string
): Promise<void> {
	await tx
		.update(agreements)
		.set({ tax: agreedTax({ tax }), priceVersionId })
		.where(eq(agreements.id, agreementId));
}

interface Placing {
	row: AgreementRow;
	plan: OfferedPlan;
	price: OfferedPrice;
	processor: ProcessorName;
	line: LineAmounts;
	tax: OrderTax;
	text: string;
}

/** The order that pays for a move. One that was begun before, and was worth something else, ends. */
async function placeMove(work: Work, wish: MoveWish, placing: Placing): Promise<Payment> {
	const { row, plan, price, processor, line, tax, text } = placing;
	const { tx, now } = work;
	const { memberId } = wish;
	for (const open of await movingOrders(tx, row.id)) await endOrder(work, open, 'replaced');
	const keys = [memberKey(memberId, plan)];
	for (const other of await standingBy(tx, keys)) await endOrder(work, other, 'replaced');
	const id = uuidv7();
	const period = periodOfMove(await courseNow(tx, row));
	await tx.insert(orders).values({
		...{ id, number: await orderNumber(work), memberId, movesId: row.id, tax },
		state: processor === 'card' ? 'open' : 'waiting',
		...{ totalMinor: line.totalMinor, currency: price.terms.currency, processor },
		seats: wish.seats ?? row.seats,
		...{ deviceHash: hashOf(wish.deviceToken), createdAt: now },
		// Only who is signed in moves, and what they hold was let in by its mailbox or its payment.
		stoodByAt: processor === 'card' ? null : now
	});
	await claim(tx, id, keys);
	await tx
		.insert(orderLines)
		.values({ ...line, orderId: id, text, planId: plan.id, priceVersionId: price.id });
	const paymentId = uuidv7();
	await tx.insert(payments).values({
		...{ id: paymentId, memberId, orderId: id, period, attempt: 1, processor, state: 'pending' },
		...{ idempotencyKey: `order:${id}:1`, amountMinor: line.totalMinor, currency: price.terms.currency },
		createdAt: now
	});
	await work.note({
		action: 'began-order',
		subject: { kind: 'order', id },
		memberId,
		after: { plan: plan.name, moves: text, payBy: processor }
	});
	const [order, payment] = [await orderById(tx, id), await paymentById(tx, paymentId)];
	if (!order || !payment) throw new Error('The order was not written');
	if (processor !== 'card') await writeAboutOrder(work, order);
	return payment;
}

async function movingOrders(tx: Handle, agreementId: string) {
	return tx
		.select()
		.from(orders)
		.where(and(eq(orders.movesId, agreementId), inArray(orders.state, ['open', ...AWAITED])));
}

/** What is to come at the next due is taken back: what is held goes on. */
export async function stayAsIs(app: Selling, memberId: string, agreementId: string): Promise<Moved> {
	return transact(app, { id: memberId }, async (work): Promise<Moved> => {
		const known = await ownAgreement(work.tx, memberId, agreementId);
		if (!known) return { ok: false, code: 'unknown' };
		const row = await lockAgreement(work, known.id);
		const course = await courseNow(work.tx, row);
		if (!mayMove(course)) return { ok: false, code: 'has-ended' };
		// What the publisher has set is theirs to take back.
		if (course.phases.some(({ from, isRepriced }) => from > course.state.period && isRepriced))
			return { ok: false, code: 'unknown' };
		const { planId, terms, pricedAs } = phaseOf(course.phases, course.state.period);
		// Down at once is done: up again is a move.
		if (pricedAs !== undefined) return { ok: false, code: 'unknown' };
		const { access } = row.agreed;
		await turnAgreement(work, row.id, { kind: 'changed', planId, terms, access });
		const line = await lineById(work.tx, row.orderLineId);
		if (line)
			await work.tx
				.update(agreements)
				.set({ priceVersionId: line.priceVersionId })
				.where(eq(agreements.id, row.id));
		return { ok: true, kind: 'done' };
	});
}
