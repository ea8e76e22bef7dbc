import { RRule } from 'rrule';
import { describe, expect, it, test } from 'vitest';
import { after, DAY, grant } from '../../../tests/support/access';
import { addCalendar, atHour, readLocal, writeLocal } from '../time/calendar';
import { endOfGrant, heldOf, openingsFor, StepClock, windowOn } from './clock';

const at = (text: string) => Date.parse(text);
const utc = new StepClock('UTC', null);

describe('calendar steps', () => {
	// ECMAScript Temporal, overflow "constrain": a day that a month does not have becomes its last.
	test.each([
		['2026-01-31T10:00Z', 1, 'month', '2026-02-28T10:00Z'],
		['2028-01-31T10:00Z', 1, 'month', '2028-02-29T10:00Z'],
		['2026-01-31T10:00Z', 2, 'month', '2026-03-31T10:00Z'],
		['2028-02-29T10:00Z', 1, 'year', '2029-02-28T10:00Z'],
		['2026-01-01T00:00Z', 3, 'week', '2026-01-22T00:00Z'],
		['2026-01-01T00:00Z', 0, 'day', '2026-01-01T00:00Z']
	] as const)('%s and %i %s: %s', (from, count, unit, expected) => {
		expect(utc.step(at(from), count, unit)).toBe(at(expected));
	});

	// RFC 5545, through rrule: weekly and daily rules in UTC fall on the same instants.
	it('agrees with recurrence rules on days and weeks, and with BYMONTHDAY=-1 on month ends', () => {
		const dtstart = new Date('2026-01-31T09:00Z');
		for (const [freq, unit] of [
			[RRule.DAILY, 'day'],
			[RRule.WEEKLY, 'week']
		] as const) {
			const dates = new RRule({ freq, dtstart, count: 60 }).all();
			expect(dates.map((date) => date.getTime())).toEqual(
				dates.map((_, n) => utc.step(dtstart.getTime(), n, unit))
			);
		}
		const ends = new RRule({ freq: RRule.MONTHLY, bymonthday: -1, dtstart, count: 24 }).all();
		expect(ends.map((date) => date.getTime())).toEqual(
			ends.map((_, n) => utc.step(dtstart.getTime(), n, 'month'))
		);
	});

	// IANA time zone database: Vienna changes on 29 March and 25 October 2026, New York on 8 March and 1 November.
	test.each([
		['Europe/Vienna', '2026-03-28T01:30Z', 1, '2026-03-29T01:30Z'],
		['Europe/Vienna', '2026-03-28T10:00Z', 1, '2026-03-29T09:00Z'],
		['Europe/Vienna', '2026-10-24T10:00Z', 1, '2026-10-25T11:00Z'],
		['America/New_York', '2026-03-07T15:00Z', 1, '2026-03-08T14:00Z'],
		['America/New_York', '2026-10-31T14:00Z', 1, '2026-11-01T15:00Z']
	])('keeps the time of day in %s over the change of %s', (zone, from, days, expected) => {
		expect(addCalendar(at(from), days, 'day', zone)).toBe(at(expected));
	});

	it('opens at the hour of release on the day, but at once means at once', () => {
		const clock = new StepClock('Europe/Vienna', 8);
		expect(clock.opening(at('2026-01-01T21:00Z'), 1, 'week')).toBe(at('2026-01-08T07:00Z'));
		expect(clock.opening(at('2026-01-01T21:00Z'), 0, 'week')).toBe(at('2026-01-01T21:00Z'));
	});

	it('takes the hour after one that is skipped, and the first of one that comes twice', () => {
		expect(atHour(at('2026-03-29T10:00Z'), 2, 'Europe/Vienna')).toBe(at('2026-03-29T01:00Z'));
		expect(readLocal('2026-03-29T02:30', 'Europe/Vienna')).toEqual({
			ok: true,
			at: at('2026-03-29T01:30Z'),
			note: 'skipped'
		});
		expect(readLocal('2026-10-25T02:30', 'Europe/Vienna')).toEqual({
			ok: true,
			at: at('2026-10-25T00:30Z'),
			note: 'repeated'
		});
		expect(readLocal('2026-06-01 12:00', 'Europe/Vienna')).toEqual({
			ok: true,
			at: at('2026-06-01T10:00Z'),
			note: 'plain'
		});
		expect(writeLocal(at('2026-06-01T10:00Z'), 'Europe/Vienna')).toBe('2026-06-01T12:00');
	});

	test.each(['2026-02-31T10:00', '31 February', '', '2026-13-01', 'tomorrow'])(
		'does not take %j for a date',
		(text) => {
			expect(readLocal(text, 'UTC')).toEqual({ ok: false, code: 'not-a-date' });
		}
	);
});

