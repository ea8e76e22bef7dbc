/**
 * What the publisher does to many payments or subscriptions at once. What it would come to is said in numbers first, and the yes is
 * to exactly that: where any of it has changed meanwhile, the numbers are said anew. Each is then done by itself, and once,
 * however often the yes is sent.
 */
import { v5 as uuidv5 } from 'uuid';
import { answerTo, type Refusal } from '$core/billing/agreement-answers';
import { commandOf, type Step } from '$core/billing/agreement-foreseen';
import { refundable } from '$core/billing/payment';
import { agreementRevision, agreementsByIds, courseNow } from '../../db/queries/agreements';
import { paymentsWithOrders, planNames } from '../../db/queries/sales';
import { need, type Staff } from '../../people/need';
import { digestOf, type Transacting } from '../../transact';
import { answerPayment, isWaitedFor, sayPayment, type Answer } from './answer-payment';
import { askRefund, refundPayment } from './refund-payment';
import type { Selling } from './selling';
import { steerAgreement } from './steer-agreement';

export const MOST_SALES = 500;
/** So many are seen through while somebody waits, and for so long; what follows of the others is left to jobs. */
const AWAITED = 50;
const AWAITED_MS = 8000;

/** Of one currency; currencies are never added up. */
export interface Sum {
	currency: string;
	minor: number;
}

export interface Foretold<Left extends string> {
	kind: 'foretold';
	/** What is said yes to. */
	digest: string;
	/** So many it would happen to. */
	count: number;
	/** Of money that goes back, came in, or is not asked for any more. */
	sums: Sum[];
	/** Those that it would not happen to, by what stands against it. */
	left: { why: Left; count: number }[];
	/** Of money that goes back: so many are sent by hand. */
	byHand: number;
	/** What the subscriptions are to, the commonest first. */
	plans: { name: string; count: number }[];
}

export type ManySales<Left extends string> =
	| Foretold<Left>
	/**
	 * `missed`: so many were changed by somebody else in the same moment, and are left as they are. `later`: so many of the others
	 * are written down, and what follows of them is done within a minute or so.
	 */
	| { kind: 'done'; count: number; missed: number; later: number }
	| { kind: 'refused'; code: 'too-many' | 'nobody' };

export type LeftPayment = 'nothing-left' | 'not-waiting';
export type LeftAgreement = Refusal | 'already-so';

/** All that is left of each payment goes back. @param agreedTo the digest that somebody said yes to */
export async function refundMany(
	app: Selling,
	actor: Staff,
	wish: { paymentIds: readonly string[]; endsAccess: boolean; why: string },
	agreedTo: string | null
): Promise<ManySales<LeftPayment>> {
	need(actor, 'refunds');
	const ids = once(wish.paymentIds);
	if (ids.length > MOST_SALES) return { kind: 'refused', code: 'too-many' };
	const known = await paymentsWithOrders(app.db, ids);
	const of = known.flatMap(({ payment }) => {
		const { id, currency, processor, processorRef } = payment;
		const minor = processorRef === null ? 0 : refundable(payment);
		return minor > 0 ? [{ id, currency, minor, processor }] : [];
	});
	if (of.length === 0) return { kind: 'refused', code: 'nobody' };
	const { endsAccess, why } = wish;
	const digest = digestOf({ does: 'refund', endsAccess, why, of });
	if (agreedTo !== digest)
		return {
			...{ kind: 'foretold', digest, count: of.length, sums: summed(of), plans: [] },
			left: counted(ids.length - of.length, 'nothing-left'),
			byHand: of.filter(({ processor }) => processor === 'offline').length
		};
	return eachOf(of, async ({ id: paymentId, minor: amountMinor }, isAwaited) => {
		const id = uuidv5(paymentId + digest, REFUNDS);
		const refund = { id, paymentId, amountMinor, endsAccess, why };
		const asked = await (isAwaited ? refundPayment : askRefund)(app, actor, refund);
		return asked.ok;
	});
}

/** Names refunds of many by what was said yes to: sent twice, each is one. */
const REFUNDS = '6f2b7c1e-6a0c-4f0e-9f0b-0c5a8a1d7e42';

