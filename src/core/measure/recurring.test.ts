import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { courseOf, joinedAt, type Origin } from '../billing/agreement';
import { throughOf } from '../billing/agreement-course';
import type { AgreementFact } from '../billing/agreement-facts';
import { phaseOf } from '../billing/phases';
import { renewingTerms, type Terms } from '../billing/terms';
import { addCalendar } from '../time/calendar';
import { incomeSteps, monthlyMinor, type IncomeStep, type NetOf } from './recurring';

const ZONE = 'Europe/Berlin';
const START = Date.UTC(2026, 0, 31, 9);
const month = { count: 1, unit: 'month' } as const;
const monthly = (minor: number) => renewingTerms({ minor, currency: 'EUR' }, month);
const origin = (terms: Terms = monthly(1200)): Origin => ({
	...{ start: START, zone: ZONE, planId: 'apprentice', terms },
	access: { kind: 'while-paid' }
});
const whole = (minor: number) => minor;
const day = (n: number) => START + n * 86_400_000;
/** When period `n` begins. */
const due = (n: number) => addCalendar(START, n, 'month', ZONE);

const said = (steps: readonly IncomeStep[]) =>
	steps.map(({ why, beforeMinor, afterMinor }) => `${why} ${beforeMinor}>${afterMinor}`);
const stepsOf = (facts: AgreementFact[], terms?: Terms, netOf: NetOf = whole) =>
	incomeSteps(origin(terms), joinedAt(START), facts, netOf);

// By hand. A mean month has 146,097 / 4,800 = 30.436875 days: 7.00 a week is 7.00 × 30.436875 / 7 = 30.44 a month.
test.each([
	[1200, month, 1200],
	[12_000, { count: 1, unit: 'year' } as const, 1000],
	[10_000, { count: 1, unit: 'year' } as const, 833],
	[3000, { count: 3, unit: 'month' } as const, 1000],
	[700, { count: 1, unit: 'week' } as const, 3044],
	[100, { count: 1, unit: 'day' } as const, 3044],
	[1, { count: 10, unit: 'year' } as const, 0]
])('%i each %o is %i a month', (minor, step, expected) => {
	expect(monthlyMinor(minor, step)).toBe(expected);
});

