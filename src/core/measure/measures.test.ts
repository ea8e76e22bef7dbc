import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { split } from '../billing/allocation';
import { postings, refundLines } from '../billing/ledger';
import { earnedBy } from './earned';
import { incomeSheet, payingBy, type StepSum } from './income-sheet';
import { outcomesByMonth } from './outcomes';
import { WHYS } from './recurring';
import { dayAfter, lastMonths, monthAfter, monthsIn, readSpan } from './spans';
import { whoStays, type Change } from './stays';

describe('the sheet of recurring income', () => {
	// By hand: 3 × 12.00 = 36.00; + 12.00 new, + 24.00 − 12.00 up, − 12.00 lost = 48.00 of 3 agreements; 1 of 3 left.
	const sums: StepSum[] = [
		{ month: '2026-05', why: 'new', minor: 1200, count: 1 },
		{ month: '2026-05', why: 'up', minor: 1200, count: 1 },
		{ month: '2026-05', why: 'lost', minor: -1200, count: 1 },
		{ month: '2026-07', why: 'failed', minor: -4800, count: 3 },
		{ month: '2026-07', why: 'back', minor: 1200, count: 1 }
	];

	it('goes on from month to month', () => {
		const [may, june, july] = incomeSheet({ minor: 3600, count: 3 }, ['2026-05', '2026-06', '2026-07'], sums);
		expect(may).toMatchObject({
			start: { minor: 3600, count: 3 },
			end: { minor: 4800, count: 3 },
			left: 1 / 3
		});
		expect(may?.moved.new).toEqual({ minor: 1200, count: 1 });
		expect(may?.moved.down).toEqual({ minor: 0, count: 0 });
		expect(june).toMatchObject({ start: { minor: 4800, count: 3 }, end: { minor: 4800, count: 3 }, left: 0 });
		expect(july).toMatchObject({ end: { minor: 1200, count: 1 }, left: 1 });
	});

	it('says of no month how many left where nobody paid at its beginning', () => {
		const [may] = incomeSheet({ minor: 0, count: 0 }, ['2026-05'], sums);
		expect(may?.left).toBeNull();
	});

	it('ends with what it began with and all that moved it, whatever that was', () => {
		const month = fc.constantFrom('2026-01', '2026-02', '2026-03');
		const sum = fc.record({
			...{ month, why: fc.constantFrom(...WHYS) },
			...{ minor: fc.integer({ min: -9000, max: 9000 }), count: fc.integer({ min: 0, max: 9 }) }
		});
		fc.assert(
			fc.property(fc.array(sum), (all) => {
				const sheet = incomeSheet({ minor: 500, count: 7 }, ['2026-01', '2026-02', '2026-03'], all);
				expect(sheet.at(-1)?.end).toEqual({
					minor: 500 + all.reduce((total, { minor }) => total + minor, 0),
					count: 7 + all.reduce((total, { why, count }) => total + payingBy(why, count), 0)
				});
				for (const [n, one] of sheet.entries()) if (n > 0) expect(one.start).toEqual(sheet[n - 1]?.end);
			}),
			{ seed: 20_261_202 }
		);
	});
});

describe('who stays', () => {
	const at = (month: number, day: number) => Date.UTC(2026, month - 1, day);
	const months = [5, 6, 7].map((month) => ({ month: `2026-0${month}`, end: at(month + 1, 1) }));
	const said = (changes: Change[]) =>
		whoStays(changes, months, at(5, 1)).map(({ month, members, staying }) => [
			...[month, members.join(' ')],
			staying.map((all) => all.length)
		]);

	it('is counted at the end of each month, with those of the month in which they came first', () => {
		expect(
			said([
				{ memberId: 'wren', at: at(5, 3), deltaMinor: 1200 },
				{ memberId: 'jasper', at: at(5, 31), deltaMinor: 1200 },
				{ memberId: 'bram', at: at(6, 1), deltaMinor: 500 },
				{ memberId: 'wren', at: at(7, 3), deltaMinor: -1200 }
			])
		).toEqual([
			['2026-05', 'wren jasper', [2, 2, 1]],
			['2026-06', 'bram', [1, 1]],
			['2026-07', '', [0]]
		]);
	});

	it('counts whoever came back, two agreements of one member once, and nobody from before', () => {
		expect(
			said([
				{ memberId: 'early', at: at(4, 30), deltaMinor: 1200 },
				{ memberId: 'wren', at: at(5, 3), deltaMinor: 1200 },
				{ memberId: 'wren', at: at(5, 4), deltaMinor: 500 },
				{ memberId: 'wren', at: at(6, 3), deltaMinor: -1700 },
				{ memberId: 'wren', at: at(7, 3), deltaMinor: 500 }
			])
		).toEqual([
			['2026-05', 'wren', [1, 0, 1]],
			['2026-06', '', [0, 0]],
			['2026-07', '', [0]]
		]);
	});

	it('is the same as looking at each member at each end by themselves', () => {
		const change = fc.record({
			memberId: fc.constantFrom('a', 'b', 'c', 'd'),
			at: fc.integer({ min: 1, max: 110 }).map((n) => at(4, 20) + n * 86_400_000),
			deltaMinor: fc.integer({ min: -2, max: 3 })
		});
		fc.assert(
			fc.property(fc.array(change, { maxLength: 25 }), (some) => {
				const changes = some.sort((a, b) => a.at - b.at);
				const found = whoStays(changes, months, at(5, 1));
				for (const id of ['a', 'b', 'c', 'd']) {
					const own = changes.filter(({ memberId }) => memberId === id);
					const first = own[0]?.at ?? 0;
					const came = first < at(5, 1) ? undefined : months.find(({ end }) => first < end);
					for (const { month, members, staying } of found) {
						expect(members.includes(id)).toBe(came?.month === month);
						months
							.filter((one) => one.month >= month)
							.forEach(({ end }, k) => {
								const held = own.filter((one) => one.at < end).reduce((sum, one) => sum + one.deltaMinor, 0);
								expect(staying[k]?.includes(id)).toBe(came?.month === month && held > 0);
							});
					}
				}
			}),
			{ seed: 20_261_203, numRuns: 400 }
		);
	});
});

