/** What is taken off for whoever is about to buy, before they order. */
import type { Offers, Priced } from '$core/billing/discount-code';
import type { Using } from '../../app';
import type { Handle } from '../../db/connect';
import { offersTo } from '../../db/queries/discounts';
import type { Buyer } from '../../db/queries/taking';
import type { plans } from '../../db/schema/sales';
import { allows, takeTryBack } from '../../people/rate-limit';
import { hashOf } from '../../people/sessions';
import type { Thing } from './wished';

export interface OffWish {
	plan: Pick<typeof plans.$inferSelect, 'lessFor'>;
	/** What was typed as a code; empty: none. */
	code: string;
	memberId: string | null;
	deviceToken: string;
	client: string;
}

/** Guesses at codes are counted, and whoever has guessed too often is told nothing of any: `null`. */
export async function offersToBuyer(app: Using<'clock' | 'db'>, wish: OffWish): Promise<Offers | null> {
	const isTyped = wish.code.trim() !== '';
	if (isTyped && !(await allows(app, 'codeByClient', wish.client))) return null;
	const offers = await offersTo(app.db, {
		plan: wish.plan,
		typed: wish.code,
		memberId: wish.memberId,
		deviceHash: hashOf(wish.deviceToken),
		// What they have ordered themselves is looked at when they order.
		except: 'unpaid',
		now: app.clock.business()
	});
	// A code that there is was not guessed.
	if (isTyped && offers.typed.kind !== 'unknown') await takeTryBack(app, 'codeByClient', wish.client);
	return offers;
}

/** Each thing with what is taken off of it because of what is held; of the first it is known. */
export async function pricedThings(
	{ db }: { db: Handle },
	things: readonly Thing[],
	{ forHolding }: Offers,
	buyer: Buyer & { now: number }
): Promise<Priced[]> {
	const priced: Priced[] = [];
	for (const [n, { plan, price }] of things.entries()) {
		const own = n === 0 ? forHolding : (await offersTo(db, { ...buyer, plan, typed: '' })).forHolding;
		priced.push({ planId: plan.id, terms: price.terms, forHolding: own });
	}
	return priced;
}
