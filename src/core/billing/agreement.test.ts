import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { courseOf, courseWith, joinedAt, type Beginning, type Origin } from './agreement';
import { answerTo } from './agreement-answers';
import type { Course } from './agreement-course';
import { effectsOf, type Effect } from './agreement-effects';
import { attemptAt, USUAL_COLLECTING, type AgreementFact } from './agreement-facts';
import { LEEWAY_DAYS, openWithLeeway, paidThrough, phaseBegun, type Phases } from './phases';
import { runs } from '../../../tests/support/runs';

const DAY = 86_400_000;
const HOUR = DAY / 24;
const START = Date.parse('2026-01-31T10:00Z');
const ZONE = 'UTC';
const origin: Origin = {
	...{ planId: 'apprentice', start: START, zone: ZONE, access: { kind: 'while-paid' } },
	terms: {
		...{ currency: 'EUR', firstMinor: 1200, feeMinor: 0 },
		then: {
			kind: 'more',
			times: null,
			amountMinor: 1200,
			every: { count: 1, unit: 'month' },
			firstLasts: null
		}
	}
};
const PHASES: Phases = [phaseBegun(0, START, ZONE, origin)];
const paidUntil = (period: number) => Number(paidThrough(PHASES, ZONE, period));
const openBeyond = (period: number) => Number(openWithLeeway(PHASES, ZONE, period));

/** Facts by day after the end of the first period: `captured 1.2@0.5` is the second try of period 1, half a day later. */
const FIRST_END = paidUntil(0);
function facts(...texts: string[]): AgreementFact[] {
	return texts.map((text) => {
		const [, kind = '', period, attempt, day] =
			/^([a-z-]+)(?: (\d+)(?:\.(\d+))?)?@(-?[\d.]+)$/.exec(text) ?? [];
		const at = FIRST_END + Number(day) * DAY;
		const of = period === undefined ? {} : { period: Number(period) };
		const tried = attempt === undefined ? {} : { attempt: Number(attempt) };
		return { kind, at, ...of, ...tried } as AgreementFact;
	});
}

/** What has become of it: the state, until when it is open, what goes back. */
function endOf(...texts: string[]): string {
	return said(courseOf(origin, joinedAt(START), facts(...texts)));
}

function said({ state, open: opened, surplus }: Course): string {
	const of = state.kind === 'ended' ? state.why : `${state.kind} ${state.period}`;
	const openUntil = opened?.until;
	const open =
		opened === null
			? 'shut'
			: [0, 1, 2, 3].flatMap((period) => [
					...(openUntil === paidUntil(period) ? [`open to the end of ${period}`] : []),
					...(openUntil === openBeyond(period) ? [`open beyond ${period}`] : [])
				])[0];
	const back = surplus.map(({ period, attempt }) => `${period}.${attempt}`).sort();
	return [of, open, ...(back.length > 0 ? [`gives back ${back.join(' ')}`] : [])].join(', ');
}

describe('facts and what they end in', () => {
	test.each([
		['nothing has happened', [], 'running 0, open beyond 0'],
		['the period is over', ['period-over 0@0'], 'renewing 1, open beyond 0'],
		['it renews', ['period-over 0@0', 'captured 1.1@0'], 'running 1, open beyond 1'],
		['it is declined once', ['period-over 0@0', 'declined 1.1@0'], 'owing 1, open beyond 0'],
		[
			'the second try works',
			['period-over 0@0', 'declined 1.1@0', 'retry-due 1.2@1', 'captured 1.2@1'],
			'running 1, open beyond 1'
		],
		[
			'every try is declined',
			['period-over 0@0', 'declined 1.1@0', 'declined 1.2@1', 'declined 1.3@3', 'declined 1.4@5'],
			'unpaid, shut'
		],
		['cancelled', ['cancel@-5'], 'ending 0, open to the end of 0'],
		['cancelled and run out', ['cancel@-5', 'period-over 0@0'], 'cancelled, open to the end of 0'],
		['cancelled and taken back', ['cancel@-5', 'resume@-4', 'period-over 0@0'], 'renewing 1, open beyond 0'],
		[
			'cancelled while a charge is tried again',
			['period-over 0@0', 'declined 1.1@0', 'cancel@0.5'],
			'cancelled, shut'
		],
		['stopped', ['stop@-5'], 'cancelled, shut'],
		['the only payment is given back', ['refunded 0.1@-5'], 'refunded, shut'],
		[
			'an older payment is given back',
			['period-over 0@0', 'captured 1.1@0', 'refunded 0.1@2'],
			'running 1, open beyond 1'
		],
		[
			'the last payment is given back while it renews',
			['period-over 0@0', 'refunded 0.1@0.1'],
			'refunded, shut'
		]
	])('%s', (_name, known, expected) => {
		expect(endOf(...known)).toBe(expected);
	});
});

