import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import {
	movementsTo,
	PAYMENT_STATES,
	refundable,
	standingOf,
	withMovement,
	type Balance,
	type DisputeState,
	type Movement,
	type PaymentReport,
	type PaymentState
} from './payment';

/** "captured r1:300 d1:open" and the like: refunds by their amount, disputes by their state. */
function report(text: string): PaymentReport {
	const [state = 'pending', ...rest] = text.split(' ');
	const parts = rest.map((part) => part.split(':') as [string, string]);
	return {
		state: state as PaymentState,
		refunds: parts
			.filter(([ref]) => ref.startsWith('r'))
			.map(([ref, minor]) => ({ ref, amountMinor: Number(minor) })),
		disputes: parts
			.filter(([ref]) => ref.startsWith('d'))
			.map(([ref, of]) => ({ ref, amountMinor: 1000, state: of as DisputeState }))
	};
}

const short = (movement: Movement) =>
	'refund' in movement
		? `${movement.kind}-${movement.refund.ref}`
		: 'dispute' in movement
			? `${movement.kind}-${movement.dispute.ref}`
			: movement.kind;

describe('facts about a payment', () => {
	/** What is held, what is reported, what is booked. */
	const ROWS: [string, string, string][] = [
		['pending', 'pending', ''],
		['pending', 'declined', 'declined'],
		['pending', 'expired', 'expired'],
		['pending', 'captured', 'captured'],
		['declined', 'pending', ''],
		['declined', 'expired', ''],
		['declined', 'captured', 'captured'],
		['expired', 'declined', ''],
		['expired', 'captured', 'captured'],
		['captured', 'pending', ''],
		['captured', 'declined', ''],
		['captured', 'expired', ''],
		['captured', 'captured', ''],
		['pending', 'captured r1:300', 'captured refunded-r1'],
		['expired', 'captured d1:won', 'captured disputed-d1 won-d1'],
		['captured', 'captured r1:300 r2:700', 'refunded-r1 refunded-r2'],
		['captured r1:300', 'captured r1:300 r2:700', 'refunded-r2'],
		['captured r1:300 r2:700', 'captured r1:300', ''],
		['captured r1:300', 'captured', ''],
		['captured', 'captured d1:open', 'disputed-d1'],
		['captured', 'captured d1:lost', 'disputed-d1 lost-d1'],
		['captured d1:open', 'captured d1:open', ''],
		['captured d1:open', 'captured d1:won', 'won-d1'],
		['captured d1:open', 'captured d1:lost', 'lost-d1'],
		['captured d1:won', 'captured d1:open', ''],
		['captured d1:won', 'captured d1:lost', ''],
		['captured d1:lost', 'captured d1:won', ''],
		['captured d1:won', 'captured d1:won d2:open', 'disputed-d2'],
		['captured d1:won', 'captured d1:won r1:1000', 'refunded-r1'],
		// Money that moved has come in, whatever else is said.
		['pending', 'pending r1:300', 'captured refunded-r1']
	];
	test.each(ROWS)('held "%s", reported "%s": "%s"', (held, reported, booked) => {
		expect(movementsTo(report(held), report(reported)).map(short).join(' ')).toBe(booked);
	});

	it('are booked at most once each, and end in the same whatever comes in whatever order', () => {
		const last = report('captured r1:200 r2:300 d1:won d2:lost');
		const parts = fc.record({
			state: fc.constantFrom(...PAYMENT_STATES),
			refunds: fc.subarray([...last.refunds]),
			disputes: fc
				.subarray([...last.disputes])
				.chain((some) =>
					fc.tuple(
						...some.map((one) => fc.boolean().map((is) => (is ? { ...one, state: 'open' as const } : one)))
					)
				)
		});
		fc.assert(
			fc.property(fc.array(parts), (reports) => {
				let held = report('pending');
				const booked: string[] = [];
				for (const reported of [...reports, last]) {
					for (const movement of movementsTo(held, reported)) {
						held = withMovement(held, movement);
						booked.push(short(movement));
					}
				}
				expect(new Set(booked).size).toBe(booked.length);
				const once = [
					'captured',
					'refunded-r1',
					'refunded-r2',
					'disputed-d1',
					'won-d1',
					'disputed-d2',
					'lost-d2'
				];
				expect(booked.filter((one) => one !== 'declined' && one !== 'expired').sort()).toEqual(once.sort());
				const sorted = ({ state, refunds, disputes }: PaymentReport) => ({
					state,
					refunds: [...refunds].sort((a, b) => a.ref.localeCompare(b.ref)),
					disputes: [...disputes].sort((a, b) => a.ref.localeCompare(b.ref))
				});
				expect(sorted(held)).toEqual(sorted(last));
			}),
			{ seed: 20261124 }
		);
	});
});

describe('what is there of a payment', () => {
	const of = (state: PaymentState, refundedMinor = 0, dispute: DisputeState | null = null): Balance => ({
		...{ state, amountMinor: 1000, refundedMinor, dispute }
	});
	const ROWS: [Balance, string, number][] = [
		[of('pending'), 'pending', 0],
		[of('declined'), 'declined', 0],
		[of('expired'), 'expired', 0],
		[of('captured'), 'captured', 1000],
		[of('captured', 1), 'part-refunded', 999],
		[of('captured', 999), 'part-refunded', 1],
		[of('captured', 1000), 'refunded', 0],
		[of('captured', 1001), 'refunded', 0],
		[of('captured', 0, 'open'), 'disputed', 0],
		[of('captured', 400, 'open'), 'disputed', 0],
		[of('captured', 0, 'lost'), 'lost', 0],
		[of('captured', 400, 'lost'), 'lost', 0],
		[of('captured', 0, 'won'), 'won', 1000],
		[of('captured', 400, 'won'), 'part-refunded', 600],
		[of('captured', 1000, 'won'), 'refunded', 0]
	];
	test.each(ROWS)('%j is %s, and %d may be refunded', (balance, standing, left) => {
		expect(standingOf(balance)).toBe(standing);
		expect(refundable(balance)).toBe(left);
	});
});
