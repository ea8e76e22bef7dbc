import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { runs } from '../../../tests/support/runs';
import { courseOf, joinedAt, type Origin } from './agreement';
import type { Course } from './agreement-course';
import type { AgreementFact } from './agreement-facts';
import { moveAt, termsOfMove, withoutAsking, type MoveAnswer, type Target } from './move';
import { regularMinor, renewingTerms, type Terms } from './terms';

const ZONE = 'UTC';
const at = (day: string, time = '00:00') => Date.parse(`${day}T${time}Z`);
const START = at('2026-04-01');
const every = { count: 1, unit: 'month' as const };
const monthly = (minor: number) => renewingTerms({ minor, currency: 'EUR' }, every);
const yearly = (minor: number) => renewingTerms({ minor, currency: 'EUR' }, { count: 1, unit: 'year' });
const once = (minor: number): Terms => ({
	currency: 'EUR',
	firstMinor: minor,
	feeMinor: 0,
	then: { kind: 'nothing' }
});
const WHILE_PAID = { kind: 'while-paid' as const };

/** Holds a plan of rung 2 at these terms since 1 April. */
function holding(terms: Terms, ...facts: AgreementFact[]): Course {
	const origin: Origin = { planId: 'journeyman', terms, access: WHILE_PAID, start: START, zone: ZONE };
	return courseOf(origin, joinedAt(START), facts);
}
const to = (rung: number, terms: Terms, planId = `rung-${rung}`): Target => ({
	planId,
	rung,
	terms,
	access: WHILE_PAID
});
const move = (course: Course, target: Target, now: number, paidMinor = 0): MoveAnswer =>
	moveAt(course, { rung: 2, paidMinor }, target, ZONE, now);

/** In a line: what is asked for now, or when. */
function said(answer: MoveAnswer): string {
	switch (answer.kind) {
		case 'now': {
			const next = answer.next ? `, then ${answer.next.amountMinor} on ${day(answer.next.at)}` : '';
			return `${answer.priceMinor} - ${answer.creditMinor} = ${answer.asksMinor}${next}`;
		}
		case 'lower':
			return `now, then ${answer.amountMinor} on ${day(answer.at)}`;
		case 'next':
			return `${answer.amountMinor} from ${day(answer.at)}`;
		case 'refused':
			return answer.why;
	}
}
const day = (moment: number) => new Date(moment).toISOString().slice(0, 10);

