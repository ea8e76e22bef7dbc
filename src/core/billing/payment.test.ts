import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { PAYMENT_STATES, stepsTo, type PaymentState } from './payment';

/** Rows: what we hold; columns: what is reported (pending, declined, expired, captured, refunded, disputed, won). */
const TABLE: Record<PaymentState, string[]> = {
	pending: [
		'',
		'declined',
		'expired',
		'captured',
		'captured refunded',
		'captured disputed',
		'captured disputed won'
	],
	declined: ['', '', '', 'captured', 'captured refunded', 'captured disputed', 'captured disputed won'],
	expired: ['', '', '', 'captured', 'captured refunded', 'captured disputed', 'captured disputed won'],
	captured: ['', '', '', '', 'refunded', 'disputed', 'disputed won'],
	refunded: ['', '', '', '', '', '', ''],
	disputed: ['', '', '', '', '', '', 'won'],
	won: ['', '', '', '', 'refunded', '', '']
};

describe('facts about a payment', () => {
	const pairs = PAYMENT_STATES.flatMap((held) =>
		PAYMENT_STATES.map((reported, i) => [held, reported, i] as const)
	);
	test.each(pairs)('held %s, reported %s', (held, reported, i) => {
		expect(stepsTo(held, reported).join(' ')).toBe(TABLE[held][i]);
	});

	it('books a capture and a refund at most once, whatever comes in whatever order', () => {
		fc.assert(
			fc.property(fc.array(fc.constantFrom(...PAYMENT_STATES)), (reports) => {
				let held: PaymentState = 'pending';
				const booked: string[] = [];
				for (const reported of reports) {
					for (const step of stepsTo(held, reported)) {
						held = step;
						booked.push(step);
					}
				}
				expect(booked.filter((step) => step === 'captured').length).toBeLessThanOrEqual(1);
				for (const step of ['refunded', 'disputed', 'won'])
					expect(booked.filter((one) => one === step).length).toBeLessThanOrEqual(1);
				// What was taken back is taken back once, or once more after it came back.
				const taken = booked.filter((step) => step === 'refunded' || step === 'disputed').length;
				expect(taken - booked.filter((step) => step === 'won').length).toBeLessThanOrEqual(1);
				if (reports.includes('captured')) expect(booked).toContain('captured');
			}),
			{ seed: 20261124 }
		);
	});
});