describe('money in flight', () => {
	test.each([
		['captured, then cancelled', 'captured 1.1@0.1', 'cancel@0.2', 'ending 1, open to the end of 1'],
		['cancelled, then captured', 'cancel@0.1', 'captured 1.1@0.2', 'cancelled, shut, gives back 1.1'],
		['captured, then stopped', 'captured 1.1@0.1', 'stop@0.2', 'cancelled, shut'],
		['stopped, then captured', 'stop@0.1', 'captured 1.1@0.2', 'cancelled, shut, gives back 1.1'],
		[
			'captured, then the period before given back',
			'captured 1.1@0.1',
			'refunded 0.1@0.2',
			'running 1, open beyond 1'
		],
		[
			'the period before given back, then captured',
			'refunded 0.1@0.1',
			'captured 1.1@0.2',
			'refunded, shut, gives back 1.1'
		],
		['captured, then the period before disputed', 'captured 1.1@0.1', 'disputed 0.1@0.2', 'disputed, shut'],
		['the period before disputed, then captured', 'disputed 0.1@0.1', 'captured 1.1@0.2', 'disputed, shut'],
		[
			'captured, and captured again by the next try',
			'captured 1.1@0.1',
			'captured 1.2@0.2',
			'running 1, open beyond 1, gives back 1.2'
		],
		['captured, and the same told again', 'captured 1.1@0.1', 'declined 1.2@0.2', 'running 1, open beyond 1']
	])('%s', (_name, first, second, expected) => {
		expect(endOf('period-over 0@0', first, second)).toBe(expected);
		expect(endOf('period-over 0@0', second, first)).toBe(expected);
		expect(endOf(second, first, 'period-over 0@0')).toBe(expected);
	});

	it('counts a first try that is heard of after the last was declined, where it was captured before', () => {
		const tries = ['declined 1.2@1', 'declined 1.3@3', 'declined 1.4@5'];
		expect(endOf('period-over 0@0', 'declined 1.1@0', ...tries, 'captured 1.1@6')).toBe(
			'unpaid, shut, gives back 1.1'
		);
		expect(endOf('period-over 0@0', ...tries, 'captured 1.1@0.1')).toBe('running 1, open beyond 1');
	});

	it('leaves one of two captures, whichever was heard of first, and ends nothing when the other goes back', () => {
		const both = ['period-over 0@0', 'captured 1.1@2', 'captured 1.2@1'];
		expect(endOf(...both)).toBe('running 1, open beyond 1, gives back 1.1');
		expect(endOf(...both, 'refunded 1.1@3')).toBe('running 1, open beyond 1, gives back 1.1');
		expect(endOf(...both, 'refunded 1.2@3')).toBe('refunded, shut, gives back 1.1');
		expect(endOf(...both, 'disputed 1.1@3')).toBe('running 1, open beyond 1, gives back 1.1');
	});

	it('gives back another capture of a period that somebody gave back', () => {
		expect(endOf('period-over 0@0', 'captured 1.1@0', 'refunded 1.1@1', 'captured 1.2@2')).toBe(
			'refunded, shut, gives back 1.2'
		);
	});
});

