import { describe, expect, it, test } from 'vitest';
import { imbalance, LEDGER_ACCOUNTS, postings } from './ledger';

describe('the ledger', () => {
	it('balances every kind of movement, in each currency', () => {
		const all = [
			...postings('payment', { minor: 1200, currency: 'EUR' }),
			...postings('refund', { minor: 500, currency: 'JPY' })
		];
		expect(all).toHaveLength(4);
		expect(imbalance(all)).toEqual([]);
		expect(imbalance(all.slice(1))).toEqual([{ minor: -1200, currency: 'EUR' }]);
	});

	it('has a disputed payment as if it were never disputed, once that is won', () => {
		const money = { minor: 1200, currency: 'EUR' };
		const balances = (...kinds: Parameters<typeof postings>[0][]) => {
			const all = kinds.flatMap((kind) => postings(kind, money));
			expect(imbalance(all)).toEqual([]);
			return LEDGER_ACCOUNTS.map((account) =>
				all.filter((p) => p.account === account).reduce((sum, p) => sum + p.amountMinor, 0)
			);
		};
		expect(balances('payment', 'dispute', 'won')).toEqual(balances('payment'));
		expect(balances('payment', 'dispute')).toEqual(balances('payment', 'refund'));
	});

	it('owes nothing after a payment and its refund, and still knows both', () => {
		const money = { minor: 1200, currency: 'EUR' };
		const all = [...postings('payment', money), ...postings('refund', money)];
		const balance = (account: string) =>
			all.filter((p) => p.account === account).reduce((sum, p) => sum + p.amountMinor, 0);
		expect([balance('processor'), balance('sales'), balance('refunds')]).toEqual([0, -1200, 1200]);
	});

	test.each([0, -1, 0.5, NaN, 2 ** 53])('refuses an amount of %s', (minor) => {
		expect(() => postings('payment', { minor, currency: 'EUR' })).toThrow(RangeError);
	});
});