it('says what became of what began in each month', () => {
	const one = (month: string, end: 'won' | 'lost' | 'open', minor = 1200) => ({ month, end, minor });
	expect(
		outcomesByMonth(
			[one('2026-05', 'won'), one('2026-05', 'lost'), one('2026-05', 'won', 500), one('2026-06', 'open')],
			['2026-05', '2026-06', '2026-07']
		)
	).toEqual([
		{ month: '2026-05', begun: 3, won: 2, lost: 1, open: 0, wonMinor: 1700, share: 2 / 3 },
		{ month: '2026-06', begun: 1, won: 0, lost: 0, open: 1, wonMinor: 0, share: null },
		{ month: '2026-07', begun: 0, won: 0, lost: 0, open: 0, wonMinor: 0, share: null }
	]);
});

describe('what something earned', () => {
	const under = (key: string, all: ReturnType<typeof postings>) =>
		all.map(({ account, amountMinor, currency }) => ({ key, account, amountMinor, currency }));
	const line = (amountMinor: number, taxMinor: number, discountMinor: number) => ({
		...{ planId: 'workshop', lineId: 'line', amountMinor, taxMinor, discountMinor }
	});

	it('is what was sold less what was taken off, went back and was taken by banks, without tax', () => {
		// By hand: 12.00 with 2.00 tax in it, after 3.00 off: 13.00 at full price without tax. 6.00 refunded, 1.00 of it tax.
		const paid = [line(1200, 200, 300)];
		const [row] = earnedBy([
			...under('workshop', postings('payment', 'EUR', paid)),
			...under('workshop', postings('refund', 'EUR', refundLines(600, paid)))
		]);
		expect(row).toEqual({
			...{ key: 'workshop', currency: 'EUR', soldMinor: 1300, discountMinor: 300, refundMinor: 500 },
			...{ disputedMinor: 0, leftMinor: 500, taxMinor: 100 }
		});
	});

	it('never adds currencies up, and puts first what left most', () => {
		const all = [
			...under('a', postings('payment', 'USD', [line(100, 0, 0)])),
			...under('a', postings('payment', 'EUR', [line(200, 0, 0)])),
			...under('b', postings('payment', 'EUR', [line(900, 0, 0)])),
			...under('b', postings('dispute', 'EUR', [line(900, 0, 0)]))
		];
		expect(earnedBy(all).map(({ key, currency, leftMinor }) => [key, currency, leftMinor])).toEqual([
			['a', 'EUR', 200],
			['b', 'EUR', 0],
			['a', 'USD', 100]
		]);
	});

	it('leaves with its tax all that came in and did not go back', () => {
		const amount = fc.integer({ min: 2, max: 90_000 });
		fc.assert(
			fc.property(amount, fc.integer({ min: 0, max: 99 }), amount, (paid, part, off) => {
				const [taxMinor = 0] = split(paid, [part, 300]);
				const lines = [line(paid, taxMinor, off)];
				const back = Math.floor(paid / 2);
				const [row] = earnedBy([
					...under('x', postings('payment', 'EUR', lines)),
					...under('x', postings('refund', 'EUR', refundLines(back, lines)))
				]);
				expect((row?.leftMinor ?? 0) + (row?.taxMinor ?? 0)).toBe(paid - back);
			}),
			{ seed: 20_261_204 }
		);
	});
});

describe('a span', () => {
	test.each([
		[null, null, '2025-06-01', '2026-05-20'],
		['2026-05-01', '2026-05-10', '2026-05-01', '2026-05-10'],
		['2026-05-10', '2026-05-01', '2025-06-01', '2026-05-01'],
		['2026-02-30', '2026-13-01', '2025-06-01', '2026-05-20'],
		['1999-01-01', null, '2021-06-01', '2026-05-20'],
		['2026-05-20', '2999-01-01', '2026-05-20', '2026-05-20'],
		['<script>', '5 May', '2025-06-01', '2026-05-20']
	])('from %s to %s is from %s to %s', (from, to, first, last) => {
		expect(readSpan(from, to, '2026-05-20')).toEqual({ from: first, to: last });
	});

	it('has months in order, over the turn of the year', () => {
		expect(monthsIn({ from: '2025-11-30', to: '2026-02-01' })).toEqual([
			'2025-11',
			'2025-12',
			'2026-01',
			'2026-02'
		]);
		expect(monthsIn(lastMonths(12, '2026-05-20'))).toHaveLength(12);
		expect([monthAfter('2025-12'), monthAfter('2026-09')]).toEqual(['2026-01', '2026-10']);
		expect([dayAfter('2028-02-28'), dayAfter('2026-12-31')]).toEqual(['2028-02-29', '2027-01-01']);
	});
});
