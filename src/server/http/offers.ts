import { itemsOpenedBy } from '$core/access/policy';
import type { App } from '../app';
import { livingSubscriptions, subscriptionsOf, type OfferedPlan } from '../db/queries/sales';

export interface Offer {
	plan: {
		id: string;
		name: string;
		slug: string;
		lines: string[];
		amountMinor: number;
		currency: string;
		unit: 'month' | 'year';
	};
	/** Said for the reader: who owns it opens it, whose access ran out buys again. */
	action: { label: string; href: string };
}

/** Plans as they are offered to one viewer; `next` is where they want to land. */
export async function offersFor(
	app: App,
	memberId: string | null,
	plans: readonly OfferedPlan[],
	next: string | null
): Promise<Offer[]> {
	const living = memberId === null ? [] : await livingSubscriptions(app.db, memberId);
	const all = memberId === null ? [] : await subscriptionsOf(app.db, memberId);
	const policy = await app.rights.policy();
	return plans.map((plan) => {
		const { id, name, slug, lines } = plan;
		const { amountMinor, currency, periodUnit: unit } = plan.price;
		const isHeld = living.some((subscription) => subscription.planId === id);
		const wasHeld = all.some((subscription) => subscription.planId === id);
		const buy = `/checkout/${slug}${next === null ? '' : `?next=${encodeURIComponent(next)}`}`;
		const contents = itemsOpenedBy(policy, id).find((item) => item.state === 'published');
		const action = isHeld
			? { label: 'Open', href: contents?.address ?? '/account' }
			: { label: wasHeld ? 'Buy again' : 'Buy', href: buy };
		return { plan: { id, name, slug, lines, amountMinor, currency, unit }, action };
	});
}