describe('a dispute', () => {
	const renewed = ['period-over 0@0', 'captured 1.1@0'];

	test.each([
		['of the present period shuts', [...renewed, 'disputed 1.1@3'], 'disputed, shut'],
		['of an older period shuts, too', [...renewed, 'disputed 0.1@3'], 'disputed, shut'],
		['that is won opens again', [...renewed, 'disputed 0.1@3', 'won 0.1@9'], 'running 1, open beyond 1'],
		[
			'of two, one won, stays shut',
			[...renewed, 'disputed 0.1@3', 'disputed 1.1@4', 'won 0.1@9'],
			'disputed, shut'
		],
		[
			'of two, both won, opens again',
			[...renewed, 'disputed 0.1@3', 'disputed 1.1@4', 'won 0.1@9', 'won 1.1@10'],
			'running 1, open beyond 1'
		],
		['is told of nothing that is not paid', [...renewed, 'disputed 1.2@3'], 'running 1, open beyond 1'],
		[
			'won after the period renews at once',
			[...renewed, 'disputed 0.1@3', 'period-over 1@31', 'won 0.1@40'],
			'renewing 2, shut'
		],
		[
			'won in the middle of a try goes on with it',
			['period-over 0@0', 'declined 1.1@0', 'disputed 0.1@0.5', 'won 0.1@2'],
			'owing 1, open beyond 0'
		],
		[
			'won while what was cancelled runs',
			['cancel@-9', 'disputed 0.1@-8', 'won 0.1@-7'],
			'ending 0, open to the end of 0'
		],
		[
			'won after what was cancelled has run out',
			['cancel@-9', 'disputed 0.1@-8', 'won 0.1@7'],
			'cancelled, shut'
		],
		[
			'ends for good what is stopped meanwhile',
			[...renewed, 'disputed 0.1@3', 'stop@4', 'won 0.1@9'],
			'cancelled, shut'
		],
		[
			'lets a renewal that was under way count',
			['period-over 0@0', 'disputed 0.1@0.1', 'captured 1.1@0.2', 'won 0.1@3'],
			'running 1, open beyond 1'
		],
		['once more than it was won changes nothing', [...renewed, 'won 1.1@3'], 'running 1, open beyond 1']
	])('%s', (_name, known, expected) => {
		expect(endOf(...known)).toBe(expected);
	});

	it('charges again what was being tried', () => {
		const { charge } = courseOf(
			origin,
			joinedAt(START),
			facts('period-over 0@0', 'declined 1.1@0', 'disputed 0.1@0.5', 'won 0.1@2')
		);
		expect(charge).toEqual({ period: 1, attempt: 2 });
	});
});

describe('what somebody may want', () => {
	const answer = (known: string[], kind: 'cancel' | 'stop' | 'resume') => {
		const given = answerTo(courseOf(origin, joinedAt(START), facts(...known)), { kind });
		return given.kind === 'refused' ? given.why : given.kind;
	};
	/** Of each state: cancel, stop, resume. */
	test.each([
		['running', [], ['possible', 'possible', 'not-cancelled']],
		['renewing', ['period-over 0@0'], ['possible', 'possible', 'not-cancelled']],
		['ending', ['cancel@-1'], ['already-so', 'possible', 'possible']],
		['ended', ['stop@-1'], ['has-ended', 'already-so', 'has-ended']],
		['disputed', ['disputed 0.1@-1'], ['has-ended', 'possible', 'has-ended']]
	])('%s', (_name, known, expected) => {
		expect((['cancel', 'stop', 'resume'] as const).map((kind) => answer(known, kind))).toEqual(expected);
	});
});

describe('periods and tries', () => {
	it('counts every period from the first day', () => {
		expect([0, 1, 2].map((n) => new Date(paidUntil(n)).toISOString().slice(0, 10))).toEqual([
			'2026-02-28',
			'2026-03-31',
			'2026-04-30'
		]);
	});

	it('tries on the day the period ends and on its days after it, and never again', () => {
		const days = [1, 2, 3, 4, 5].map((attempt) => {
			const at = attemptAt(FIRST_END, attempt, ZONE);
			return at === null ? null : (at - FIRST_END) / DAY;
		});
		expect(days).toEqual([0, ...USUAL_COLLECTING.retryDays, null]);
		expect(LEEWAY_DAYS).toBeGreaterThan(Math.max(...USUAL_COLLECTING.retryDays));
		expect(openBeyond(0) - FIRST_END).toBe(LEEWAY_DAYS * DAY);
	});
});