describe('what an agreement brings in by the month', () => {
	const failing: AgreementFact[] = [
		{ at: due(1), kind: 'period-over', period: 0 },
		{ at: due(1), kind: 'declined', period: 1, attempt: 1 }
	];

	const TABLE: [string, AgreementFact[], string[]][] = [
		['begins when it is paid first', [], ['new 0>1200']],
		[
			'stays while what is due is asked for and paid',
			[
				{ at: due(1), kind: 'period-over', period: 0 },
				{ at: due(1) + 60_000, kind: 'captured', period: 1, attempt: 1 }
			],
			['new 0>1200']
		],
		[
			'fails with the card, and is back with the next try',
			[...failing, { at: day(40), kind: 'captured', period: 1, attempt: 2 }],
			['new 0>1200', 'failed 1200>0', 'back 0>1200']
		],
		[
			'is counted as failed once, whatever comes of it',
			[...failing, { at: day(30), kind: 'declined', period: 1, attempt: 2 }, { at: day(41), kind: 'stop' }],
			['new 0>1200', 'failed 1200>0']
		],
		[
			'is lost when it is cancelled and over, and not before',
			[{ at: day(3), kind: 'cancel' }],
			['new 0>1200']
		],
		[
			'is lost at the end of what is paid',
			[
				{ at: day(3), kind: 'cancel' },
				{ at: due(1), kind: 'period-over', period: 0 }
			],
			['new 0>1200', 'lost 1200>0']
		],
		[
			'is lost by a rest when what is paid is over',
			[{ at: day(3), kind: 'rest', until: null }],
			['new 0>1200', 'lost 1200>0']
		],
		[
			'is back after a rest when it is paid again',
			[
				{ at: day(3), kind: 'rest', until: null },
				{ at: day(60), kind: 'wake' },
				{ at: day(61), kind: 'captured', period: 1, attempt: 1 }
			],
			['new 0>1200', 'lost 1200>0', 'back 0>1200']
		],
		[
			'never left where the rest was taken back in time',
			[
				{ at: day(3), kind: 'rest', until: null },
				{ at: day(5), kind: 'wake' }
			],
			['new 0>1200']
		],
		[
			'is refunded',
			[{ at: day(3), kind: 'refunded', period: 0, attempt: 1 }],
			['new 0>1200', 'refunded 1200>0']
		],
		[
			'stays where a part goes back and it stays open',
			[{ at: day(3), kind: 'refunded', period: 0, attempt: 1, keepsAccess: true }],
			['new 0>1200']
		],
		[
			'is taken by a bank, and back when the dispute is won',
			[
				{ at: day(3), kind: 'disputed', period: 0, attempt: 1 },
				{ at: day(9), kind: 'won', period: 0, attempt: 1 }
			],
			['new 0>1200', 'refunded 1200>0', 'back 0>1200']
		],
		[
			'goes up when it is moved to a dearer plan',
			[
				{
					at: day(3),
					kind: 'moved',
					planId: 'journeyman',
					terms: monthly(2400),
					access: { kind: 'while-paid' }
				}
			],
			['new 0>1200', 'up 1200>2400']
		],
		[
			'goes down when the cheaper price is paid, and not when it is agreed to',
			[
				{
					at: day(3),
					kind: 'changed',
					planId: 'journeyman',
					terms: monthly(500),
					access: { kind: 'while-paid' }
				},
				{ at: due(1), kind: 'period-over', period: 0 },
				{ at: due(1) + 1000, kind: 'captured', period: 1, attempt: 1 }
			],
			['new 0>1200', 'down 1200>500']
		]
	];
	it.each(TABLE)('%s', (_, facts, expected) => {
		expect(said(stepsOf(facts))).toEqual(expected);
	});

	it('says when, and of which plan', () => {
		const steps = stepsOf(TABLE.find(([name]) => name.startsWith('goes up'))?.[1] ?? []);
		expect(steps).toEqual([
			{
				at: START,
				planId: 'apprentice',
				fromPlanId: null,
				currency: 'EUR',
				beforeMinor: 0,
				afterMinor: 1200,
				why: 'new'
			},
			{
				at: day(3),
				planId: 'journeyman',
				fromPlanId: 'apprentice',
				currency: 'EUR',
				beforeMinor: 1200,
				afterMinor: 2400,
				why: 'up'
			}
		]);
		const rest = stepsOf([{ at: day(3), kind: 'rest', until: null }]);
		expect(rest[1]).toMatchObject({ at: due(1), planId: 'apprentice' });
	});

	it('counts without tax, by what was the law when the period began', () => {
		const asked: number[] = [];
		const netOf = (paid: number, at: number) => {
			asked.push(at);
			return Math.round(paid / 1.2);
		};
		expect(said(stepsOf([], undefined, netOf))).toEqual(['new 0>1000']);
		expect(asked).toEqual([START]);
	});

	it('counts a first stretch from the first regular payment on, and no fee, no instalment, nothing paid once', () => {
		const { then } = monthly(1200);
		const stretch: Terms = {
			...{ currency: 'EUR', firstMinor: 100, feeMinor: 500 },
			then: { ...then, firstLasts: { count: 2, unit: 'week' } } as Terms['then']
		};
		const first = incomeSteps(
			origin(stretch),
			{ ...joinedAt(START), state: { kind: 'running', period: 0 } },
			[],
			whole
		);
		expect(first).toEqual([]);
		const after = addCalendar(START, 2, 'week', ZONE);
		const paid: AgreementFact[] = [
			{ at: after, kind: 'period-over', period: 0 },
			{ at: after + 1000, kind: 'captured', period: 1, attempt: 1 }
		];
		expect(said(stepsOf(paid, stretch))).toEqual(['new 0>1200']);
		expect(said(stepsOf([], { ...monthly(1200), feeMinor: 500 }))).toEqual(['new 0>1200']);
		expect(stepsOf([], { ...monthly(1200), then: { ...then, times: 3 } as Terms['then'] })).toEqual([]);
		expect(
			stepsOf([], { currency: 'EUR', firstMinor: 9900, feeMinor: 0, then: { kind: 'nothing' } })
		).toEqual([]);
	});

	it('counts a discount for as long as it lasts', () => {
		const less: Terms = {
			...monthly(1200),
			discount: { off: { kind: 'percent', percent: 50 }, payments: 1 }
		};
		const paid: AgreementFact[] = [
			{ at: due(1), kind: 'period-over', period: 0 },
			{ at: due(1), kind: 'captured', period: 1, attempt: 1 }
		];
		expect(said(stepsOf(paid, less))).toEqual(['new 0>600', 'up 600>1200']);
	});
});

