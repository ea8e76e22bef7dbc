/** Where a page of the front finds the publisher's colours. */
import type { Colour } from '$core/looks/colour';

/** Empty where they have none of their own. */
export function looksLink(colour: Colour | null): string {
	return colour === null ? '' : `<link rel="stylesheet" href="/_looks/${colour.slice(1)}.css" />`;
}