describe('a move between what is paid by the period', () => {
	// By hand: April has 30 days; 9.00 for it, of which 20 days are left on the 11th: 6.00.
	test.each<[string, Terms, Target, string, string]>([
		[
			'up, after ten days',
			monthly(900),
			to(3, monthly(1800)),
			'2026-04-11',
			'1800 - 600 = 1200, then 1800 on 2026-05-11'
		],
		[
			'up, at the first moment',
			monthly(900),
			to(3, monthly(1800)),
			'2026-04-01',
			'1800 - 900 = 900, then 1800 on 2026-05-01'
		],
		[
			'up, at the last day',
			monthly(900),
			to(3, monthly(1800)),
			'2026-04-30',
			'1800 - 30 = 1770, then 1800 on 2026-05-30'
		],
		[
			'up, and by the year',
			monthly(900),
			to(3, yearly(18_000)),
			'2026-04-16',
			'18000 - 450 = 17550, then 18000 on 2027-04-16'
		],
		['up, to what is paid once', monthly(900), to(3, once(5000)), '2026-04-16', '5000 - 450 = 4550'],
		['down', monthly(1800), to(1, monthly(900)), '2026-04-11', '900 from 2026-05-01'],
		['down, though it costs more', monthly(900), to(1, monthly(1800)), '2026-04-11', '1800 from 2026-05-01'],
		[
			'up to what the rest is worth more than',
			yearly(18_000),
			to(3, monthly(2000)),
			'2026-04-11',
			'2000 from 2027-04-01'
		],
		[
			'of the same plan, to the year',
			monthly(900),
			to(2, yearly(9000), 'journeyman'),
			'2026-04-16',
			'9000 - 450 = 8550, then 9000 on 2027-04-16'
		],
		[
			'of the same plan, to the month',
			yearly(9000),
			to(2, monthly(900), 'journeyman'),
			'2026-04-16',
			'900 from 2027-04-01'
		],
		[
			'across, for more',
			monthly(900),
			to(2, monthly(1000)),
			'2026-04-16',
			'1000 - 450 = 550, then 1000 on 2026-05-16'
		],
		['across, for less', monthly(900), to(2, monthly(800)), '2026-04-16', '800 from 2026-05-01'],
		['across, for as much', monthly(900), to(2, monthly(900)), '2026-04-16', '900 from 2026-05-01'],
		['to what costs nothing', monthly(900), to(1, once(0)), '2026-04-16', 'free'],
		['to what it is', monthly(900), to(2, monthly(900), 'journeyman'), '2026-04-16', 'same'],
		[
			'to another currency',
			monthly(900),
			to(3, { ...monthly(900), currency: 'USD' }),
			'2026-04-16',
			'other-currency'
		]
	])('%s', (_name, terms, target, now, expected) => {
		expect(said(move(holding(terms), target, at(now)))).toBe(expected);
	});

	it('asks for no joining fee and gives no first stretch again', () => {
		const joining: Terms = {
			...{ currency: 'EUR', firstMinor: 100, feeMinor: 500 },
			then: { kind: 'more', times: null, amountMinor: 1800, every, firstLasts: { count: 2, unit: 'week' } }
		};
		expect(termsOfMove(joining)).toEqual(monthly(1800));
		expect(said(move(holding(monthly(900)), to(3, joining), at('2026-04-11')))).toBe(
			'1800 - 600 = 1200, then 1800 on 2026-05-11'
		);
		expect(said(move(holding(monthly(900)), to(1, joining), at('2026-04-11')))).toBe('1800 from 2026-05-01');
		// Of what was paid at joining, the fee is no part of the time.
		const joined = holding({ ...monthly(900), feeMinor: 500 });
		expect(said(move(joined, to(3, monthly(1800)), at('2026-04-11')))).toContain('- 600 =');
	});

	test.each<[string, AgreementFact[], string, string]>([
		[
			'cancelled: up',
			[{ kind: 'cancel', at: at('2026-04-05') }],
			'up',
			'1800 - 600 = 1200, then 1800 on 2026-05-11'
		],
		['cancelled: down', [{ kind: 'cancel', at: at('2026-04-05') }], 'down', 'cancelled'],
		['paused', [{ kind: 'rest', at: at('2026-04-05'), until: null }], 'up', 'rests'],
		['ended', [{ kind: 'stop', at: at('2026-04-05') }], 'up', 'has-ended'],
		['being asked for', [{ kind: 'period-over', at: at('2026-04-05'), period: 0 }], 'up', 'owes'],
		[
			'refunded, and kept',
			[{ kind: 'refunded', at: at('2026-04-05'), period: 0, attempt: 1, keepsAccess: true }],
			'up',
			'1800 - 0 = 1800, then 1800 on 2026-05-11'
		]
	])('that is %s', (_name, facts, way, expected) => {
		const target = way === 'up' ? to(3, monthly(1800)) : to(1, monthly(500));
		expect(said(move(holding(monthly(900), ...facts), target, at('2026-04-11')))).toBe(expected);
	});

	it('is taken back by moving to what there is, which counts its dues as before', () => {
		const turn = { planId: 'rung-1', terms: monthly(500), access: WHILE_PAID };
		const down: AgreementFact = { kind: 'changed', at: at('2026-04-11'), ...turn };
		const course = holding(monthly(900), down);
		expect(said(move(course, to(1, monthly(500)), at('2026-04-12')))).toBe('waits');
		const back = move(course, to(2, monthly(900), 'journeyman'), at('2026-04-12'));
		expect(said(back)).toBe('900 from 2026-05-01');
		if (back.kind !== 'next') throw new Error(back.kind);
		const kept: AgreementFact = {
			...{
				kind: 'changed',
				at: at('2026-04-12'),
				planId: 'journeyman',
				terms: back.terms,
				access: WHILE_PAID
			}
		};
		expect(holding(monthly(900), down, kept)).toEqual(holding(monthly(900)));
	});

	describe('down at once, as the plan says that is left', () => {
		const lower = (course: Course, target: Target, now: number) =>
			moveAt(course, { rung: 2, paidMinor: 0, isDownAtOnce: true }, target, ZONE, now);
		const turn = { planId: 'rung-1', terms: monthly(500), access: WHILE_PAID };
		const down: AgreementFact = { kind: 'lowered', at: at('2026-04-11'), ...turn };

		test.each<[string, Target, AgreementFact[], string]>([
			[
				'asks for nothing now, and for the lower price with the next due',
				to(1, monthly(500)),
				[],
				'now, then 500 on 2026-05-01'
			],
			[
				'is of lower rungs alone: another price of the same waits',
				to(2, monthly(800), 'journeyman'),
				[],
				'800 from 2026-05-01'
			],
			[
				'is none of what is cancelled',
				to(1, monthly(500)),
				[{ kind: 'cancel', at: at('2026-04-05') }],
				'cancelled'
			],
			['up stays up', to(3, monthly(1800)), [], '1800 - 600 = 1200, then 1800 on 2026-05-11'],
			['is done once', to(1, monthly(500)), [down], 'waits']
		])('%s', (_, target, facts, expected) => {
			expect(said(lower(holding(monthly(900), ...facts), target, at('2026-04-11')))).toBe(expected);
		});

		it('up again takes off what is not used of what was paid', () => {
			const course = holding(monthly(900), down);
			const back = moveAt(
				course,
				{ rung: 1, paidMinor: 0 },
				to(2, monthly(900), 'journeyman'),
				ZONE,
				at('2026-04-16')
			);
			// Half of April is left, of 9.00.
			expect(said(back)).toBe('900 - 450 = 450, then 900 on 2026-05-16');
		});
	});

	it('that was paid for in part by what was there before is worth its whole price when it goes on', () => {
		const turn = { planId: 'rung-3', terms: monthly(1800), access: WHILE_PAID };
		const course = holding(monthly(900), { kind: 'moved', at: at('2026-05-01') - 15 * 86_400_000, ...turn });
		// Moved on 16 April; half of the new month is left on 1 May, of 18.00.
		const on = moveAt(course, { rung: 3, paidMinor: 0 }, to(4, monthly(3000)), ZONE, at('2026-05-01'));
		expect(said(on)).toBe('3000 - 900 = 2100, then 3000 on 2026-06-01');
	});

	it('of instalments is none: they are owed', () => {
		const instalments: Terms = {
			...{ currency: 'EUR', firstMinor: 900, feeMinor: 0 },
			then: { kind: 'more', times: 3, amountMinor: 900, every, firstLasts: null }
		};
		expect(said(move(holding(instalments), to(3, monthly(1800)), at('2026-04-11')))).toBe('instalments');
		expect(said(move(holding(monthly(900)), to(3, instalments), at('2026-04-11')))).toBe('instalments');
	});

	it('up never asks for more than the price, nor for less than nothing, and for more the longer one waits', () => {
		const price = fc.integer({ min: 1, max: 100_000 });
		const minutes = fc.integer({ min: 0, max: 30 * 24 * 60 - 1 });
		fc.assert(
			fc.property(price, price, minutes, minutes, (paid, asked, first, second) => {
				const asks = (after: number) => {
					const answer = move(holding(monthly(paid)), to(3, monthly(asked)), START + after * 60_000);
					if (answer.kind === 'refused') throw new Error(answer.why);
					return answer.kind === 'now' ? answer.asksMinor : 0;
				};
				const [sooner, later] = [asks(Math.min(first, second)), asks(Math.max(first, second))];
				expect(sooner).toBeGreaterThanOrEqual(0);
				expect(later).toBeLessThanOrEqual(asked);
				expect(sooner).toBeLessThanOrEqual(later);
			}),
			{ seed: 20_261_129, numRuns: runs(300) }
		);
	});
});

