/**
 * Whether somebody is reminded of what they began to buy, and did not pay.
 *
 * Only whoever has shown that the mailbox is theirs, and began it signed in: an address that was only typed is written nothing that
 * it did not ask for. Once for an order, and not twice within a week; nobody who wishes for none (RFC 8058: one press ends them).
 * Example: a member who left the pay page yesterday at ten is reminded today at ten, where the publisher set 24 hours.
 */
import type { Instant } from '../time/instant';
import type { OrderState } from './order';

export interface Abandoned {
	state: OrderState;
	/** A move and a gift are begun for reasons that pass. */
	isForOneself: boolean;
	/** Begun signed in, and not by an address that was typed. */
	isByMember: boolean;
	/** The same plan was ordered again since. */
	hasLater: boolean;
	/** It, or what stands in its place, is held by now. */
	isHeld: boolean;
	/** It can still be bought as it was. */
	isSold: boolean;
}

export interface Remindable {
	isProved: boolean;
	/** Since when they wish for no reminders. */
	offAt: Instant | null;
	remindedAt: Instant | null;
}

export const NOT_REMINDED = [
	'not-left',
	'not-for-oneself',
	'only-typed',
	'goes-on',
	'held',
	'not-sold',
	'wants-none',
	'lately'
] as const;
export type NotReminded = (typeof NOT_REMINDED)[number];

export const REMINDED_AGAIN_AFTER_MS = 7 * 86_400_000;

/** After how many hours one may be reminded: before the pay page has ended, or some days later. */
export const LEAST_REMIND_HOURS = 1;
export const MOST_REMIND_HOURS = 72;

/** @returns `null`: they are reminded; else the first reason why not */
export function whyNotReminded(order: Abandoned, buyer: Remindable, now: Instant): NotReminded | null {
	if (order.state !== 'open' && order.state !== 'expired') return 'not-left';
	if (!order.isForOneself) return 'not-for-oneself';
	if (!order.isByMember || !buyer.isProved) return 'only-typed';
	if (order.hasLater) return 'goes-on';
	if (order.isHeld) return 'held';
	if (!order.isSold) return 'not-sold';
	if (buyer.offAt !== null) return 'wants-none';
	if (buyer.remindedAt !== null && now - buyer.remindedAt < REMINDED_AGAIN_AFTER_MS) return 'lately';
	return null;
}