/** Whether money that is waited for came in. */
export async function answerMany(
	app: Selling,
	actor: Staff,
	wish: { paymentIds: readonly string[]; state: Answer['state']; why: string },
	agreedTo: string | null
): Promise<ManySales<LeftPayment>> {
	need(actor, 'payments');
	const ids = once(wish.paymentIds);
	if (ids.length > MOST_SALES) return { kind: 'refused', code: 'too-many' };
	const of = (await paymentsWithOrders(app.db, ids))
		.filter(isWaitedFor)
		.map(({ payment: { id, currency, amountMinor: minor } }) => ({ id, currency, minor }));
	if (of.length === 0) return { kind: 'refused', code: 'nobody' };
	const { state, why } = wish;
	const digest = digestOf({ does: 'answer', state, why, of });
	if (agreedTo !== digest)
		return {
			...{ kind: 'foretold', digest, count: of.length, sums: summed(of), byHand: 0, plans: [] },
			left: counted(ids.length - of.length, 'not-waiting')
		};
	return eachOf(of, async ({ id: paymentId }, isAwaited) => {
		const said = await (isAwaited ? answerPayment : sayPayment)(app, actor, { paymentId, state, why });
		return said.ok;
	});
}

/** To end, rest or go on with subscriptions. */
export async function steerMany(
	app: Transacting,
	actor: Staff,
	wish: { agreementIds: readonly string[]; step: Step },
	agreedTo: string | null
): Promise<ManySales<LeftAgreement>> {
	need(actor, 'members');
	const { step } = wish;
	const ids = once(wish.agreementIds);
	if (ids.length > MOST_SALES) return { kind: 'refused', code: 'too-many' };
	const left = new Map<LeftAgreement, number>();
	const of: { id: string; seen: string; planId: string; currency: string; minor: number }[] = [];
	for (const row of await agreementsByIds(app.db, ids)) {
		const course = await courseNow(app.db, row);
		const answer = answerTo(course, commandOf(step, course));
		const { id, planId, nextMinor } = row;
		const { currency } = row.agreed.terms;
		if (answer.kind === 'possible')
			of.push({ id, seen: agreementRevision(row), planId, currency, minor: nextMinor ?? 0 });
		else {
			const why = answer.kind === 'refused' ? answer.why : answer.kind;
			left.set(why, (left.get(why) ?? 0) + 1);
		}
	}
	if (of.length === 0) return { kind: 'refused', code: 'nobody' };
	const digest = digestOf({ does: 'steer', step, of });
	if (agreedTo !== digest)
		return {
			...{ kind: 'foretold', digest, count: of.length, sums: summed(of), byHand: 0 },
			left: [...left].map(([why, count]) => ({ why, count })),
			plans: await plansOf(app, of)
		};
	const done = await eachOf(of, async ({ id: agreementId, seen }) => {
		const steered = await steerAgreement(app, actor, { agreementId, step, seen });
		return steered.ok;
	});
	return { ...done, later: 0 };
}

async function plansOf(
	app: Transacting,
	of: readonly { planId: string }[]
): Promise<Foretold<never>['plans']> {
	const counts = new Map<string, number>();
	for (const { planId } of of) counts.set(planId, (counts.get(planId) ?? 0) + 1);
	const names = await planNames(app.db, [...counts.keys()]);
	return [...counts]
		.map(([id, count]) => ({ name: names.get(id) ?? 'a plan that is gone', count }))
		.sort((a, b) => b.count - a.count);
}

async function eachOf<T>(
	of: readonly T[],
	does: (one: T, isAwaited: boolean) => Promise<boolean>
): Promise<{ kind: 'done'; count: number; missed: number; later: number }> {
	const began = performance.now();
	let count = 0;
	let later = 0;
	for (const [n, one] of of.entries()) {
		const isAwaited = n < AWAITED && performance.now() - began < AWAITED_MS;
		if (!(await does(one, isAwaited))) continue;
		count++;
		if (!isAwaited) later++;
	}
	return { kind: 'done', count, missed: of.length - count, later };
}

/** By currency, in the order of their codes. */
function summed(of: readonly Sum[]): Sum[] {
	const sums = new Map<string, number>();
	for (const { currency, minor } of of) sums.set(currency, (sums.get(currency) ?? 0) + minor);
	return [...sums]
		.filter(([, minor]) => minor > 0)
		.map(([currency, minor]) => ({ currency, minor }))
		.sort((a, b) => a.currency.localeCompare(b.currency));
}

const once = (ids: readonly string[]) => [...new Set(ids)].sort();

function counted<Left extends string>(count: number, why: Left): { why: Left; count: number }[] {
	return count === 0 ? [] : [{ why, count }];
}
