/**
 * Calendar steps in a named zone.
 *
 * The n-th step is always computed from the first day, never from the step before, and a day that a month does not have
 * becomes that month's last (ECMAScript Temporal, overflow "constrain"). Example: from 31 January, months 1, 2, 3 are
 * 28 February, 31 March, 30 April.
 */
import { Temporal } from 'temporal-polyfill';
import type { Instant } from './instant';
import { steadyAt } from './steady';

export const CALENDAR_UNITS = ['day', 'week', 'month', 'year'] as const;
export type CalendarUnit = (typeof CALENDAR_UNITS)[number];

/** The instant `count` units after `from`, by the calendar and clock of `zone` (an IANA name such as Europe/Vienna). */
export function addCalendar(from: Instant, count: number, unit: CalendarUnit, zone: string): Instant {
	return addedFarFromChanges(from, count, unit, zone) ?? addedByTemporal(from, count, unit, zone);
}

/** The same by ECMAScript Temporal alone, which is right near changes of the clocks, too, and twenty times as slow. */
export function addedByTemporal(from: Instant, count: number, unit: CalendarUnit, zone: string): Instant {
	const start = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone);
	return start.add({ [`${unit}s`]: count }, { overflow: 'constrain' }).epochMilliseconds;
}

const DAY_MS = 86_400_000;
const EARLIEST = Date.UTC(1970);
const LATEST = Date.UTC(2100);

/** `null`: where it leads lies within a day of a change of the clocks, or too far away to say. */
function addedFarFromChanges(from: Instant, count: number, unit: CalendarUnit, zone: string): Instant | null {
	if (!(from >= EARLIEST && from < LATEST) || !Number.isInteger(count)) return null;
	const here = steadyAt(from, zone);
	const local = movedLocal(from + here.offset, count, unit);
	if (!(local >= EARLIEST && local < LATEST)) return null;
	const there = steadyAt(local - here.offset, zone);
	const at = local - there.offset;
	return at >= there.from + DAY_MS && at < there.until - DAY_MS ? at : null;
}

/** A reading of a clock, written as if it were UTC, moved by the calendar alone. */
function movedLocal(local: number, count: number, unit: CalendarUnit): number {
	if (unit === 'day' || unit === 'week') return local + count * (unit === 'day' ? 1 : 7) * DAY_MS;
	const day = new Date(local);
	const ofMonth = day.getUTCDate();
	day.setUTCDate(1);
	day.setUTCMonth(day.getUTCMonth() + count * (unit === 'month' ? 1 : 12));
	const lastDay = new Date(Date.UTC(day.getUTCFullYear(), day.getUTCMonth() + 1, 0)).getUTCDate();
	return day.setUTCDate(Math.min(ofMonth, lastDay));
}

/**
 * How many `unit`s lie between two instants by the calendar and clock of `zone`, with the fraction of the one that is begun;
 * below 0 where `to` comes first. It takes back `addCalendar`, but where the day of the month was cut off.
 */
export function calendarBetween(from: Instant, to: Instant, unit: CalendarUnit, zone: string): number {
	const [start, end] = [from, to].map((at) =>
		Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone)
	);
	if (!start || !end) return 0;
	return start.until(end, { largestUnit: unit }).total({ unit, relativeTo: start });
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

/**
 * The given hour on the day of `at`. An hour that the change to summer time skips becomes the one after it, an hour that
 * comes twice is the first (Temporal's disambiguation "compatible").
 */
export function atHour(at: Instant, hour: number, zone: string): Instant {
	const day = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).toPlainDate();
	return day.toZonedDateTime({ timeZone: zone, plainTime: Temporal.PlainTime.from({ hour }) })
		.epochMilliseconds;
}

/** What a typed date and time of day is in a zone, and whether that zone's clocks made it special. */
export type LocalMoment =
	{ ok: true; at: Instant; note: 'plain' | 'skipped' | 'repeated' } | { ok: false; code: 'not-a-date' };

/** Reads `2026-03-29T02:30` (or `2026-03-29 02:30`, or a date alone: its first moment) as local time of `zone`. */
export function readLocal(text: string, zone: string): LocalMoment {
	let local: Temporal.PlainDateTime;
	try {
		local = Temporal.PlainDateTime.from(text.trim().replace(' ', 'T'), { overflow: 'reject' });
	} catch {
		return { ok: false, code: 'not-a-date' };
	}
	const earlier = local.toZonedDateTime(zone, { disambiguation: 'earlier' });
	const later = local.toZonedDateTime(zone, { disambiguation: 'later' });
	const at = local.toZonedDateTime(zone, { disambiguation: 'compatible' }).epochMilliseconds;
	if (earlier.epochMilliseconds === later.epochMilliseconds) return { ok: true, at, note: 'plain' };
	return { ok: true, at, note: earlier.toPlainDateTime().equals(local) ? 'repeated' : 'skipped' };
}

/** `2026-03-29T02:30`, for a form field. */
export function writeLocal(at: Instant, zone: string): string {
	const local = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).toPlainDateTime();
	return local.toString({ smallestUnit: 'minute' });
}

/** The day of a moment in a zone, such as 2026-07-01. */
export function localDay(at: Instant, zone: string): string {
	return writeLocal(at, zone).slice(0, 10);
}

/** Whether a text is a day that there is, such as 2028-02-29. */
export function isDay(text: string): boolean {
	if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false;
	const day = new Date(`${text}T00:00:00Z`);
	return !Number.isNaN(day.getTime()) && day.toISOString().slice(0, 10) === text;
}

/**
 * The first moment of a day, where the clocks go forward at midnight the first that there is.
 * @param day such as 2026-04-24
 */
export function dayStart(day: string, zone: string): Instant {
	return Temporal.PlainDate.from(day).toZonedDateTime(zone).epochMilliseconds;
}
