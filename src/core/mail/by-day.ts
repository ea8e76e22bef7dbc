/** Mails of each of the last days, in the publisher's zone. */
import { addCalendar, atHour } from '../time/calendar';
import type { Instant } from '../time/instant';

export interface MailDay {
	/** When it begins. */
	at: Instant;
	/** Taken by the server. */
	sent: number;
	/** Of these, and of what the server would not have, what came back or was complained of. */
	back: number;
}

/** When the first of the last days begins; today is the last. */
export function firstDay(now: Instant, days: number, zone: string): Instant {
	return addCalendar(atHour(now, 0, zone), 1 - days, 'day', zone);
}

/**
 * @param counted by any short span; each belongs to the day in which it begins, and what is before the first day to none
 * @returns each day, the oldest first, with noughts where there was nothing
 */
export function mailsByDay(
	counted: readonly { at: Instant; count: number; isBack: boolean }[],
	now: Instant,
	days: number,
	zone: string
): MailDay[] {
	const first = firstDay(now, days, zone);
	const all = Array.from({ length: days }, (_, n) => ({
		...{ at: addCalendar(first, n, 'day', zone), sent: 0, back: 0 }
	}));
	for (const { at, count, isBack } of counted) {
		const day = all.findLast((one) => one.at <= at);
		if (day) day[isBack ? 'back' : 'sent'] += count;
	}
	return all;
}
