import { describe, expect, it } from 'vitest';
import { monthsBefore, monthsBeside } from './months-beside';

const at = (text: string) => Date.parse(`${text}Z`);
const moved = (text: string, minor: number) => ({ at: at(text), minor });

describe('this month beside the last', () => {
	// By hand, as in the example.
	it('sums up day by day what came in less what went back', () => {
		const all = [
			moved('2026-03-01T09:00', 10_000),
			moved('2026-03-03T09:00', 4000),
			moved('2026-03-04T09:00', -1000),
			moved('2026-02-28T23:59', 500),
			moved('2026-02-02T00:00', 700),
			moved('2026-01-31T23:59', 9999)
		];
		const found = monthsBeside(all, at('2026-03-05T12:00'), 'UTC');
		expect(found.days.slice(0, 6)).toEqual([
			{ day: 1, thisMinor: 10_000, lastMinor: 0 },
			{ day: 2, thisMinor: 10_000, lastMinor: 700 },
			{ day: 3, thisMinor: 14_000, lastMinor: 700 },
			{ day: 4, thisMinor: 13_000, lastMinor: 700 },
			{ day: 5, thisMinor: 13_000, lastMinor: 700 },
			{ day: 6, thisMinor: null, lastMinor: 700 }
		]);
		expect(found.days).toHaveLength(28);
		expect(found).toMatchObject({ thisMinor: 13_000, lastByNowMinor: 700, lastMinor: 1200 });
	});

	it('compares the 31st with the end of a shorter month', () => {
		const found = monthsBeside([moved('2026-02-28T10:00', 300)], at('2026-03-31T12:00'), 'UTC');
		expect(found).toMatchObject({ lastByNowMinor: 300, lastMinor: 300, thisMinor: 0 });
		expect(found.days).toHaveLength(31);
		expect(found.days[30]).toEqual({ day: 31, thisMinor: 0, lastMinor: null });
	});

	it('begins its months where the publisher is, and not in Greenwich', () => {
		const zone = 'Europe/Vienna';
		// 23:30 of 28 February in Greenwich is half past midnight of 1 March in Vienna.
		const found = monthsBeside([moved('2026-02-28T23:30', 100)], at('2026-03-01T08:00'), zone);
		expect(found).toMatchObject({ thisMinor: 100, lastMinor: 0 });
		expect(monthsBefore(at('2026-03-01T08:00'), zone)).toEqual({
			...{ thisMonth: at('2026-02-28T23:00'), lastMonth: at('2026-01-31T23:00') }
		});
	});

	it('leaves out what lies ahead', () => {
		expect(monthsBeside([moved('2026-03-09T10:00', 5)], at('2026-03-05T12:00'), 'UTC').thisMinor).toBe(0);
	});
});
