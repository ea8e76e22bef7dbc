import { error, type RequestEvent } from '@sveltejs/kit';
import { allows, type LIMITS } from '../people/rate-limit';
import { frontError } from './front-error';

/** Counts one try of whoever sent the request, and ends what comes after too many of them. */
export async function mayTry(
	{ locals: { app }, getClientAddress }: Pick<RequestEvent, 'locals' | 'getClientAddress'>,
	kind: keyof typeof LIMITS
): Promise<void> {
	if (!(await allows(app, kind, getClientAddress()))) error(429, frontError('error.too-many-tries'));
}
