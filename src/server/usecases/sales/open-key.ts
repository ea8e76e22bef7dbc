/** By what an order stands: there is one of each, as long as it is neither paid nor ended. */
import { hashOf } from '../../people/sessions';

export function memberKey(memberId: string, planId: string): string {
	return `${memberId}:${planId}`;
}

/** Of what is bought for others there is one for each of them. */
export function giftKey(of: string, email: string): string {
	return hashOf(JSON.stringify(['gift', of, email]));
}

/** Strangers' orders are told apart by their device: nobody ends what another has begun on the same address. */
export function strangerKey(deviceHash: string, email: string | null, planId: string): string {
	return hashOf(JSON.stringify([deviceHash, email, planId]));
}
