/** What a member holds without having bought it here: given by hand, by a code, brought along, bought elsewhere. */
import { endOfGrant } from '$core/access/clock';
import type { Grant, GrantSource } from '$core/access/model';
import { itemsByIds } from '../../db/queries/items';
import type { Look, Looking } from '../../rights/look';
import { shownPlans } from '../../rights/shown';
import { shownOfPlan } from './lists';

/** What an agreement stands behind is told by it. */
const BOUGHT: ReadonlySet<GrantSource> = new Set(['order', 'subscription']);

/** Of each plan the grant that lasts longest, or lasted; what runs stands first. Labels are the staff's own. */
export async function givenTo(app: Looking, look: Look) {
	if (look.viewer.kind !== 'member') return [];
	const { now, viewer } = look;
	const plans = new Map((await shownPlans(app)).map((plan) => [plan.id, plan]));
	const longest = new Map<string, Grant>();
	for (const grant of viewer.grants) {
		if (BOUGHT.has(grant.source) || !plans.has(grant.planId)) continue;
		const known = longest.get(grant.planId);
		if (!known || lastsUntil(grant) > lastsUntil(known)) longest.set(grant.planId, grant);
	}
	const given = [];
	for (const grant of longest.values()) {
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

function lastsUntil(grant: Grant): number {
	return endOfGrant(grant) ?? Infinity;
}
