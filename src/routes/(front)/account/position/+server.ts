import { error } from '@sveltejs/kit';
import { record } from '$server/http/read-window';
import { keepPosition } from '$server/usecases/library/keep-position';
import type { RequestHandler } from './$types';

const PROBLEMS = { nobody: 'Sign in to keep your place.', closed: 'This is not open to you.' };

/** Where a member is in a film: sent by the player now and then. */
export const POST: RequestHandler = async ({ locals: { app, look }, request }) => {
	const { item, seconds } = record(await request.json().catch(() => null));
	if (typeof item !== 'string' || typeof seconds !== 'number') error(400, 'This is no place in a film.');
	const kept = await keepPosition(app, look, item, seconds);
	if (!kept.ok) error(403, PROBLEMS[kept.code]);
	return new Response(null, { status: 204 });
};
