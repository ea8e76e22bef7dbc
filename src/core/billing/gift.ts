/**
 * What is bought for somebody else.
 *
 * A gift is paid once, by whoever gives it, and opens from the moment at which it is opened: nobody loses days because a mail
 * was read late. Of a price that is paid again and again it is one span of it. Example: of 12.00 a month after a first week for
 * 1.00, a gift costs 12.00 and opens for a month.
 */
import { atHour, dayStart, localDay } from '../time/calendar';
import type { Instant } from '../time/instant';
import type { PlanAccess } from './plan-access';
import { asksForMoney, type Terms } from './terms';

/** What is paid for a gift, and how long it opens. */
export interface GiftOf {
	terms: Terms;
	access: PlanAccess;
}

/**
 * `null`: it cannot be given. What asks for nothing is joined by oneself; instalments would be owed for years for somebody else;
 * and of what goes on until it is ended and ends by itself besides, nobody could say how long a span lasts.
 */
export function giftOf(terms: Terms, access: PlanAccess): GiftOf | null {
	const { currency, then } = terms;
	if (!asksForMoney(terms)) return null;
	if (then.kind === 'nothing') return { terms, access };
	if (then.times !== null || access.kind === 'length' || access.kind === 'until') return null;
	return {
		terms: { currency, firstMinor: then.amountMinor, feeMinor: 0, then: { kind: 'nothing' } },
		access: { kind: 'length', length: then.every }
	};
}

/** Days ahead to which telling may be put off. */
export const TOLD_WITHIN_DAYS = 366;
/** Mails about gifts go out in the morning: common practice, no source. */
const TOLD_AT_HOUR = 8;

export type TellAt = { ok: true; at: Instant } | { ok: false; code: 'over' | 'too-far' };

/**
 * When somebody is told of a gift that is for a day: in the morning of it, or at once where that is over.
 * @param day that there is, such as 2026-12-24; `null`: today
 * @param zone the publisher's
 */
export function tellAt(day: string | null, zone: string, now: Instant): TellAt {
	const today = localDay(now, zone);
	if (day === null || day === today) return { ok: true, at: now };
	if (day < today) return { ok: false, code: 'over' };
	const at = atHour(dayStart(day, zone), TOLD_AT_HOUR, zone);
	return at > now + TOLD_WITHIN_DAYS * 86_400_000 ? { ok: false, code: 'too-far' } : { ok: true, at };
}

/**
 * `unpaid`: nothing came in for it yet. `kept`: its day is not there. `told`: a mail has said it. `open`: it was opened.
 * `given-back`: the money went back before it was opened.
 */
export type GiftState = 'unpaid' | 'kept' | 'told' | 'open' | 'given-back';

export interface GiftFacts {
	isPaid: boolean;
	/** The money went back to whoever gives it, or their bank has taken it. */
	isTakenBack: boolean;
	toldAt: Instant | null;
	openedAt: Instant | null;
}

export function giftState({ isPaid, isTakenBack, toldAt, openedAt }: GiftFacts): GiftState {
	// What has become of it since is its agreement's.
	if (openedAt !== null) return 'open';
	if (isTakenBack) return 'given-back';
	if (!isPaid) return 'unpaid';
	return toldAt === null ? 'kept' : 'told';
}
