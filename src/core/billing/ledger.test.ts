import { describe, expect, it, test } from 'vitest';
import { imbalance, LEDGER_ACCOUNTS, postings, reversed, type LedgerLine, type Posting } from './ledger';

/** 12.00 for a plan, 2.00 of them tax, and 5.00 once at joining. */
const LINES: LedgerLine[] = [
	{ planId: 'workshop', lineId: 'one', amountMinor: 1200, taxMinor: 200 },
	{ planId: 'workshop', lineId: 'two', amountMinor: 500, taxMinor: 0 }
];

/** What each account holds. */
function balances(all: readonly Posting[]): Partial<Record<string, number>> {
	const sums = LEDGER_ACCOUNTS.map((account) => {
		const own = all.filter((posting) => posting.account === account);
		return [account, own.reduce((sum, { amountMinor }) => sum + amountMinor, 0)] as const;
	});
	return Object.fromEntries(sums.filter(([, sum]) => sum !== 0));
}

describe('the ledger', () => {
	it('posts each line by itself, with its plan, its tax apart', () => {
		const of = { currency: 'EUR', planId: 'workshop' };
		expect(postings('payment', 'EUR', LINES)).toEqual([
			{ account: 'processor', amountMinor: 1700, currency: 'EUR', planId: null, lineId: null },
			{ account: 'sales', amountMinor: -1000, ...of, lineId: 'one' },
			{ account: 'tax', amountMinor: -200, ...of, lineId: 'one' },
			{ account: 'sales', amountMinor: -500, ...of, lineId: 'two' }
		]);
	});

	it('balances every kind of movement, in each currency', () => {
		const kinds = ['payment', 'refund', 'dispute'] as const;
		for (const kind of kinds) expect(imbalance(postings(kind, 'EUR', LINES))).toEqual([]);
		const all = [...postings('payment', 'EUR', LINES), ...postings('refund', 'JPY', LINES)];
		expect(imbalance(all)).toEqual([]);
		expect(imbalance(all.slice(1))).toEqual([{ minor: -1700, currency: 'EUR' }]);
	});

	it('owes nothing after a payment and its refund, to the tax office neither, and still knows both', () => {
		const all = [...postings('payment', 'EUR', LINES), ...postings('refund', 'EUR', LINES)];
		expect(balances(all)).toEqual({ sales: -1500, refunds: 1500 });
	});

	it('has a disputed payment as a loss, and as if it were never disputed once that is won', () => {
		const paid = postings('payment', 'EUR', LINES);
		const disputed = postings('dispute', 'EUR', LINES);
		expect(balances([...paid, ...disputed])).toEqual({ sales: -1500, tax: -200, disputes: 1700 });
		expect(balances([...paid, ...disputed, ...reversed(disputed)])).toEqual(balances(paid));
	});

	test.each([-1, 0.5, NaN, 2 ** 53])('refuses an amount of %s', (amountMinor) => {
		const line = { planId: 'workshop', lineId: 'one', amountMinor, taxMinor: 0 };
		expect(() => postings('payment', 'EUR', [line])).toThrow(RangeError);
		expect(() => postings('payment', 'EUR', [{ ...line, amountMinor: 1, taxMinor: amountMinor }])).toThrow(
			RangeError
		);
	});

	it('posts nothing of nothing', () => {
		expect(() => postings('payment', 'EUR', [])).toThrow(RangeError);
	});
});
