/**
 * Whether a change of the policy can be taken back, and by which change.
 *
 * It can as long as nobody has changed the same since. Example: a fence was saved at noon, and again in the evening: the
 * change of noon cannot be taken back any more, that of the evening can.
 */
import { drained } from '../pieces';
import { comparing, undone, type Change, type Delta } from './delta';
import type { PolicySource } from './model';

export type NotTakenBack =
	/** Somebody has changed the same since. */
	| 'changed-since'
	/** Something was made in it, or taken away for good: an item, a plan, a label. */
	| 'made-or-gone'
	/** An address was changed, and leads on from there: it is changed back where it stands. */
	| 'address'
	/** The rules of the site, or of a plan, which are set where they stand. */
	| 'rules'
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
		release: new Map(source.releases.map((one) => [one.id, one]))
	};
	const plans = new Set(source.plans.map(({ id }) => id));
	const problemOf = (one: Change): NotTakenBack | null => {
		switch (one.kind) {
			case 'naming':
				return null;
			case 'plan':
				return one.before && one.after ? 'rules' : 'made-or-gone';
			case 'site':
				return 'rules';
			case 'release':
			case 'fence':
			case 'resource': {
				const current = now[one.kind].get(one.id) ?? null;
				if (drained(comparing([{ ...one, before: current } as Change])).length > 0) return 'changed-since';
				if (one.kind === 'release')
					return one.before && !plans.has(one.before.planId) ? 'leads-nowhere' : null;
				if (one.kind === 'fence') return null;
				const { before, after } = one;
				if (!before || !after) return 'made-or-gone';
				if (before.address !== after.address || before.siteId !== after.siteId) return 'address';
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
