/**
 * Whether a change of the policy can be taken back, and by which change.
 *
 * It can as long as nobody has changed the same since. Example: a fence was saved at noon, and again in the evening: the
 * change of noon cannot be taken back any more, that of the evening can.
 */
import { drained } from '../pieces';
import { comparing, siteOf, undone, type Change, type Delta } from './delta';
import type { PolicySource } from './model';

export type NotTakenBack =
	/** Somebody has changed the same since. */
	| 'changed-since'
	/** Something was made in it, or taken away for good: an item, a plan, a label. */
	| 'made-or-gone'
	/** Something else has the address by now. */
	| 'address'
	/** What it led to is gone: a home, a category, a tag, a plan. */
	| 'leads-nowhere';

export type TakingBack = { ok: true; delta: Delta } | { ok: false; code: NotTakenBack };

/** @param isThere whether a category or tag is still there */
export function takingBack(
	source: PolicySource,
	change: Delta,
	isThere: (labelId: string) => boolean
): TakingBack {
	const now = {
		resource: new Map(source.resources.map((one) => [one.id, one])),
		fence: new Map(source.fences.map((one) => [one.id, one])),
		release: new Map(source.releases.map((one) => [one.id, one])),
		plan: new Map(source.plans.map((one) => [one.id, one]))
	};
	const touched = new Set(change.map(({ id }) => id));
	const isTaken = (address: string, siteId: string | undefined) =>
		source.resources.some((one) => one.address === address && one.siteId === siteId && !touched.has(one.id));
	const hasMoved = (one: Change, current: unknown) =>
		drained(comparing([{ ...one, before: current } as Change])).length > 0;
	const problemOf = (one: Change): NotTakenBack | null => {
		switch (one.kind) {
			case 'naming':
				return null;
			case 'site':
				return hasMoved(one, siteOf(source)) ? 'changed-since' : null;
			case 'plan':
				if (!one.before || !one.after) return 'made-or-gone';
				return hasMoved(one, now.plan.get(one.id) ?? null) ? 'changed-since' : null;
			case 'release':
			case 'fence':
			case 'resource': {
				if (hasMoved(one, now[one.kind].get(one.id) ?? null)) return 'changed-since';
				if (one.kind === 'release')
					return one.before && !now.plan.has(one.before.planId) ? 'leads-nowhere' : null;
				if (one.kind === 'fence') return null;
				const { before, after } = one;
				if (!before || !after) return 'made-or-gone';
				if (
					before.address !== after.address &&
					before.address !== null &&
					isTaken(before.address, before.siteId)
				)
					return 'address';
				const isHome = before.homeId === null || now.resource.has(before.homeId);
				const labels = [...before.tagIds, ...(before.categoryId === null ? [] : [before.categoryId])];
				return isHome && labels.every(isThere) ? null : 'leads-nowhere';
			}
		}
	};
	for (const one of change) {
		const code = problemOf(one);
		if (code) return { ok: false, code };
	}
	return { ok: true, delta: undone(change) };
}