describe('what is to be done', () => {
	/** Hears facts in their order and says what is done at each. */
	function hear(known: readonly AgreementFact[], beginning: Beginning = joinedAt(START)): Effect[][] {
		const heard: AgreementFact[] = [];
		let before: Course | null = courseOf(origin, beginning, []);
		return known.map((fact) => {
			heard.push(fact);
			const after = courseOf(origin, beginning, heard);
			const effects = effectsOf(before, after);
			before = after;
			return effects;
		});
	}

	it('begins with an open grant and the end of the first period', () => {
		expect(effectsOf(null, courseOf(origin, joinedAt(START), []))).toEqual([
			{ kind: 'open-until', until: openBeyond(0) },
			{ kind: 'schedule', event: { kind: 'period-over', period: 0 }, at: FIRST_END }
		]);
	});

	it('charges, opens further and says so', () => {
		expect(hear(facts('period-over 0@0', 'captured 1.1@0'))).toEqual([
			[{ kind: 'charge', period: 1, attempt: 1 }],
			[
				{ kind: 'open-until', until: openBeyond(1) },
				{ kind: 'schedule', event: { kind: 'period-over', period: 1 }, at: paidUntil(1) },
				{ kind: 'tell', message: 'renewed' }
			]
		]);
	});

	it('tries again on its days, then shuts and says so', () => {
		const done = hear(
			facts(
				'period-over 0@0',
				'declined 1.1@0',
				'retry-due 1.2@1',
				'declined 1.2@1',
				'declined 1.3@3',
				'declined 1.4@5'
			)
		);
		expect(done[1]).toEqual([
			{
				kind: 'schedule',
				event: { kind: 'retry-due', period: 1, attempt: 2 },
				at: FIRST_END + DAY
			},
			{ kind: 'tell', message: 'payment-declined' }
		]);
		expect(done[2]).toEqual([{ kind: 'charge', period: 1, attempt: 2 }]);
		expect(done[5]).toEqual([{ kind: 'shut' }, { kind: 'tell', message: 'lapsed' }]);
	});

	it('takes the leeway away from what is cancelled, and gives it again to what is taken back', () => {
		const done = hear(facts('cancel@-5', 'resume@-4', 'cancel@-3', 'stop@-2'));
		expect(done[0]).toEqual([
			{ kind: 'open-until', until: FIRST_END },
			{ kind: 'tell', message: 'cancelled' }
		]);
		expect(done[1]).toEqual([
			{ kind: 'open-until', until: openBeyond(0) },
			{ kind: 'tell', message: 'resumed' }
		]);
		expect(done[3]).toEqual([{ kind: 'shut' }, { kind: 'tell', message: 'cancelled' }]);
	});

	it('hears nothing in a try or a period that is not being tried', () => {
		const begun = ['period-over 0@0', 'declined 1.1@0'];
		for (const other of [
			'declined 1.1@0.5',
			'declined 1.3@0.5',
			'declined 2.2@0.5',
			'retry-due 1.3@0.5',
			'retry-due 2.2@0.5',
			'period-over 0@0.5',
			'period-over 1@0.5'
		])
			expect(hear(facts(...begun, other))[2], other).toEqual([]);
		for (const early of ['declined 1.1@-1', 'retry-due 1.1@-1', 'period-over 1@-1'])
			expect(hear(facts(early))[0], early).toEqual([]);
		expect(hear(facts('stop@-3', 'period-over 0@0', 'refunded 0.1@1', 'cancel@2'))).toEqual([
			[{ kind: 'shut' }, { kind: 'tell', message: 'cancelled' }],
			[],
			[],
			[]
		]);
	});

	it('leaves the present period as it is where an older one is captured late', () => {
		const renewed = ['period-over 0@0', 'captured 1.1@0.1', 'period-over 1@31', 'captured 2.1@31.1'];
		expect(said(courseOf(origin, joinedAt(START), facts(...renewed, 'captured 1.2@33')))).toBe(
			'running 2, open beyond 2, gives back 1.2'
		);
		// A period that nothing has paid counts as paid, and does not take the present one back.
		const jumped = facts('period-over 0@0', 'captured 2.1@1', 'captured 1.1@2');
		expect(said(courseOf(origin, joinedAt(START), jumped))).toBe('running 2, open beyond 2');
	});

	it('says that it has ended once, and of what runs out nothing', () => {
		const told = (...known: string[]) =>
			hear(facts(...known))
				.flat()
				.flatMap((effect) => (effect.kind === 'tell' ? [effect.message] : []));
		expect(told('cancel@-5', 'period-over 0@0')).toEqual(['cancelled']);
		expect(told('cancel@-5', 'stop@-4', 'stop@-3')).toEqual(['cancelled', 'cancelled']);
		expect(told('refunded 0.1@-5')).toEqual([]);
		expect(told('disputed 0.1@-5', 'won 0.1@-4')).toEqual([]);
		expect(told('cancel@-5', 'refunded 0.1@-4')).toEqual(['cancelled']);
		expect(told('disputed 0.1@-5', 'stop@-4')).toEqual(['cancelled']);
		expect(told('cancel@-5', 'resume@-4')).toEqual(['cancelled', 'resumed']);
		expect(told('period-over 0@0', 'captured 1.1@0', 'captured 1.2@1')).toEqual(['renewed']);
	});

	it('takes money for a try that a dispute interrupted, and gives it back where it was stopped for good', () => {
		const interrupted = ['period-over 0@0', 'disputed 0.1@0.1'];
		expect(endOf(...interrupted, 'stop@0.2', 'captured 1.1@0.3')).toBe('cancelled, shut, gives back 1.1');
		expect(endOf(...interrupted, 'captured 1.1@0.3', 'captured 1.2@0.4')).toBe(
			'disputed, shut, gives back 1.2'
		);
		expect(endOf('period-over 0@0', 'disputed 0.1@0.1', 'won 0.1@0.2', 'captured 1.1@0.3')).toBe(
			'running 1, open beyond 1'
		);
	});

	it('renews at the very moment of winning, where the period ends at it', () => {
		const end = ['disputed 0.1@-9', 'won 0.1@0'];
		expect(endOf(...end)).toBe('renewing 1, open beyond 0');
		expect(endOf('disputed 0.1@-9', 'won 0.1@-0.001')).toBe('running 0, open beyond 0');
	});

	it('keeps why it ended when the money goes back later', () => {
		expect(endOf('stop@-5', 'refunded 0.1@-4')).toBe('cancelled, shut');
		const { refunded } = courseOf(origin, joinedAt(START), facts('stop@-5', 'refunded 0.1@-4'));
		expect([...refunded]).toEqual([[0, { period: 0, attempt: 1 }]]);
	});

	it('of what happens at one moment, puts first what was paid', () => {
		expect(endOf('period-over 0@0', 'cancel@0.1', 'captured 1.1@0.1')).toBe('ending 1, open to the end of 1');
		expect(endOf('period-over 0@0', 'captured 1.2@0.1', 'captured 1.1@0.1')).toBe(
			'running 1, open beyond 1, gives back 1.2'
		);
		expect(endOf('resume@-1', 'cancel@-1')).toBe('ending 0, open to the end of 0');
	});

	it('opens anew what was shut by what was heard of late', () => {
		const done = hear(facts('period-over 0@0', 'cancel@0.5', 'captured 1.1@0.4'));
		expect(done[1]).toEqual([{ kind: 'shut' }, { kind: 'tell', message: 'cancelled' }]);
		expect(done[2]).toEqual([
			{ kind: 'open-anew', planId: 'apprentice', from: START, until: paidUntil(1) },
			{ kind: 'schedule', event: { kind: 'period-over', period: 1 }, at: paidUntil(1) },
			{ kind: 'tell', message: 'cancelled' }
		]);
	});

	it('goes on from what an older record says', () => {
		const beginning: Beginning = {
			at: FIRST_END - 5 * DAY,
			state: { kind: 'owing', period: 1, attempt: 3, hasAccess: true },
			paid: [{ period: 0, attempt: 2 }]
		};
		expect(said(courseOf(origin, beginning, facts('captured 1.3@4')))).toBe('running 1, open beyond 1');
		expect(said(courseOf(origin, beginning, facts('declined 1.3@4', 'declined 1.4@5')))).toBe('unpaid, shut');
		// What it was paid by may be a later try than the first.
		expect(said(courseOf(origin, beginning, facts('refunded 0.2@4')))).toBe('refunded, shut');
		expect(said(courseOf(origin, beginning, facts('disputed 0.2@4', 'won 0.2@5')))).toBe(
			'owing 1, open beyond 0'
		);
	});

	/** Eight facts of one subscription, each at its moment. */
	const SETS = [
		[
			'period-over 0@0',
			'captured 1.1@1.2',
			'declined 1.1@0',
			'retry-due 1.2@1',
			'captured 1.2@1.1',
			'refunded 0.1@1.3',
			'cancel@2',
			'stop@3'
		],
		[
			'period-over 0@0',
			'cancel@0.3',
			'captured 1.1@0.2',
			'disputed 0.1@0.5',
			'won 0.1@4',
			'period-over 1@31',
			'refunded 1.1@32',
			'stop@33'
		],
		[
			'period-over 0@0',
			'declined 1.1@0',
			'declined 1.2@1',
			'declined 1.3@3',
			'declined 1.4@5',
			'captured 1.1@4.9',
			'captured 1.4@6',
			'disputed 1.1@7'
		],
		[
			'period-over 0@0',
			'captured 1.1@0.1',
			'period-over 1@31',
			'captured 2.1@31.1',
			'captured 2.2@31.2',
			'disputed 0.1@32',
			'won 0.1@33',
			'refunded 2.1@34'
		]
	];
	test.each(SETS.map((set, n) => [n + 1, set] as const))(
		'ends in the same and gives the same back, in whichever order set %i is heard',
		(_n, set) => {
			const known = facts(...set);
			const last = courseOf(origin, joinedAt(START), known);
			const final = said(last);
			fc.assert(
				fc.property(fc.shuffledSubarray(known, { minLength: 8, maxLength: 8 }), (order) => {
					const effects = hear(order).flat();
					expect(said(courseOf(origin, joinedAt(START), order))).toBe(final);
					const back = effects.filter(({ kind }) => kind === 'give-back');
					// What went back on the way stays among what came in for nothing, and each once.
					expect(new Set(back.map((one) => JSON.stringify(one))).size).toBe(back.length);
					expect(back.map((one) => JSON.stringify(one)).sort()).toEqual(
						last.surplus.map((one) => JSON.stringify({ kind: 'give-back', ...one })).sort()
					);
					// What opened last is what is open in the end.
					const opened = effects.findLast(({ kind }) => kind.startsWith('open') || kind === 'shut');
					const until = opened && 'until' in opened ? opened.until : undefined;
					if (opened) expect(until).toBe(last.open?.until);
				}),
				{ seed: 20_261_127, numRuns: runs(400) }
			);
		}
	);

	it('takes whatever comes, in whatever order, and takes it twice for once', () => {
		const charge = { period: fc.integer({ min: 0, max: 3 }), attempt: fc.integer({ min: 1, max: 5 }) };
		const at = fc.integer({ min: -20, max: 200 }).map((n) => FIRST_END + n * 12 * HOUR);
		const fact = fc.oneof(
			fc.record({ at, kind: fc.constant('period-over' as const), period: charge.period }),
			fc.record({
				at,
				kind: fc.constantFrom(
					'retry-due' as const,
					'captured' as const,
					'declined' as const,
					'refunded' as const,
					'disputed' as const,
					'won' as const
				),
				...charge
			}),
			fc.record({ at, kind: fc.constantFrom('cancel' as const, 'resume' as const, 'stop' as const) })
		);
		fc.assert(
			fc.property(fc.array(fact, { maxLength: 10 }), fc.array(fact, { maxLength: 3 }), (some, more) => {
				const all = [...some, ...more];
				const course = courseOf(origin, joinedAt(START), all);
				expect(course).toEqual(courseOf(origin, joinedAt(START), [...all].reverse()));
				// One by one, as they are heard of, they come to the same.
				const none = courseOf(origin, joinedAt(START), []);
				const heard = all.reduce(
					(known, one, n) => courseWith(origin, joinedAt(START), all.slice(0, n), known, one),
					none
				);
				expect(heard).toEqual(course);
				// Nothing is paid twice, and nothing that pays goes back.
				for (const one of course.surplus) expect(course.paid.get(one.period)).not.toEqual(one);
				// It is open only with something paid, or in the leeway after it; and what has ended is due nothing.
				if (course.state.kind === 'ended') expect([course.due, course.charge]).toEqual([null, null]);
				if (course.disputed.size > 0 && course.state.kind !== 'ended')
					throw new Error('It lives although it is disputed');
			}),
			{ seed: 20_261_128, numRuns: runs(1000) }
		);
	});
});
