/**
 * Who holds which plan, as programs that listen were told last, beside who holds it now: the difference is what they are told
 * next, whatever it came from. What came and went in between is told to nobody.
 *
 * Example: a member who moved from Apprentice to Journeyman has left the one and joined the other; one whose address changed
 * has left with the old and joined with the new, so that a list of addresses is right by itself.
 */
export interface Place {
	memberId: string;
	planId: string;
	email: string;
}

export interface PlaceChanges<Held extends Place> {
	left: Place[];
	joined: Held[];
}

/**
 * @param told what was told last, of the members in question
 * @param held what they hold now
 * @returns departures are to be told first: who comes back on the same list stays on it
 */
export function placeChanges<Held extends Place>(
	told: readonly Place[],
	held: readonly Held[]
): PlaceChanges<Held> {
	const before = new Set(told.map(keyOf));
	const after = new Set(held.map(keyOf));
	return {
		left: told.filter((one) => !after.has(keyOf(one))),
		joined: held.filter((one) => !before.has(keyOf(one)))
	};
}

function keyOf({ memberId, planId, email }: Place): string {
	return `${memberId} ${planId} ${email}`;
}
