/** Blocked places move access: whoever changes them says yes to the very places that are kept out or let in. */
import { placesMoved, type Deterrents, type PlacesMoved } from '$core/media/deterrents';
import { revisionOf } from '../../revision';

export interface PlacesAsked extends PlacesMoved {
	/** What a form sends back to say yes to this change. */
	yes: string;
}

/** Takes a save back: somebody has to say yes first. */
export class AsksForPlaces extends Error {
	readonly code = 'asks-for-places';
	constructor(readonly asked: PlacesAsked) {
		super('Blocked places would change, and nobody has agreed to that');
	}
}

type Blocked = Pick<Deterrents, 'blockedCountries' | 'blockedNetworks'>;

/** @param of what it is for, so that a yes to one item is none to another */
export function expectAgreedPlaces(
	of: string,
	before: Blocked,
	after: Blocked,
	agreedTo: string | null
): void {
	const moved = placesMoved(before, after);
	if (moved.keptOut.length + moved.letIn.length === 0) return;
	const yes = revisionOf({ of, ...moved });
	if (agreedTo !== yes) throw new AsksForPlaces({ ...moved, yes });
}
