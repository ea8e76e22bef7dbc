/** What buyers of a plan are offered besides, as the Desk edits it. */
import { sellsAt } from '$core/billing/plan-access';
import type { Using } from '../../app';
import { answerCounts, extrasOf } from '../../db/queries/extras';
import { planById, plansWithPrices } from '../../db/queries/sales';

/** More are not chosen from: of things that are sold alone there may be thousands. */
const MOST_OFFERED = 300;

/** `null`: there is no such plan. */
export async function extrasPage(app: Using<'clock' | 'db'>, planId: string) {
	const plan = await planById(app.db, planId);
	if (!plan) return null;
	const [known, all] = await Promise.all([extrasOf(app.db, plan.id), plansWithPrices(app.db)]);
	const counts = await answerCounts(
		app.db,
		known.map(({ id }) => id)
	);
	const now = app.clock.business();
	const isOffered = (one: (typeof all)[number]) => one.id !== plan.id && one.buyAt === null && !one.isLabel;
	return {
		plan: { id: plan.id, name: plan.name },
		extras: known.map(({ id, priceId, words, less, targetId, planName }) => {
			const of = all.find((one) => one.id === targetId);
			const price = of?.prices.find((one) => one.priceId === priceId);
			return {
				...{ id, words, less, planName, terms: price?.terms ?? null },
				isSold: of !== undefined && price?.isOnSale === true && sellsAt(of, now),
				...(counts.get(id) ?? { asked: 0, taken: 0 })
			};
		}),
		/** What could be offered: prices on sale of the other plans, what is sold alone last. */
		offers: all
			.filter((one) => isOffered(one) && sellsAt(one, now))
			.sort((a, b) => Number(a.soleItemId !== null) - Number(b.soleItemId !== null))
			.flatMap(({ name, prices }) =>
				prices.map(({ priceId, name: of, terms }) => ({
					...{ priceId, terms, name: of === '' ? name : `${name}, ${of}` }
				}))
			)
			.slice(0, MOST_OFFERED)
	};
}
