import { json } from '@sveltejs/kit';
import { findAnything } from '$server/db/queries/find';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app }, url }) =>
	json(await findAnything(app.db, (url.searchParams.get('q') ?? '').slice(0, 100)));
