/** Where somebody lands who has just bought, or signed in. */
import { decide } from '$core/access/decide/decide';
import { endOfGrant } from '$core/access/clock';
import { openedByPlan } from '$core/access/policy';
import type { Grant, Resource } from '$core/access/model';
import type { Using } from '../../app';
import { shownPlans } from '../../rights/shown';

const ACCOUNT = '/account';
/** Of a plan as many things are looked at; where none of them is open yet, it leads nowhere. */
const LOOKED_AT = 200;

export interface Arriving {
	memberId: string;
	/** What they have just joined; `null`: nothing. */
	planId: string | null;
	/** The path that they wanted; `null`: none. */
	next: string | null;
}

/**
 * What they wanted, if it is open; else the first thing that is open of the plan that they have just joined, then of the others
 * that they hold, in the order in which plans are offered; else their account. What is shut for them is passed over.
 */
export async function landingPath(
	app: Using<'clock' | 'db' | 'rights'>,
	{ memberId, planId, next }: Arriving
): Promise<string> {
	const [policy, standing] = await Promise.all([app.rights.policy(), app.rights.standing(memberId)]);
	if (!standing) return ACCOUNT;
	const { viewer } = standing;
	const now = app.clock.business();
	const isOpen = async ({ id }: Resource) => {
		const context = await app.rights.context(policy, viewer, id, null);
		return decide(policy, viewer, id, now, context).verdict === 'open';
	};
	const wanted = next === null ? null : policy.resourceAt(next.split(/[?#]/)[0] ?? '');
	if (next !== null && wanted && (await isOpen(wanted))) return next;
	for (const id of await plansInOrder(app, planId, heldBy(viewer.grants, now)))
		for (const resource of openedByPlan(policy, id).filter(isPublished).slice(0, LOOKED_AT))
			if (resource.address !== null && (await isOpen(resource))) return resource.address;
	return ACCOUNT;
}

const isPublished = ({ state }: Resource) => state === 'published';

function heldBy(grants: readonly Grant[], now: number): Set<string> {
	const runs = grants.filter((grant) => grant.from <= now && (endOfGrant(grant) ?? Infinity) > now);
	return new Set(runs.map(({ planId }) => planId));
}

async function plansInOrder(
	app: Using<'db' | 'rights'>,
	joined: string | null,
	held: ReadonlySet<string>
): Promise<string[]> {
	const first = joined === null ? [] : [joined];
	if ([...held].every((id) => id === joined)) return first;
	const all = (await shownPlans(app)).map(({ id }) => id);
	return [...first, ...all.filter((id) => held.has(id) && id !== joined)];
}

/** Where whoever signs in goes: the page that they asked for, which says why where it is shut; else on to what is open. */
export async function afterSignIn(
	app: Using<'clock' | 'db' | 'rights'>,
	{ memberId, isStaff, next }: { memberId: string; isStaff: boolean; next: string | null }
): Promise<string> {
	if (next) return next;
	return isStaff ? '/desk' : landingPath(app, { memberId, planId: null, next: null });
}
