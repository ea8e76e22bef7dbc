import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import {
	begin,
	LEEWAY_DAYS,
	paidUntil,
	renewingGrantUntil,
	RETRY_DAYS,
	transition,
	type Effect,
	type SubscriptionEvent,
	type SubscriptionState,
	type SubscriptionTerms
} from './subscription';

const DAY = 86_400_000;
const terms: SubscriptionTerms = {
	anchor: Date.parse('2026-01-31T10:00Z'),
	unit: 'month',
	count: 1,
	zone: 'UTC'
};
const move = (state: SubscriptionState, event: SubscriptionEvent) => transition({ terms, state }, event);

const STATES: SubscriptionState[] = [
	{ kind: 'active', period: 2 },
	{ kind: 'renewing', period: 2, attempt: 2 },
	{ kind: 'ending', period: 2 },
	{ kind: 'ended', period: 2, why: 'unpaid' }
];
const EVENTS: SubscriptionEvent[] = [
	{ kind: 'period-over', period: 2 },
	{ kind: 'retry-due', period: 2, attempt: 2 },
	{ kind: 'captured', period: 2 },
	{ kind: 'declined', period: 2, attempt: 2 },
	{ kind: 'cancel' },
	{ kind: 'resume' },
	{ kind: 'refunded', period: 2 },
	{ kind: 'disputed', period: 2 },
	{ kind: 'stop' }
];

/** Rows are states, columns are events; the cell is the next state, or why nothing moved. */
const TABLE: Record<SubscriptionState['kind'], string[]> = {
	active: [
		'renewing',
		'other-period',
		'already-so',
		'other-period',
		'ending',
		'not-cancelled',
		'ended',
		'ended',
		'ended'
	],
	renewing: [
		'other-period',
		'renewing',
		'active',
		'renewing',
		'ended',
		'not-cancelled',
		'ended',
		'ended',
		'ended'
	],
	ending: [
		'ended',
		'other-period',
		'already-so',
		'other-period',
		'already-so',
		'active',
		'ended',
		'ended',
		'ended'
	],
	ended: [
		'has-ended',
		'has-ended',
		'ended',
		'has-ended',
		'has-ended',
		'has-ended',
		'has-ended',
		'has-ended',
		'has-ended'
	]
};

describe('every pair of state and event has an answer', () => {
	const pairs = STATES.flatMap((state) =>
		EVENTS.map((event, i) => [state.kind, event.kind, state, event, i] as const)
	);
	expect(pairs).toHaveLength(36);
	test.each(pairs)('%s, %s', (kind, _, state, event, i) => {
		const result = move(state, event);
		expect(result.kind === 'moved' ? result.state.kind : result.why).toBe(TABLE[kind][i]);
	});
});

describe('periods', () => {
	it('counts every period from the first day', () => {
		expect([0, 1, 2].map((n) => new Date(paidUntil(terms, n)).toISOString().slice(0, 10))).toEqual([
			'2026-02-28',
			'2026-03-31',
			'2026-04-30'
		]);
	});

	it('lets a renewing grant outlive the last retry', () => {
		expect(LEEWAY_DAYS).toBeGreaterThan(Math.max(...RETRY_DAYS));
		expect(renewingGrantUntil(terms, 0) - paidUntil(terms, 0)).toBe(LEEWAY_DAYS * DAY);
	});

	it('begins with a grant and the end of the first period', () => {
		expect(begin(terms)).toEqual({
			state: { kind: 'active', period: 0 },
			effects: [
				{ kind: 'grant-until', until: renewingGrantUntil(terms, 0) },
				{ kind: 'schedule', event: { kind: 'period-over', period: 0 }, at: paidUntil(terms, 0) }
			]
		});
	});
});

