import { endOfGrant } from '$core/access/clock';
import { openedByPlan } from '$core/access/policy';
import type { OfferedPlan } from '../db/queries/sales';
import type { Look } from './look';

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
export function offersFor(look: Look, plans: readonly OfferedPlan[], next: string | null): Offer[] {
	const { viewer, now, policy } = look;
	const grants = viewer.kind === 'member' ? viewer.grants : [];
	return plans.map((plan) => {
		const { id, name, slug, lines } = plan;
		const { amountMinor, currency, periodUnit: unit } = plan.price;
		const own = grants.filter((grant) => grant.planId === id && grant.from <= now);
		const isHeld = own.some((grant) => (endOfGrant(grant) ?? Infinity) > now);
		const buy = `/checkout/${slug}${next === null ? '' : `?next=${encodeURIComponent(next)}`}`;
		const action = isHeld
			? {
					label: 'Open',
					href: openedByPlan(policy, id).find((one) => one.state === 'published')?.address ?? '/account'
				}
			: { label: own.length > 0 ? 'Buy again' : 'Buy', href: buy };
		return { plan: { id, name, slug, lines, amountMinor, currency, unit }, action };
	});
}
