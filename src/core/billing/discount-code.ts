/** Codes that take something off, and what holders of other plans pay less: what of it counts for whoever buys. */
import type { Instant } from '../time/instant';
import { isOffOf, type Discount, type LessFor } from './discount';
import { amountDue, withDiscount, type Terms } from './terms';

export interface DiscountCode {
	discount: Discount;
	/** Plans that it is taken off; `null`: any. */
	planIds: readonly string[] | null;
	/** `null`: from the first moment on. */
	startsAt: Instant | null;
	/** `null`: for good. The end itself is past it. */
	endsAt: Instant | null;
	/** How often each may be used; `null`: any number of times. */
	usesPerCode: number | null;
	isOncePerBuyer: boolean;
}

export interface CodeUse {
	planId: string;
	/** Of the price that it would be taken off. */
	terms: Terms;
	/** How often the code was used; orders that hold it count. */
	uses: number;
	/** Whether this buyer has used one of those that were given out together. */
	hasUsed: boolean;
}

/** `takes-nothing`: the price asks for nothing that something could be taken off. */
export const CODE_REFUSALS = [
	'too-early',
	'over',
	'other-plan',
	'other-currency',
	'takes-nothing',
	'had-it',
	'used-up'
] as const;
export type CodeRefusal = (typeof CODE_REFUSALS)[number];

/** Why a code takes nothing off; `null`: it does. The first that holds, in the order of the list. */
export function codeRefusal(code: DiscountCode, use: CodeUse, now: Instant): CodeRefusal | null {
	const { startsAt, endsAt, planIds, usesPerCode, discount } = code;
	if (startsAt !== null && now < startsAt) return 'too-early';
	if (endsAt !== null && now >= endsAt) return 'over';
	if (planIds !== null && !planIds.includes(use.planId)) return 'other-plan';
	if (!isOffOf(discount, use.terms.currency)) return 'other-currency';
	if (savedMinor(use.terms, discount) === 0) return 'takes-nothing';
	if (code.isOncePerBuyer && use.hasUsed) return 'had-it';
	return usesPerCode !== null && use.uses >= usesPerCode ? 'used-up' : null;
}

/** As many payments are compared: a year of months. */
const COMPARED = 12;

/** What a discount saves over the first payments, in minor units. */
export function savedMinor(price: Terms, discount: Discount): number {
	const less = withDiscount(price, discount);
	return Array.from({ length: COMPARED + 1 }, (_, due) => due).reduce(
		(sum, due) => sum + (amountDue(price, due) ?? 0) - (amountDue(less, due) ?? 0),
		0
	);
}

/** Of several discounts the one that saves more, the earlier where they save alike; `null` where none saves anything. */
export function bestDiscount<D extends { discount: Discount }>(price: Terms, all: readonly D[]): D | null {
	const saving = all
		.map((one) => ({ one, saved: savedMinor(price, one.discount) }))
		.filter(({ saved }) => saved > 0);
	return saving.sort((a, b) => b.saved - a.saved)[0]?.one ?? null;
}

/** What a price asks of whoever holds some plans. */
export function lessFor(price: Terms, less: LessFor | null, held: ReadonlySet<string>): Terms {
	if (!less || !less.planIds.some((id) => held.has(id))) return price;
	return savedMinor(price, less.discount) > 0 ? withDiscount(price, less.discount) : price;
}

/** What was typed as a code, as far as it is known. `gives`: it takes nothing off, it opens something. */
export type TypedCode =
	| { kind: 'none' | 'unknown' | 'gives' }
	| {
			kind: 'code';
			id: string;
			code: DiscountCode;
			uses: number;
			hasUsed: boolean;
	  };

/** What may be taken off for somebody. */
export interface Offers {
	typed: TypedCode;
	/** Because of what they hold. */
	forHolding: Discount | null;
}

export interface Taken {
	discount: Discount;
	/** `null`: because of what is held. */
	codeId: string | null;
}

export type OffAnswer =
	{ ok: true; taken: Taken | null } | { ok: false; code: CodeRefusal | 'unknown-code' | 'gives' };

/** What is taken off a price: of the code and what is held the one that saves more. A code that does not count is said. */
export function offAt({ typed, forHolding }: Offers, planId: string, terms: Terms, now: Instant): OffAnswer {
	const own = forHolding ? [{ discount: forHolding, codeId: null }] : [];
	if (typed.kind === 'code') {
		const { id, code, uses, hasUsed } = typed;
		const refusal = codeRefusal(code, { planId, terms, uses, hasUsed }, now);
		if (refusal) return { ok: false, code: refusal };
		return { ok: true, taken: bestDiscount(terms, [{ discount: code.discount, codeId: id }, ...own]) };
	}
	if (typed.kind === 'unknown') return { ok: false, code: 'unknown-code' };
	if (typed.kind === 'gives') return { ok: false, code: 'gives' };
	return { ok: true, taken: bestDiscount(terms, own) };
}

const NO_CODE: TypedCode = { kind: 'none' };

/** A thing among those of an order. */
export interface Priced {
	planId: string;
	terms: Terms;
	/** What is taken off of it because of what is held. */
	forHolding: Discount | null;
}

/**
 * The same of several things that are ordered together: a code counts where it counts for one of them. Percent are taken off of
 * each that it counts for, an amount off of the first of them alone. Example: 5.00 EUR off, of a book that the code is not for and two courses that
 * it is for, are taken off of the first course.
 */
export function offAtAll(
	typed: TypedCode,
	things: readonly Priced[],
	now: Instant
): { ok: true; taken: (Taken | null)[] } | Extract<OffAnswer, { ok: false }> {
	let refusal: Extract<OffAnswer, { ok: false }> | null = null;
	let [counts, isSpent] = [typed.kind === 'none', false];
	const taken = things.map(({ planId, terms, forHolding }) => {
		const own = offAt({ typed: NO_CODE, forHolding }, planId, terms, now);
		const answer = isSpent ? own : offAt({ typed, forHolding }, planId, terms, now);
		if (!answer.ok) {
			refusal ??= answer;
			return own.ok ? own.taken : null;
		}
		counts = true;
		const isOfCode = typed.kind === 'code' && answer.taken?.codeId === typed.id;
		if (isOfCode && typed.code.discount.off.kind === 'amount') isSpent = true;
		return answer.taken;
	});
	return counts || refusal === null ? { ok: true, taken } : refusal;
}
