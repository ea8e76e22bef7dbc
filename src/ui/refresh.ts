import { invalidate, invalidateAll } from '$app/navigation';
import { navigating } from '$app/state';

/**
 * Reads a page anew, or what of it depends on something. A navigation that is under way comes first: the kit would drop it,
 * and whoever pressed a link would stay where they are.
 * @param what as loads name it: `desk:library`; left out: everything
 */
export async function refresh(what?: string): Promise<void> {
	// One that fails is shown by itself.
	await navigating.complete?.catch(() => {});
	await (what === undefined ? invalidateAll() : invalidate(what));
}
