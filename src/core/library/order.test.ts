import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { placedAfter, renumbered } from './order';

describe('the order of what lives in one home', () => {
	test.each([
		['a b c', 'c', null, 'c a b'],
		['a b c', 'a', 'b', 'b a c'],
		['a b c', 'a', 'c', 'b c a'],
		['a b c', 'b', 'a', 'a b c'],
		['a b c', 'new', null, 'new a b c'],
		['a b c', 'new', 'b', 'a b new c'],
		['a b c', 'a', 'gone', 'b c a'],
		['a b c', 'a', 'a', 'b c a'],
		['', 'a', null, 'a'],
		['', 'a', 'gone', 'a']
	])('of %j with %s after %s is %j', (order, id, after, expected) => {
		expect(placedAfter(order.split(' ').filter(Boolean), id, after)).toEqual(expected.split(' '));
	});

	it('holds everything once, with the one right after the other, whatever it was', () => {
		const ids = fc.uniqueArray(fc.string({ minLength: 1, maxLength: 3 }), { minLength: 2, maxLength: 12 });
		fc.assert(
			fc.property(ids, fc.nat(), fc.nat(), (order, a, b) => {
				const [id, after] = [order[a % order.length]!, order[b % order.length]!];
				const placed = placedAfter(order, id, after);
				expect([...placed].sort()).toEqual([...order].sort());
				if (id !== after) expect(placed.indexOf(id)).toBe(placed.indexOf(after) + 1);
			})
		);
	});

	it('is written where it is another one only, gaps and doubles included', () => {
		const before = [
			{ id: 'a', position: 0 },
			{ id: 'b', position: 0 },
			{ id: 'c', position: 7 }
		];
		expect(renumbered(before, ['a', 'new', 'b', 'c'])).toEqual([
			{ id: 'new', position: 1 },
			{ id: 'b', position: 2 },
			{ id: 'c', position: 3 }
		]);
		expect(renumbered([{ id: 'a', position: 0 }], ['a'])).toEqual([]);
	});
});