describe('a card that is declined', () => {
	it('is tried again on its days, and then the grant ends', () => {
		let state: SubscriptionState = { kind: 'active', period: 0 };
		const tries: number[] = [];
		let effects: Effect[] = [];
		const apply = (event: SubscriptionEvent) => {
			const result = move(state, event);
			if (result.kind !== 'moved') throw new Error(`${event.kind} did not move`);
			state = result.state;
			effects = result.effects;
		};
		apply({ kind: 'period-over', period: 0 });
		for (let attempt = 1; attempt <= RETRY_DAYS.length; attempt++) {
			apply({ kind: 'declined', period: 1, attempt });
			const retry = effects.find((e) => e.kind === 'schedule');
			tries.push((retry!.at - paidUntil(terms, 0)) / DAY);
			apply({ kind: 'retry-due', period: 1, attempt: attempt + 1 });
			expect(effects).toEqual([{ kind: 'charge', period: 1, attempt: attempt + 1 }]);
		}
		expect(tries).toEqual([...RETRY_DAYS]);
		apply({ kind: 'declined', period: 1, attempt: RETRY_DAYS.length + 1 });
		expect(state).toEqual({ kind: 'ended', period: 1, why: 'unpaid' });
		expect(effects).toContainEqual({ kind: 'end-grant' });
	});

	it('gives back what comes in after the end', () => {
		expect(move({ kind: 'ended', period: 1, why: 'unpaid' }, { kind: 'captured', period: 1 })).toMatchObject({
			effects: [{ kind: 'give-back', period: 1 }]
		});
		expect(move({ kind: 'ended', period: 1, why: 'refunded' }, { kind: 'captured', period: 1 }).kind).toBe(
			'ignored'
		);
	});
});

describe('cancelling and refunds', () => {
	it('keeps access to the end of what is paid, and takes the leeway away', () => {
		expect(move({ kind: 'active', period: 2 }, { kind: 'cancel' })).toMatchObject({
			state: { kind: 'ending', period: 2 },
			effects: [{ kind: 'grant-until', until: paidUntil(terms, 2) }, { kind: 'tell' }]
		});
	});

	it('leaves the present period alone when an older one is refunded', () => {
		expect(move({ kind: 'active', period: 2 }, { kind: 'refunded', period: 1 })).toEqual({
			kind: 'ignored',
			why: 'other-period'
		});
	});

	it('ends while renewing when the last paid period is refunded', () => {
		const renewing: SubscriptionState = { kind: 'renewing', period: 3, attempt: 2 };
		expect(move(renewing, { kind: 'refunded', period: 2 })).toMatchObject({
			state: { kind: 'ended', why: 'refunded' }
		});
	});
});

describe('properties', () => {
	const event = fc.oneof(
		fc.record({
			kind: fc.constantFrom('period-over', 'captured', 'refunded', 'disputed'),
			period: fc.integer({ min: 0, max: 3 })
		}),
		fc.record({
			kind: fc.constantFrom('retry-due', 'declined'),
			period: fc.integer({ min: 0, max: 3 }),
			attempt: fc.integer({ min: 1, max: 4 })
		}),
		fc.record({ kind: fc.constantFrom('cancel', 'resume', 'stop') })
	) as fc.Arbitrary<SubscriptionEvent>;
	const next = (state: SubscriptionState, e: SubscriptionEvent) => {
		const result = move(state, e);
		return result.kind === 'moved' ? result.state : state;
	};

	it('never leaves the end, whatever comes', () => {
		fc.assert(
			fc.property(fc.array(event), (events) => {
				const ended: SubscriptionState = { kind: 'ended', period: 1, why: 'unpaid' };
				expect(events.reduce(next, ended)).toEqual(ended);
			}),
			{ seed: 20261124 }
		);
	});

	it('takes a repeated fact as nothing new', () => {
		fc.assert(
			fc.property(fc.array(event), event, (events, e) => {
				fc.pre(e.kind !== 'declined');
				const before = events.reduce<SubscriptionState>(next, { kind: 'active', period: 0 });
				const once = next(before, e);
				expect(next(once, e)).toEqual(once);
			}),
			{ seed: 20261124, numRuns: 1000 }
		);
	});
});
