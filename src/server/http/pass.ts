import { error } from '@sveltejs/kit';
import type { Denial } from './denial';
import { answerDenial, NO_SUCH_PAGE } from './denial';

/** Ends a page whose address is closed to whoever looks; gives the notice to show instead, or `null` where it is open. */
export async function denialOf({ app, access, look }: App.Locals, path: string): Promise<Denial | null> {
	if (!access) error(404, NO_SUCH_PAGE);
	const { decision } = access;
	if (decision.verdict === 'open') return null;
	return answerDenial(decision, path, look.viewer.kind === 'member', (await app.site()).turnAway);
}
