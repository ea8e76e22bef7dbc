import { json } from '@sveltejs/kit';
import { percentOf } from '$server/http/progress';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ url }) =>
	json({ percent: percentOf(url.searchParams.get('of') ?? '') });
