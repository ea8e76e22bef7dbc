import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { runs } from '../../../tests/support/runs';
import { allocate, partsOf, split } from './allocation';

describe('an amount that is split', () => {
	// Worked by hand.
	test.each([
		['over three equal parts', 100, [1, 1, 1], [34, 33, 33]],
		['two left over', 200, [1, 1, 1], [67, 67, 66]],
		['to whose share was cut most', 100, [335, 335, 330], [34, 33, 33]],
		['in the order of the cuts and not of the parts', 10, [1, 7, 3], [1, 6, 3]],
		['nothing', 0, [5, 7], [0, 0]],
		['less than there are parts', 2, [1, 1, 1], [1, 1, 0]],
		['a part that asks for nothing', 100, [0, 1], [0, 100]],
		['all of which ask for nothing', 100, [0, 0], [100, 0]],
		['over nobody', 100, [], []]
	])('%s', (_name, amount, weights, expected) => {
		expect(split(amount, weights)).toEqual(expected);
	});

	it('adds up, is no further from its share than a minor unit, and grows with it', () => {
		const whole = fc.integer({ min: 0, max: 10_000_000_000 });
		fc.assert(
			fc.property(whole, fc.array(whole, { minLength: 1, maxLength: 12 }), (amount, weights) => {
				const parts = split(amount, weights);
				expect(parts.reduce((sum, part) => sum + part, 0)).toBe(amount);
				const total = weights.reduce((sum, weight) => sum + weight, 0);
				if (total === 0) return;
				for (const [n, weight] of weights.entries()) {
					const exact = (BigInt(amount) * BigInt(weight)) / BigInt(total);
					expect([exact, exact + 1n]).toContain(BigInt(parts[n] ?? -1));
				}
			}),
			{ seed: 20_261_130, numRuns: runs(500) }
		);
	});

	test.each([[-1], [0.5], [NaN], [2 ** 53]])('refuses %s', (wrong) => {
		expect(() => split(wrong, [1])).toThrow(RangeError);
		expect(() => split(1, [wrong])).toThrow(RangeError);
	});
});

describe('a payment', () => {
	it('is for the lines that it pays', () => {
		const lines = [
			{ id: 'plan', totalMinor: 1000 },
			{ id: 'fee', totalMinor: 500 }
		];
		expect(allocate(1500, lines).map(({ id, paidMinor }) => [id, paidMinor])).toEqual([
			['plan', 1000],
			['fee', 500]
		]);
		expect(allocate(100, lines).map(({ paidMinor }) => paidMinor)).toEqual([67, 33]);
	});
});

describe('what is paid in parts', () => {
	const lines = [
		{ name: 'plan', totalMinor: 1200, taxMinor: 192 },
		{ name: 'free', totalMinor: 0, taxMinor: 0 },
		{ name: 'book', totalMinor: 3000, taxMinor: 479 }
	];
	const paid = (before: number, amount: number) =>
		partsOf(lines, before, amount).map(({ line, paidMinor, portion }) => [
			line.name,
			paidMinor,
			portion(line.taxMinor)
		]);

	// Worked by hand: 1000 of 1200 are 160 of 192; 1800 of 3000 are 287.4 of 479.
	it.each([
		[0, 1000, [['plan', 1000, 160]]],
		[
			1000,
			2000,
			[
				['plan', 200, 32],
				['book', 1800, 287]
			]
		],
		[3000, 1200, [['book', 1200, 192]]],
		[
			0,
			4200,
			[
				['plan', 1200, 192],
				['book', 3000, 479]
			]
		],
		[4200, 500, []]
	])('after %i, %i pay %j', (before, amount, expected) => {
		expect(paid(before, amount)).toEqual(expected);
	});

	it('comes to the whole of each line, and of its tax, whatever the parts', () => {
		const cuts = fc.array(fc.integer({ min: 1, max: 4199 }), { maxLength: 6 });
		fc.assert(
			fc.property(cuts, (at) => {
				const ends = [...new Set([...at, 4200])].sort((a, b) => a - b);
				const sums = new Map<string, [number, number]>();
				let before = 0;
				for (const end of ends) {
					for (const { line, paidMinor, portion } of partsOf(lines, before, end - before)) {
						const [came = 0, tax = 0] = sums.get(line.name) ?? [];
						expect(paidMinor).toBeGreaterThan(0);
						sums.set(line.name, [came + paidMinor, tax + portion(line.taxMinor)]);
					}
					before = end;
				}
				expect(Object.fromEntries(sums)).toEqual({ plan: [1200, 192], book: [3000, 479] });
			}),
			{ seed: 20_261_131, numRuns: runs(300) }
		);
	});
});
