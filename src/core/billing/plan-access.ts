/**
 * How long a plan gives access, once it is bought.
 *
 * While it is paid, for good, for a length, or until a date; whichever the price. What is paid once is paid for good: while it is
 * paid, and for good, are the same there. Of what is paid by and by until it is ended, nothing is ever all paid: for good means
 * while it is paid there. Instalments open while they are paid as agreed, and what is said of them counts when the last is
 * paid. A length and a date end access whatever is paid; what goes on until it is ended falls due no more from then on.
 */
import { addCalendar } from '../time/calendar';
import type { Instant } from '../time/instant';
import type { Step } from './terms';

export type PlanAccess =
	| { kind: 'while-paid' }
	| { kind: 'for-good' }
	| { kind: 'length'; length: Step }
	| { kind: 'until'; at: Instant };

/** When a plan is sold. */
export interface Selling {
	isOnSale: boolean;
	access: PlanAccess;
	/** From this moment on; `null`: since ever. */
	sellsFrom: Instant | null;
	/** Up to this moment; `null`: without an end. */
	sellsUntil: Instant | null;
	/** All its prices are for the first buyers alone, and there are as many by now. */
	isFull?: boolean;
}

export type Sold =
	/** `until`: when selling closes, where it does. */
	| { kind: 'now'; until: Instant | null }
	| { kind: 'later'; from: Instant }
	/** It is on sale, and nothing is left of it. */
	| { kind: 'full' }
	| { kind: 'not' };

/** Whether anybody may buy a plan now, or will: nobody buys what has ended for everybody. */
export function soldAt({ isOnSale, access, sellsFrom, sellsUntil, isFull }: Selling, now: Instant): Sold {
	const ends = access.kind === 'until' ? access.at : Infinity;
	const closes = Math.min(ends, sellsUntil ?? Infinity);
	if (!isOnSale || closes <= now) return { kind: 'not' };
	if (sellsFrom !== null && sellsFrom > now)
		return sellsFrom < closes ? { kind: 'later', from: sellsFrom } : { kind: 'not' };
	if (isFull) return { kind: 'full' };
	return { kind: 'now', until: sellsUntil === null ? null : closes };
}

export function sellsAt(plan: Selling, now: Instant): boolean {
	return soldAt(plan, now).kind === 'now';
}

/**
 * When what is bought now begins: at once, or on the first day that all who buy share, where that is still to come. What is paid
 * by the period is paid from then on, and lengths count from then.
 */
export function beginsAt({ firstDay }: { firstDay?: Instant | null }, now: Instant): Instant {
	return Math.max(now, firstDay ?? now);
}

/** More is no limit that anybody means. */
export const MOST_FIRST_BUYERS = 10_000;

/**
 * What is left of a price that is for the first buyers alone, such as the first twenty of an intake.
 * @param firstBuyers for so many it is; `null`: for all
 * @param taken how many have it, or are about to pay
 * @returns how many more may buy at it; `null`: any number
 */
export function leftOf(firstBuyers: number | null, taken: number): number | null {
	return firstBuyers === null ? null : Math.max(0, firstBuyers - taken);
}

/** When access ends whatever is paid; `null`: never by itself. */
export function accessEnd(access: PlanAccess, start: Instant, zone: string): Instant | null {
	switch (access.kind) {
		case 'length':
			return addCalendar(start, access.length.count, access.length.unit, zone);
		case 'until':
			return access.at;
		case 'while-paid':
		case 'for-good':
			return null;
	}
}

/** Who can buy a plan: everybody, whoever has its link, or nobody new: those who have it keep it. */
export const SALES = ['listed', 'by-link', 'closed'] as const;
export type Sale = (typeof SALES)[number];

export function saleOf({ isPublic, isOnSale }: { isPublic: boolean; isOnSale: boolean }): Sale {
	if (!isOnSale) return 'closed';
	return isPublic ? 'listed' : 'by-link';
}
