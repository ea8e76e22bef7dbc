import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import {
	imbalance,
	LEDGER_ACCOUNTS,
	postings,
	refundLines,
	reversed,
	type LedgerLine,
	type Posting
} from './ledger';

/** 12.00 for a plan, 2.00 of them tax, and 5.00 once at joining. */
const LINES: LedgerLine[] = [
	{ planId: 'workshop', lineId: 'one', amountMinor: 1200, taxMinor: 200, discountMinor: 0 },
	{ planId: 'workshop', lineId: 'two', amountMinor: 500, taxMinor: 0, discountMinor: 0 }
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

	it('has sales at full prices, and what was taken off them apart', () => {
		const less = [{ planId: 'workshop', lineId: 'one', amountMinor: 900, taxMinor: 150, discountMinor: 300 }];
		const all = postings('payment', 'EUR', less);
		expect(balances(all)).toEqual({ processor: 900, sales: -1050, discounts: 300, tax: -150 });
		expect(imbalance(all)).toEqual([]);
		expect(balances(postings('refund', 'EUR', refundLines(900, less)))).toEqual({
			processor: -900,
			refunds: 750,
			tax: 150
		});
	});

	it('has what came in without a processor as cash', () => {
		const held = (kind: 'payment' | 'refund') =>
			postings(kind, 'EUR', LINES, 'cash').find(({ account }) => account === 'cash')?.amountMinor;
		expect([held('payment'), held('refund')]).toEqual([1700, -1700]);
		expect(imbalance(postings('payment', 'EUR', LINES, 'cash'))).toEqual([]);
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
		const line = { planId: 'workshop', lineId: 'one', amountMinor, taxMinor: 0, discountMinor: 0 };
		expect(() => postings('payment', 'EUR', [line])).toThrow(RangeError);
		expect(() => postings('payment', 'EUR', [{ ...line, amountMinor: 1, taxMinor: amountMinor }])).toThrow(
			RangeError
		);
	});

	it('posts nothing of nothing', () => {
		expect(() => postings('payment', 'EUR', [])).toThrow(RangeError);
	});
});

describe('a refund', () => {
	const less = (line: LedgerLine, taken: readonly LedgerLine[]): LedgerLine => {
		const [of] = taken.filter(({ lineId }) => lineId === line.lineId);
		return {
			...line,
			amountMinor: line.amountMinor - (of?.amountMinor ?? 0),
			taxMinor: line.taxMinor - (of?.taxMinor ?? 0)
		};
	};

	it('takes of each line in proportion, and of its tax likewise', () => {
		// By hand: 8.50 of 17.00 is half of each line: 6.00 with 1.00 of tax, and 2.50.
		expect(refundLines(850, LINES)).toEqual([
			{ planId: 'workshop', lineId: 'one', amountMinor: 600, taxMinor: 100, discountMinor: 0 },
			{ planId: 'workshop', lineId: 'two', amountMinor: 250, taxMinor: 0, discountMinor: 0 }
		]);
		// 1.00 of 17.00: 0.7058… and 0.2941…, so 0.71 and 0.29; tax 0.71 / 6 = 0.1183…
		expect(refundLines(100, LINES)).toEqual([
			{ planId: 'workshop', lineId: 'one', amountMinor: 71, taxMinor: 12, discountMinor: 0 },
			{ planId: 'workshop', lineId: 'two', amountMinor: 29, taxMinor: 0, discountMinor: 0 }
		]);
	});

	it('leaves out lines of which it takes nothing, and refuses more than is left', () => {
		expect(refundLines(1, LINES).map(({ lineId }) => lineId)).toEqual(['one']);
		expect(() => refundLines(1701, LINES)).toThrow(RangeError);
	});

	it('after others ends in nothing left of any line, whatever the parts were', () => {
		const line = fc
			.tuple(fc.integer({ min: 0, max: 5000 }), fc.integer({ min: 0, max: 100 }))
			.map(([amountMinor, percent]) => ({
				...{ planId: 'p', lineId: '', amountMinor, discountMinor: 0 },
				taxMinor: Math.floor((amountMinor * percent) / 100)
			}));
		fc.assert(
			fc.property(fc.array(line, { minLength: 1, maxLength: 4 }), fc.array(fc.nat(5000)), (lines, parts) => {
				let left = lines.map((one, n) => ({ ...one, lineId: String(n) }));
				const all = () => left.reduce((sum, { amountMinor }) => sum + amountMinor, 0);
				for (const part of [...parts, Infinity]) {
					const amount = Math.min(part, all());
					if (amount === 0) continue;
					const taken = refundLines(amount, left);
					expect(taken.reduce((sum, { amountMinor }) => sum + amountMinor, 0)).toBe(amount);
					left = left.map((one) => less(one, taken));
					for (const { amountMinor, taxMinor } of left) {
						expect(taxMinor).toBeGreaterThanOrEqual(0);
						expect(taxMinor).toBeLessThanOrEqual(amountMinor);
					}
				}
				expect(left.every(({ amountMinor, taxMinor }) => amountMinor === 0 && taxMinor === 0)).toBe(true);
			}),
			{ seed: 20261128 }
		);
	});
});
