/**
 * Beginning to charge for what was free: what of the chosen is open to everybody now, and what would still be open when a plan has
 * been put before it.
 *
 * Example: the first lesson of a course is open to anyone by its base, the others are closed: charging for the course closes one
 * lesson. A lesson that a fence of its own opens to anyone stays open whatever its base: the fence has to be changed first.
 */
import { HOLDERS } from '../library/homes';
import type { Instant } from '../time/instant';
import { decide } from './decide/decide';
import { pagesIn } from './idle-releases';
import { STRANGER } from './model';
import { signedUp } from './newcomers';
import type { Policy } from './policy';

/** What is chosen, and what lives in it; the page of a course, a show or a shelf itself stays as it is. */
export function chargedPlaces(policy: Policy, ids: readonly string[]): string[] {
	const collections = new Set(ids.filter((id) => isGroup(policy, id)));
	return pagesIn(policy, ids).filter((id) => !collections.has(id));
}

/** Those that a stranger may open, or whoever has an account and nothing else. */
export function openToAll(policy: Policy, placeIds: readonly string[], now: Instant): string[] {
	const account = signedUp({ plans: [], zone: policy.source.zone }, now);
	return placeIds.filter((id) =>
		[STRANGER, account].some((viewer) => decide(policy, viewer, id, now).verdict === 'open')
	);
}

export interface StillOpen {
	id: string;
	/** Fences that let everybody in. */
	fenceIds: string[];
}

/** What the plan would be put before in vain. */
export function stillOpen(after: Policy, placeIds: readonly string[], now: Instant): StillOpen[] {
	return openToAll(after, placeIds, now).map((id) => {
		const ways = after.place(id)?.passage.ways ?? [];
		const forAll = ways.filter(({ crossing: { audience } }) => audience.kind !== 'holders');
		return { id, fenceIds: [...new Set(forAll.map(({ fence }) => fence.id))] };
	});
}

function isGroup(policy: Policy, id: string): boolean {
	const kind = policy.resources.get(id)?.kind;
	return kind !== undefined && HOLDERS.has(kind) && kind !== 'page';
}
