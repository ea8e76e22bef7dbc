import { owedNow } from '$core/billing/agreement-answers';
import { standingOf } from '$core/billing/payment';
import { sellsAt } from '$core/billing/plan-access';
import { phaseOf } from '$core/billing/phases';
import { shownOfPlan } from './lists';
import type { Look, Looking } from '../../rights/look';
import { itemsByIds } from '../../db/queries/items';
import { agreementsOf, courseNow, type AgreementRow } from '../../db/queries/agreements';
import { cardsOf, paymentsOf, planById } from '../../db/queries/sales';

/** What members see of their plans and payments; every row leads to the content. */
export async function accountView(app: Looking, look: Look, memberId: string) {
	const plans = [];
	const cards = await cardsOf(app.db, memberId);
	for (const row of await agreementsOf(app.db, memberId)) {
		const plan = await planById(app.db, row.planId);
		if (!plan) continue;
		const course = await courseNow(app.db, row);
		const { phases, open } = course;
		const { terms } = phaseOf(phases, row.period);
		const items = await itemsByIds(app.db, await shownOfPlan(app, look, plan.id));
		plans.push({
			id: row.id,
			name: plan.name,
			slug: plan.slug,
			isOnSale: sellsAt(plan, look.now),
			state: row.state,
			isInstalments: terms.then.kind === 'more' && terms.then.times !== null,
			endReason: row.endReason,
			endedAt: row.endedAt,
			/** The end of what is paid; `null`: it has none. */
			paidThrough: row.paidThrough,
			/** Until when it is open, though nothing more is asked for; `null`: for good, or shut. */
			openUntil: open?.until ?? null,
			isOpen: open !== null,
			terms,
			owed: owedNow(course),
			/** When the card that was declined is tried again; `null`: it is not. */
			tryAt: row.state === 'owing' ? row.nextAt : null,
			card: hasNext(row) ? cardOf(cards, row.cardRef) : null,
			items: items.map(({ id, title, address }) => ({ id, title, address }))
		});
	}
	const payments = (await paymentsOf(app.db, memberId)).map(({ documents, ...payment }) => ({
		id: payment.id,
		standing: standingOf(payment),
		amountMinor: payment.amountMinor,
		currency: payment.currency,
		at: payment.createdAt,
		documents: documents.map(({ number }) => number)
	}));
	return { plans, payments };
}

/** Whether something may still be charged. */
function hasNext({ state, cardRef }: AgreementRow): boolean {
	return cardRef !== null && state !== 'ended' && state !== 'finished' && state !== 'ending';
}

/** What may be shown of a card; of one from before cards were kept nothing is known. */
function cardOf(cards: Awaited<ReturnType<typeof cardsOf>>, ref: string | null) {
	const card = cards.find((one) => one.ref === ref);
	return { ending: card?.ending ?? null, expires: card?.expires?.split('-').reverse().join('/') ?? null };
}
