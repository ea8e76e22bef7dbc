/**
 * Whether a page whose openings are counted may be delivered: on a use that goes on, or one that is taken now. Requests that
 * only look (HEAD, data for a page that a browser has not turned to yet, preloads, the other side) take none.
 */
import { error, type RequestEvent } from '@sveltejs/kit';
import { looksAhead } from '$core/media/uses';
import { isUnderWay, takeUse } from '../usecases/library/uses';
import { decideIn } from '../rights/look';
import { countedBy } from './media/admit';

/** `held`: it may not be delivered to this request, but would be to one that asks for the whole page. */
export type Delivery = 'delivered' | 'held' | 'turned-away';

export async function deliverPage({
	locals,
	request,
	isDataRequest
}: Pick<RequestEvent, 'locals' | 'request' | 'isDataRequest'>): Promise<Delivery> {
	const { app, look, access } = locals;
	if (!access?.itemId || look.otherSide) return 'delivered';
	const counted = countedBy(access.decision, look.memberId, access.itemId);
	if (!counted) return 'delivered';
	const { memberId, itemId, grantId } = counted;
	if (await isUnderWay(app, memberId, itemId, grantId)) return 'delivered';
	if (request.method !== 'GET' || isDataRequest || looksAhead(request.headers.get('sec-purpose')))
		return 'held';
	if ((await takeUse(app, memberId, itemId)).ok) return 'delivered';
	// Taken elsewhere in the meantime, or access has ended: what is known by now decides what is said.
	await app.rights.refresh();
	const decision = await decideIn(app, { ...look, now: app.clock.business() }, itemId);
	if (decision.verdict === 'open') error(503, 'This could not be opened just now. Try again in a moment.');
	locals.access = { itemId, decision };
	return 'turned-away';
}
