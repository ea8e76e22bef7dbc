import { error } from '@sveltejs/kit';
import { decideIn } from '$server/rights/look';
import { record } from '$server/http/read-window';
import { keepPosition } from '$server/usecases/library/keep-position';
import type { RequestHandler } from './$types';

/** Where a member is in a film: sent by the player now and then. */
export const POST: RequestHandler = async ({ locals: { app, look }, request }) => {
	const { item, seconds } = record(await request.json().catch(() => null));
	if (look.memberId === null || look.otherSide) error(403, 'Sign in to keep your place.');
	if (typeof item !== 'string' || typeof seconds !== 'number') error(400, 'This is no place in a film.');
	if ((await decideIn(app, look, item)).verdict !== 'open') error(403, 'This is not open to you.');
	await keepPosition(app, look.memberId, item, seconds);
	return new Response(null, { status: 204 });
};
