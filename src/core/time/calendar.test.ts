import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { Temporal } from 'temporal-polyfill';
import {
	addCalendar,
	addedByTemporal,
	CALENDAR_UNITS,
	calendarBetween,
	dayStart,
	isDay,
	isZone,
	localDay
} from './calendar';

const at = (iso: string) => Date.parse(iso);

// Source: ECMAScript Temporal, AddZonedDateTime with overflow "constrain"; change-over nights of the IANA database.
describe('calendar steps', () => {
	test.each([
		[
			'the 31st goes to the end of a shorter month',
			'2026-01-31T00:00Z',
			1,
			'month',
			'UTC',
			'2026-02-28T00:00Z'
		],
		['and comes back in a longer one', '2026-01-31T00:00Z', 2, 'month', 'UTC', '2026-03-31T00:00Z'],
		['29 February one year on', '2028-02-29T12:00Z', 1, 'year', 'UTC', '2029-02-28T12:00Z'],
		['29 February four years on', '2028-02-29T12:00Z', 4, 'year', 'UTC', '2032-02-29T12:00Z'],
		[
			'a day over the spring night has 23 hours',
			'2026-03-28T12:00+01:00',
			1,
			'day',
			'Europe/Vienna',
			'2026-03-29T12:00+02:00'
		],
		[
			'a day over the autumn night has 25 hours',
			'2026-10-24T12:00+02:00',
			1,
			'day',
			'Europe/Vienna',
			'2026-10-25T12:00+01:00'
		],
		[
			'an hour that the night skips is taken after it',
			'2026-03-28T02:30+01:00',
			1,
			'day',
			'Europe/Vienna',
			'2026-03-29T03:30+02:00'
		],
		[
			'another zone, another night',
			'2026-03-07T12:00-05:00',
			1,
			'day',
			'America/New_York',
			'2026-03-08T12:00-04:00'
		],
		['nothing added is nothing moved', '2026-05-05T05:05Z', 0, 'month', 'UTC', '2026-05-05T05:05Z']
	] as const)('%s', (_, from, count, unit, zone, expected) => {
		expect(addCalendar(at(from), count, unit, zone)).toBe(at(expected));
	});

	// Near changes of the clocks, on both sides of the year, in zones that change by half an hour, at midnight, or never.
	it.each([
		'Europe/Vienna',
		'Europe/Dublin',
		'Australia/Lord_Howe',
		'Africa/Cairo',
		'America/Havana',
		'Africa/Casablanca',
		'Pacific/Apia',
		'America/New_York',
		'Asia/Kathmandu',
		'UTC'
	])('are in %s what ECMAScript Temporal makes of them, to the millisecond', (zone) => {
		const changes: number[] = [];
		let change: Temporal.ZonedDateTime | null =
			Temporal.Instant.from('2009-01-01T00:00Z').toZonedDateTimeISO(zone);
		while (changes.length < 60) {
			change = change.getTimeZoneTransition('next');
			if (!change) break;
			changes.push(change.epochMilliseconds);
		}
		const anywhere = fc.integer({ min: at('1969-06-01T00:00Z'), max: at('2101-01-01T00:00Z') });
		const byChange = fc
			.tuple(fc.constantFrom(...changes, 0), fc.integer({ min: -2 * 86_400_000, max: 2 * 86_400_000 }))
			.map(([moment, beside]) => moment + beside);
		const moment = fc.oneof(anywhere, byChange);
		const unit = fc.constantFrom(...CALENDAR_UNITS);
		fc.assert(
			fc.property(moment, fc.integer({ min: -60, max: 400 }), unit, (from, count, unit) => {
				expect(addCalendar(from, count, unit, zone)).toBe(addedByTemporal(from, count, unit, zone));
			}),
			{ numRuns: 1500 }
		);
		// Led to a change itself, by days that are counted back from it.
		fc.assert(
			fc.property(byChange, fc.integer({ min: -400, max: 400 }), (to, days) => {
				const from = to - days * 86_400_000;
				expect(addCalendar(from, days, 'day', zone)).toBe(addedByTemporal(from, days, 'day', zone));
			}),
			{ numRuns: 1500 }
		);
	});

	it('knows zones from other words', () => {
		expect(isZone('Europe/Vienna')).toBe(true);
		expect(isZone('Fernhollow')).toBe(false);
	});
});

// Source: ECMAScript Temporal, Duration.prototype.total relative to a zoned date and time.
describe('units between two instants', () => {
	test.each([
		['over the spring night', '2026-03-28T12:00+01:00', '2026-03-29T12:00+02:00', 'day', 1],
		['half a day', '2026-05-05T00:00+02:00', '2026-05-05T12:00+02:00', 'day', 0.5],
		['of a month with 31 days', '2026-01-01T00:00+01:00', '2026-02-01T00:00+01:00', 'month', 1],
		['backwards', '2026-05-12T00:00+02:00', '2026-05-05T00:00+02:00', 'week', -1]
	] as const)('%s', (_, from, to, unit, expected) => {
		expect(calendarBetween(at(from), at(to), unit, 'Europe/Vienna')).toBe(expected);
	});

	it('take back steps, from days that every month has', () => {
		const days = fc.integer({ min: 0, max: 27 });
		const unit = fc.constantFrom(...CALENDAR_UNITS);
		fc.assert(
			fc.property(days, fc.integer({ min: 0, max: 60 }), unit, (day, count, unit) => {
				const from = at('2026-01-01T12:00+01:00') + day * 86_400_000;
				const to = addCalendar(from, count, unit, 'Europe/Vienna');
				expect(calendarBetween(from, to, unit, 'Europe/Vienna')).toBeCloseTo(count, 9);
			})
		);
	});
});

describe('a day', () => {
	it.each([
		['2026-03-29', 'Europe/Berlin', '2026-03-28T23:00:00Z'],
		['2026-10-25', 'Europe/Berlin', '2026-10-24T22:00:00Z'],
		// The clocks of Cairo go from 00:00 to 01:00 on the last Friday of April (IANA tz, EgyptDST from 2023).
		['2026-04-24', 'Africa/Cairo', '2026-04-23T22:00:00Z'],
		['2026-12-31', 'Pacific/Kiritimati', '2026-12-30T10:00:00Z']
	])('%s in %s begins at %s', (day, zone, at) => {
		expect(new Date(dayStart(day, zone)).toISOString()).toBe(at.replace('Z', '.000Z'));
		expect(localDay(dayStart(day, zone), zone)).toBe(day);
		expect(localDay(dayStart(day, zone) - 1, zone)).not.toBe(day);
	});

	it.each([
		['2028-02-29', true],
		['2026-02-29', false],
		['2026-2-9', false],
		['26-02-09', false],
		['2026-13-01', false],
		['', false],
		['2026-05-01T00:00', false]
	])('%s is one: %s', (text, expected) => {
		expect(isDay(text)).toBe(expected);
	});
});