describe('over histories of chance', () => {
	const charge = { period: fc.integer({ min: 0, max: 4 }), attempt: fc.integer({ min: 1, max: 4 }) };
	const at = fc.integer({ min: 1, max: 420 }).map((n) => START + n * 43_200_000);
	const fact: fc.Arbitrary<AgreementFact> = fc.oneof(
		fc.record({ at, kind: fc.constant('period-over' as const), period: charge.period }),
		fc.record({
			at,
			kind: fc.constantFrom('captured', 'declined', 'retry-due', 'refunded', 'disputed', 'won'),
			...charge
		}),
		fc.record({ at, kind: fc.constantFrom('cancel', 'resume', 'stop', 'wake') }),
		fc.record({ at, kind: fc.constant('rest' as const), until: fc.constant(null) }),
		fc.record({
			...{
				at,
				kind: fc.constantFrom('moved', 'changed', 'lowered'),
				planId: fc.constantFrom('apprentice', 'journeyman')
			},
			terms: fc.constantFrom(
				monthly(1200),
				monthly(500),
				renewingTerms({ minor: 9000, currency: 'EUR' }, { count: 1, unit: 'year' })
			),
			access: fc.constant({ kind: 'while-paid' as const })
		})
	) as fc.Arbitrary<AgreementFact>;

	/** Worked out anew for one moment, from nothing but the facts until then. */
	function byForce(facts: readonly AgreementFact[], now: number): number {
		const known = facts.filter((one) => one.at <= now);
		const course = courseOf(origin(), joinedAt(START), known);
		const { state, phases } = course;
		const asks = state.kind === 'renewing';
		const isOver =
			(state.kind === 'resting' || state.kind === 'finished') &&
			(throughOf(course, state.period) ?? 0) <= now;
		if (['owing', 'ended', 'first'].includes(state.kind) || isOver) return 0;
		if (asks && !phaseOf(phases, state.period).hasLeeway) return 0;
		const { then } = phaseOf(phases, asks ? state.period - 1 : state.period).terms;
		if (then.kind !== 'more') return 0;
		return then.every.unit === 'year' ? Math.round(then.amountMinor / 12) : then.amountMinor;
	}

	it('comes at any moment to what its steps until then come to, each going on from the one before', () => {
		const seen = new Set<string>();
		fc.assert(
			fc.property(fc.array(fact, { maxLength: 40 }), at, (facts, now) => {
				const steps = stepsOf(facts);
				let level = 0;
				let last = -Infinity;
				for (const step of steps) {
					expect(step.beforeMinor).toBe(level);
					expect(step.at).toBeGreaterThanOrEqual(last);
					level = step.afterMinor;
					last = step.at;
					seen.add(step.why);
				}
				const until = steps.filter((step) => step.at <= now);
				const sum = until.reduce((total, { beforeMinor, afterMinor }) => total + afterMinor - beforeMinor, 0);
				expect(sum).toBe(byForce(facts, now));
			}),
			{ seed: 20_261_201, numRuns: 3000 }
		);
		expect([...seen].sort()).toEqual(['back', 'down', 'failed', 'lost', 'new', 'refunded', 'up']);
	});
});
