/** By what an order stands: there is one of each, as long as it is neither paid nor ended. */
import { hashOf } from '../../people/sessions';

export function memberKey(memberId: string, planId: string): string {
	return `${memberId}:${planId}`;
}

/** Strangers' orders are told apart by their device: nobody ends what another has begun on the same address. */
export function strangerKey(deviceHash: string, email: string | null, planId: string): string {
	return hashOf(JSON.stringify([deviceHash, email, planId]));
}
