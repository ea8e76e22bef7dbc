/** Lists of the front. Every entry is decided; what a fence leaves out, or hides, does not stand in them. */
import type { Decision, Verdict } from '$core/access/decision';
import type { ResourceKind } from '$core/access/model';
import { openedByPlan } from '$core/access/policy';
import type { LibraryItem } from '../../db/queries/library';
import { decidingIn, type Look, type Looking } from '../../rights/look';
import { shownLibrary, showsPoster } from '../../rights/shown';

export interface ListEntry {
	id: string;
	title: string;
	kind: ResourceKind;
	address: string | null;
	homeId: string | null;
	position: number;
	seconds: number | null;
	verdict: Verdict;
	opensAt: number | null;
	poster: string | null;
}

/** Whether lists may name something to whoever was decided about. */
export function isKnownTo(decision: Decision): boolean {
	return decision.verdict === 'open' || (decision.isListed && decision.answer.kind !== 'absent');
}

/** What a plan opens and its holder may know of, in the policy's order. */
export async function shownOfPlan(app: Looking, look: Look, planId: string): Promise<string[]> {
	const decide = await decidingIn(app, look);
	const opened = openedByPlan(look.policy, planId);
	const decided = await Promise.all(opened.map(async ({ id }) => ({ id, decision: await decide(id) })));
	return decided.filter(({ decision }) => isKnownTo(decision)).map(({ id }) => id);
}

/** Entries of the Library that are asked for, as whoever looks may see them. */
export async function listFor(
	app: Looking,
	look: Look,
	isAsked: (item: LibraryItem) => boolean
): Promise<ListEntry[]> {
	const decide = await decidingIn(app, look);
	const entries = (await shownLibrary(app)).filter(isAsked).map(async (item): Promise<ListEntry | null> => {
		const decision = await decide(item.id);
		const isOpen = decision.verdict === 'open';
		if (!isKnownTo(decision)) return null;
		const { id, title, kind, address, homeId, position, seconds, hasPicture } = item;
		const hasPoster = hasPicture && (await showsPoster(app, decision, id));
		return {
			id,
			title,
			kind,
			address,
			homeId,
			position,
			seconds,
			verdict: decision.verdict,
			opensAt: isOpen ? null : decision.opensAt,
			poster: hasPoster ? `/media/poster/${id}` : null
		};
	});
	return (await Promise.all(entries)).filter((entry) => entry !== null);
}
