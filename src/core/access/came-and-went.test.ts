import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { DAY, grant, member } from '../../../tests/support/access';
import { aGrant, EPOCH } from '../../../tests/support/arbitrary-access';
import { holdersAt, lapsesWithin } from './came-and-went';
import { endOfGrant } from './clock';
import type { Grant } from './model';

const NOW = Date.parse('2026-03-01T12:00Z');
const NONE = new Set<string>();
const held = (from: number, until: number | null, over: Partial<Grant> = {}) =>
	grant({
		id: `${from}-${until}`,
		planId: 'a',
		from: NOW + from * DAY,
		until: until === null ? null : NOW + until * DAY,
		...over
	});

describe('a plan that ran out', () => {
	test.each<[string, Grant[], number[]]>([
		['at its end', [held(-30, -2)], [-2]],
		['at the very end of what is asked for', [held(-30, 0)], [0]],
		['not where the time that is asked for begins', [held(-30, -7)], []],
		['not before it has', [held(-30, 1)], []],
		['not where it is for good', [held(-30, null)], []],
		['not where it is held on', [held(-30, -2), held(-5, 20)], []],
		['not where it goes on at that moment', [held(-30, -2), held(-2, 20)], []],
		['where it was taken up again later', [held(-30, -3), held(-1, 20)], [-3]],
		['once, where two end together', [held(-30, -2), held(-20, -2)], [-2]],
		['not where somebody ended it', [held(-30, -2, { revokedAt: NOW - 3 * DAY })], []],
		['not where it never began', [held(-2, -2)], []],
		['for each plan by itself', [held(-30, -2), held(-30, -1, { planId: 'b' })], [-1, -2]]
	])('is told %s', (_, grants, days) => {
		const lapses = lapsesWithin([member(grants)], NONE, NOW - 7 * DAY, NOW);
		expect(lapses.map(({ at }) => (at - NOW) / DAY)).toEqual(days);
	});

	it('is none where it is a label', () => {
		expect(lapsesWithin([member([held(-30, -2)])], new Set(['a']), NOW - 7 * DAY, NOW)).toEqual([]);
	});
});

describe('holders over time', () => {
	const at = (...days: number[]) => days.map((day) => NOW + day * DAY);

	it('count a member once, from the first moment of a plan to the last before its end', () => {
		const members = [
			member([held(-30, -10), held(-20, -5), held(-2, null)]),
			member([held(-20, -19)]),
			member([])
		];
		expect(holdersAt(members, NONE, at(-31, -30, -20, -19, -10, -6, -5, -3, -2, 0))).toEqual([
			0, 1, 2, 1, 1, 1, 0, 0, 1, 1
		]);
		expect(holdersAt(members, new Set(['a']), at(-30, 0))).toEqual([0, 0]);
		expect(holdersAt(members, NONE, [])).toEqual([]);
	});

	it('are as many as hold something when each is looked at by itself, whatever they have', () => {
		const grants = fc.array(fc.oneof(aGrant('1'), aGrant('2')), { maxLength: 4 });
		const moments = Array.from({ length: 40 }, (_, n) => EPOCH + n * DAY);
		fc.assert(
			fc.property(fc.array(grants, { maxLength: 5 }), (people) => {
				const expected = moments.map(
					(moment) =>
						people.filter((own) =>
							own.some((one) => {
								const end = endOfGrant(one);
								return one.from <= moment && (end === null || moment < end);
							})
						).length
				);
				expect(
					holdersAt(
						people.map((own) => member(own)),
						NONE,
						moments
					)
				).toEqual(expected);
			})
		);
	});
});