describe('a move by the publisher', () => {
	const moved = (course: Course, target: Target, now: number, paidMinor = 0) =>
		said(withoutAsking(course, move(course, target, now, paidMinor)));

	// By hand: paid to 1 May; up would ask for 12.00 on 11 April.
	test.each<[string, Terms, Target, string]>([
		['up waits for the next due', monthly(900), to(3, monthly(1800)), '1800 from 2026-05-01'],
		['down does so anyway', monthly(900), to(1, monthly(500)), '500 from 2026-05-01'],
		['what is paid once cannot wait', once(900), to(3, once(1800)), 'paid-once'],
		['down from what is paid once is at once, for nothing', once(1800), to(1, once(900)), '900 - 900 = 0']
	])('%s', (_what, terms, target, wanted) => {
		expect(moved(holding(terms), target, at('2026-04-11'), terms.firstMinor)).toBe(wanted);
	});
});

describe('a move between what is paid once for a time', () => {
	const YEAR = { kind: 'length' as const, length: { count: 1, unit: 'year' as const } };
	const origin: Origin = { planId: 'journeyman', terms: once(3650), access: YEAR, start: START, zone: ZONE };
	const course = courseOf(origin, joinedAt(START), []);
	const paid = (target: Target, now: number) => said(move(course, target, now, 3650));

	// By hand: 36.50 for 365 days from 1 April 2026; on 1 May 335 are left, worth 33.50.
	it('up takes off the time that is left, and begins it anew', () => {
		expect(paid(to(3, once(8000)), at('2026-05-01'))).toBe('8000 - 3350 = 4650');
		expect(paid(to(3, once(3000)), at('2026-05-01'))).toBe('paid-once');
	});

	it('down is none: the time would begin anew for nothing', () => {
		expect(paid(to(1, once(1000)), at('2026-05-01'))).toBe('paid-once');
	});

	it('is none of what has run out, at its very end and after it', () => {
		const end = at('2027-04-01');
		expect(paid(to(3, once(8000)), end - 1)).toContain('= 8000');
		for (const now of [end, end + 1, at('2030-01-01')])
			for (const rung of [1, 2, 3]) expect(paid(to(rung, once(8000)), now)).toBe('has-ended');
	});
});

