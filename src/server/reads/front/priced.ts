/** What the prices of a plan ask of whoever is about to buy, with what is taken off them. */
import { offAt, type Offers, type OffAnswer, type Taken } from '$core/billing/discount-code';
import { linesOf, orderTotal } from '$core/billing/order';
import { amountDue, startOf, withDiscount, type Terms } from '$core/billing/terms';
import type { OfferedPlan } from '../../db/queries/sales';

export interface PricedPrice {
	id: string;
	name: string;
	/** With what is taken off. */
	terms: Terms;
	todayMinor: number;
	next: Due | null;
	/** When nothing is taken off any more, and what is asked for then; `null`: that is `next`, or never. */
	full: Due | null;
	off: 'none' | 'by-code' | 'by-holding';
	/** Why the code that was typed takes nothing off. */
	refusal: Extract<OffAnswer, { ok: false }>['code'] | null;
}

interface Due {
	at: number;
	amountMinor: number;
}

export function pricedFor(plan: OfferedPlan, offers: Offers, today: number, zone: string): PricedPrice[] {
	return plan.prices.map(({ priceId: id, name, terms: price }) => {
		const answer = offAt(offers, plan.id, price, today);
		// A code that does not count takes nothing from what is held.
		const own = answer.ok ? answer : offAt({ ...offers, typed: { kind: 'none' } }, plan.id, price, today);
		const taken = own.ok ? own.taken : null;
		const terms = withDiscount(price, taken?.discount ?? null);
		const at = (due: number): Due | null => {
			const amountMinor = amountDue(terms, due);
			return amountMinor === null ? null : { amountMinor, at: startOf(terms, today, zone, due) ?? today };
		};
		const back = fullFrom(terms);
		return {
			...{ id, name, terms, todayMinor: orderTotal(linesOf(terms)), next: at(1) },
			full: back === null || back < 2 ? null : at(back),
			...{ off: offBy(taken), refusal: answer.ok ? null : answer.code }
		};
	});
}

function offBy(taken: Taken | null): PricedPrice['off'] {
	if (!taken) return 'none';
	return taken.codeId === null ? 'by-holding' : 'by-code';
}

/** The first due of which nothing is taken off any more; `null`: of all something is. */
function fullFrom({ discount, firstMinor }: Terms): number | null {
	if (!discount || discount.payments === null) return null;
	return discount.payments + (firstMinor === 0 ? 1 : 0);
}
