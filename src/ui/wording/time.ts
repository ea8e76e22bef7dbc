/** Moments for people, in the publisher's zone. */
import { CALENDAR_UNITS, type CalendarUnit } from '$core/time/calendar';
import type { Instant } from '$core/time/instant';

const HOUR_MS = 3_600_000;

const DAY = { day: 'numeric', month: 'short', year: 'numeric' } as const;
const MOMENT = { ...DAY, hour: '2-digit', minute: '2-digit' } as const;

export const formatDay = formatting(DAY);
export const formatMoment = formatting(MOMENT);

/** Formatters are dear to make: one for each zone. */
function formatting(how: Intl.DateTimeFormatOptions): (at: Instant, zone: string) => string {
	const made = new Map<string, Intl.DateTimeFormat>();
	return (at, zone) => {
		let format = made.get(zone);
		if (!format) made.set(zone, (format = new Intl.DateTimeFormat('en-GB', { ...how, timeZone: zone })));
		return format.format(at);
	};
}

/** `75` seconds are `1:15`, `3675` are `1:01:15`. */
export function formatLength(seconds: number): string {
	const two = (n: number) => String(n).padStart(2, '0');
	const [h, m, s] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60];
	return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}

export function formatBytes(bytes: number): string {
	const units = ['bytes', 'KB', 'MB', 'GB', 'TB'];
	const step = Math.min(units.length - 1, Math.floor(Math.log(Math.max(1, bytes)) / Math.log(1024)));
	const value = bytes / 1024 ** step;
	return `${step === 0 || value >= 100 ? Math.round(value) : value.toFixed(1)} ${units[step]}`;
}

/** A wait, in the largest unit that it is whole in: `after 2 weeks`, `after 10 days`, `after 5 hours`. */
export function afterWords(ms: number): string {
	const hours = Math.max(1, Math.round(ms / HOUR_MS));
	const days = Math.round(hours / 24);
	// A release waits for its hour of the day, and clocks are put forward and back.
	if (days === 0) return `after ${hours} ${hours === 1 ? 'hour' : 'hours'}`;
	const [count, unit] = days % 7 === 0 ? [days / 7, 'week'] : [days, 'day'];
	return `after ${count} ${unit}${count === 1 ? '' : 's'}`;
}

/** Units of the calendar to choose from, behind a number as it is typed: "1 week", "2 weeks". */
export function unitOptions(count: string, units: readonly CalendarUnit[] = CALENDAR_UNITS) {
	const isOne = count.trim() === '1';
	return units.map((unit) => ({ value: unit, label: isOne ? unit : `${unit}s` }));
}
