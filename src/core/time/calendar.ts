/**
 * Calendar steps in a named zone.
 *
 * The n-th step is always computed from the first day, never from the step before, and a day that a month does not have
 * becomes that month's last (ECMAScript Temporal, overflow "constrain"). Example: from 31 January, months 1, 2, 3 are
 * 28 February, 31 March, 30 April.
 */
import { Temporal } from 'temporal-polyfill';
import type { Instant } from './instant';

export const CALENDAR_UNITS = ['day', 'week', 'month', 'year'] as const;
export type CalendarUnit = (typeof CALENDAR_UNITS)[number];

/** The instant `count` units after `from`, by the calendar and clock of `zone` (an IANA name such as Europe/Vienna). */
export function addCalendar(from: Instant, count: number, unit: CalendarUnit, zone: string): Instant {
	const start = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone);
	return start.add({ [`${unit}s`]: count }, { overflow: 'constrain' }).epochMilliseconds;
}

/** Whether `zone` is a name that the time zone database knows. */
export function isZone(zone: string): boolean {
	try {
		Temporal.Instant.fromEpochMilliseconds(0).toZonedDateTimeISO(zone);
		return true;
	} catch {
		return false;
	}
}