describe('a window', () => {
	const start = at('2026-01-01T00:00Z');
	it('has no closing step without an opening on a clock', () => {
		const forDay = { kind: 'after', count: 1, unit: 'day' } as const;
		expect(windowOn(utc, null, { opens: { kind: 'at-once' }, closes: forDay })).toEqual([]);
		expect(windowOn(utc, null, { opens: forDay, closes: { kind: 'never' } })).toEqual([]);
		expect(windowOn(utc, null, { opens: { kind: 'on', at: 5 }, closes: { kind: 'never' } })).toEqual([
			{ start: 5, end: null }
		]);
	});

	it('is never open where it closes before it opens', () => {
		const window = { opens: { kind: 'on', at: start }, closes: { kind: 'on', at: start - 1 } } as const;
		expect(windowOn(utc, start, window)).toEqual([]);
	});
	it('counts its closing from its opening', () => {
		expect(windowOn(utc, start, after(3, 'week', { kind: 'after', count: 1, unit: 'month' }))).toEqual([
			{ start: at('2026-01-22T00:00Z'), end: at('2026-02-22T00:00Z') }
		]);
	});
});

describe('a tenure', () => {
	const joined = at('2026-01-01T00:00Z');
	const held = (days: [number, number | null][], first: number | null = null, least = 1, isByHand = false) =>
		heldOf(
			days.map(([from, until], n) =>
				grant({ id: `g${n}`, from: joined + from * DAY, until: until === null ? null : joined + until * DAY })
			),
			first === null
				? []
				: [{ planId: 'workshop', firstJoinedAt: joined + first * DAY, isSetByHand: isByHand }],
			least
		);
	const openingDay = (
		time: ReturnType<typeof held>,
		count: number,
		mode: Parameters<typeof openingsFor>[3]
	) =>
		time &&
		openingsFor(utc, time, { kind: 'after', count, unit: 'day' }, mode).map(
			({ at: opens }) => (opens - joined) / DAY
		);

	it('begins on the day given, where that is earlier than the first grant', () => {
		expect(openingDay(held([[10, null]], 0), 14, 'on')).toEqual([14]);
		expect(openingDay(held([[10, null]], 20), 14, 'on')).toEqual([24]);
	});

	it('begins on the day set by hand, be it earlier or later than the first grant', () => {
		expect(openingDay(held([[10, null]], 0, 1, true), 14, 'on')).toEqual([14]);
		expect(openingDay(held([[10, null]], 20, 1, true), 14, 'on')).toEqual([34]);
		expect(openingDay(held([[0, null]], 20, 1, true), 14, 'stand-still')).toEqual([34]);
		// Of a ladder, the earliest that was set.
		const grants = [grant({ from: joined })];
		const day = (firstDay: number, isSetByHand: boolean) => ({
			planId: 'workshop',
			firstJoinedAt: joined + firstDay * DAY,
			isSetByHand
		});
		expect(heldOf(grants, [day(3, false), day(9, true), day(7, true)], 1)?.firstJoinedAt).toBe(
			joined + 7 * DAY
		);
	});

	it('counts a first day set by hand for the first time of holding alone, where the clock begins anew', () => {
		const twice: [number, number | null][] = [
			[0, 5],
			[15, null]
		];
		expect(openingDay(held(twice, -10, 1, true), 14, 'anew')).toEqual([4, 29]);
		expect(openingDay(held(twice, 3, 1, true), 14, 'anew')).toEqual([17, 29]);
	});

	it('knows nothing of a grant that was revoked before it began', () => {
		expect(held([[20, 10]])).toBeNull();
		expect(
			held([
				[0, 5],
				[5.5, 5.2],
				[7, null]
			])?.runs
		).toEqual([
			{ start: joined, end: joined + 5 * DAY },
			{ start: joined + 7 * DAY, end: null }
		]);
	});

	it('takes a short gap for none', () => {
		expect(
			held([
				[0, 5],
				[5.5, null]
			])?.runs
		).toHaveLength(1);
		expect(
			held([
				[0, 5],
				[6, null]
			])?.runs
		).toHaveLength(2);
		expect(
			held(
				[
					[0, 5],
					[6, null]
				],
				null,
				2
			)?.runs
		).toHaveLength(1);
	});

	test.each([
		['on: as if never away', 'on', [14]],
		['stand still: later by each lapse that began before', 'stand-still', [14 + 10]],
		['anew: from the day of coming back', 'anew', [14, 29]]
	] as const)('%s', (_name, mode, expected) => {
		expect(
			openingDay(
				held([
					[0, 5],
					[15, null]
				]),
				14,
				mode
			)
		).toEqual(expected);
	});

	it('is moved by a lapse that begins before the moved opening, and by none that begins after', () => {
		expect(
			openingDay(
				held([
					[0, 5],
					[15, 20],
					[22, null]
				]),
				14,
				'stand-still'
			)
		).toEqual([26]);
		expect(
			openingDay(
				held([
					[0, 20],
					[30, null]
				]),
				14,
				'stand-still'
			)
		).toEqual([14]);
		// The exact moment of the opening counts as reached.
		expect(
			openingDay(
				held([
					[0, 14],
					[30, null]
				]),
				14,
				'stand-still'
			)
		).toEqual([14]);
	});

	it('opens at the next hour of release after standing still, and moves no opening that was reached', () => {
		const clock = new StepClock('Europe/Vienna', 8);
		const from = at('2026-01-01T12:00Z');
		const opens = { kind: 'after', count: 14, unit: 'day' } as const;
		const openingAfter = (runs: [string, string | null][]) => {
			const time = heldOf(
				runs.map(([start, end], n) =>
					grant({ id: `g${n}`, from: at(start), until: end === null ? null : at(end) })
				),
				[],
				1
			);
			const [opening] = time ? openingsFor(clock, time, opens, 'stand-still') : [];
			return opening && new Date(opening.at).toISOString();
		};
		// 15 January, 8:00 in Vienna; away for 2 days and 5 hours: moved to 12:00 on the 17th, so to 8:00 on the 18th.
		expect(openingAfter([['2026-01-01T12:00Z', null]])).toBe('2026-01-15T07:00:00.000Z');
		expect(
			openingAfter([
				['2026-01-01T12:00Z', '2026-01-05T12:00Z'],
				['2026-01-07T17:00Z', null]
			])
		).toBe('2026-01-18T07:00:00.000Z');
		// Away for exactly two days: that is 8:00 already.
		expect(
			openingAfter([
				['2026-01-01T12:00Z', '2026-01-05T12:00Z'],
				['2026-01-07T12:00Z', null]
			])
		).toBe('2026-01-17T07:00:00.000Z');
		// The second lapse begins between the moved moment and the hour at which it opens: it is not open yet.
		expect(
			openingAfter([
				['2026-01-01T12:00Z', '2026-01-05T12:00Z'],
				['2026-01-07T17:00Z', '2026-01-17T20:00Z'],
				['2026-01-19T20:00Z', null]
			])
		).toBe('2026-01-20T07:00:00.000Z');
		// And one that begins at the very moment of opening moves nothing.
		expect(
			openingAfter([
				['2026-01-01T12:00Z', '2026-01-05T12:00Z'],
				['2026-01-07T17:00Z', '2026-01-18T07:00Z'],
				['2026-01-25T20:00Z', null]
			])
		).toBe('2026-01-18T07:00:00.000Z');
		expect(clock.nextHour(from)).toBe(at('2026-01-02T07:00Z'));
		expect(new StepClock('Europe/Vienna', null).nextHour(from)).toBe(from);
		// The night on which summer time begins: the next day's hour is 23 hours away.
		expect(clock.nextHour(at('2026-03-28T07:00:00.001Z'))).toBe(at('2026-03-29T06:00Z'));
	});
});

describe('the end of a grant', () => {
	const [early, late] = [Date.parse('2026-02-01T09:00Z'), Date.parse('2026-03-01T09:00Z')];
	test.each([
		[null, null, null],
		[late, null, late],
		[null, early, early],
		[late, early, early],
		[early, late, early],
		[early, early, early]
	])('of one until %s that was revoked at %s is %s', (until, revokedAt, end) => {
		expect(endOfGrant(grant({ until, revokedAt }))).toBe(end);
	});

	it('does not make a time of what ends as it begins, and does not care how grants stand', () => {
		const first = grant({ id: 'first', from: early, until: early + DAY });
		const second = grant({ id: 'second', from: late, until: null });
		const nothing = grant({ id: 'nothing', from: early - DAY, until: early - DAY });
		const runs = [
			{ start: early, end: early + DAY },
			{ start: late, end: null }
		];
		for (const grants of [
			[first, second],
			[second, first],
			[nothing, second, first]
		])
			expect(heldOf(grants, [], 1)).toEqual({ firstJoinedAt: early, runs });
		expect(heldOf([nothing], [], 1)).toBeNull();
	});
});
