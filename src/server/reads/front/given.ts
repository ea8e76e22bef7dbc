/** What a member holds without having bought it here: given by hand, by a code, brought along, bought elsewhere. */
import { endOfGrant } from '$core/access/clock';
import type { Grant, GrantSource } from '$core/access/model';
import { itemsByIds } from '../../db/queries/items';
import type { Look, Looking } from '../../rights/look';
import { shownPlans } from '../../rights/shown';
import { shownOfPlan } from './lists';

/** What an agreement stands behind is told by it. */
const BOUGHT: ReadonlySet<GrantSource> = new Set(['order', 'subscription']);

/** Of each plan what runs, else what begins later, else what is over; of two alike what lasts longer. Labels are the staff's own. */
export async function givenTo(app: Looking, look: Look) {
	if (look.viewer.kind !== 'member') return [];
	const { now, viewer } = look;
	const plans = new Map((await shownPlans(app)).map((plan) => [plan.id, plan]));
	const told = new Map<string, Grant>();
	for (const grant of viewer.grants) {
		// What was taken back before it began was never held.
		const isNone = lastsUntil(grant) <= grant.from;
		if (BOUGHT.has(grant.source) || isNone || !plans.has(grant.planId)) continue;
		const known = told.get(grant.planId);
		const order = known ? rankAt(grant, now) - rankAt(known, now) : 1;
		if (!known || order > 0 || (order === 0 && lastsUntil(grant) > lastsUntil(known)))
			told.set(grant.planId, grant);
	}
	const given = [];
	for (const grant of told.values()) {
		const plan = plans.get(grant.planId);
		const until = endOfGrant(grant);
		const isOver = lastsUntil(grant) <= now;
		if (!plan) continue;
		const isOpen = !isOver && grant.from <= now;
		const items = isOpen ? await itemsByIds(app.db, await shownOfPlan(app, look, plan.id)) : [];
		given.push({
			...{ id: grant.id, name: plan.name, slug: plan.slug, source: grant.source },
			...{ from: grant.from, until, isOver, isOpen },
			items: items.map(({ id, title, address }) => ({ id, title, address }))
		});
	}
	return given.sort((a, b) => Number(a.isOver) - Number(b.isOver) || b.from - a.from);
}

function rankAt(grant: Grant, now: number): number {
	if (lastsUntil(grant) <= now) return 0;
	return grant.from > now ? 1 : 2;
}

function lastsUntil(grant: Grant): number {
	return endOfGrant(grant) ?? Infinity;
}