describe('a move between what is paid once', () => {
	it.each([
		['after having paid for it: for nothing', 8000, '8000 - 8000 = 0'],
		['where it costs more by now: the rest', 9000, '9000 - 8000 = 1000']
	])('up again, %s', (_name, price, expected) => {
		const upAndDown: AgreementFact[] = [
			...(['rung-3', 'journeyman'] as const).map((planId, n) => ({
				...{ kind: 'moved' as const, at: at('2026-05-01') + n, planId, access: WHILE_PAID },
				terms: once(n === 0 ? 8000 : 5000)
			}))
		];
		expect(said(move(holding(once(5000), ...upAndDown), to(3, once(price)), at('2027-04-11'), 8000))).toBe(
			expected
		);
	});

	it('takes off what it cost, and nothing of what was paid by the month before it', () => {
		const turn = { planId: 'journeyman', terms: once(5000), access: { kind: 'for-good' as const } };
		const origin: Origin = {
			planId: 'apprentice',
			terms: monthly(900),
			access: WHILE_PAID,
			start: START,
			zone: ZONE
		};
		const moved = courseOf(origin, joinedAt(START), [{ kind: 'moved', at: at('2026-04-16'), ...turn }]);
		// Ten months and the rest of the price were paid in all; half of April was taken off.
		expect(said(move(moved, to(3, once(20_000)), at('2026-05-16'), 13_550))).toBe('20000 - 5000 = 15000');
	});

	it('down from what cost nothing is bought like anything else', () => {
		expect(said(move(holding(once(0)), to(1, once(2000)), at('2026-05-01'), 0))).toBe('2000 - 0 = 2000');
	});

	// By hand: 50.00 was paid for the second rung.
	test.each<[string, Target, number, string]>([
		['up: all that was paid is taken off', to(3, once(8000)), 5000, '8000 - 5000 = 3000'],
		['down: at once, and for nothing', to(1, once(2000)), 5000, '2000 - 2000 = 0'],
		['across: what is missing', to(2, once(6000)), 5000, '6000 - 5000 = 1000'],
		['of the same plan: none', to(2, once(6000), 'journeyman'), 5000, 'same'],
		['to what is paid by the month: none', to(3, monthly(900)), 5000, 'paid-once'],
		[
			'to what is paid by the month, from what cost nothing: its price',
			to(3, monthly(900)),
			0,
			'900 - 0 = 900, then 900 on 2027-05-11'
		],
		['to what costs nothing: down, for nothing', to(1, once(0)), 5000, '0 - 0 = 0']
	])('%s', (_name, target, paid, expected) => {
		expect(said(move(holding(once(5000)), target, at('2027-04-11'), paid))).toBe(expected);
	});
});

it('asks for as much as is regular, whatever is asked for at joining', () => {
	for (const terms of [monthly(900), yearly(9000), once(500)])
		expect(regularMinor(termsOfMove({ ...terms, feeMinor: 300 }))).toBe(regularMinor(terms));
});
