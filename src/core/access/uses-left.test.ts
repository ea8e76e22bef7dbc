import { describe, expect, it } from 'vitest';
import {
	crossing,
	DAY,
	fence,
	grant,
	holders,
	HOUR,
	items,
	member,
	plan,
	resource,
	source,
	stranger
} from '../../../tests/support/access';
import { NO_LIMITS, type Limits, type Use } from './model';
import { compile } from './policy';
import { ended, usesLeft } from './uses-left';

const NOW = Date.parse('2026-06-01T12:00Z');
const holder = member([grant({ id: 'g', planId: 'workshop', from: NOW - 10 * DAY })]);
const limited = (uses: Limits['uses']) => [crossing(holders('workshop'), { limits: { ...NO_LIMITS, uses } })];
const policyOf = (crossings: ReturnType<typeof limited>, base: 'open' | 'closed' = 'closed') =>
	compile(
		source({
			resources: [resource('table', { kind: 'file', base })],
			plans: [plan('workshop')],
			fences: crossings.length === 0 ? [] : [fence('f', items('table'), crossings)]
		})
	);
const THREE = policyOf(limited({ count: 3, per: 'grant' }));
const use = (hoursAgo: number, over: Partial<Use> = {}): Use => ({
	grantId: 'g',
	at: NOW - hoursAgo * HOUR,
	goesOnUntil: NOW - hoursAgo * HOUR,
	...over
});
const left = (uses: Use[], gifts: { count: number; at: number }[] = [], policy = THREE) =>
	usesLeft(policy, holder, 'table', NOW, { uses, gifts });

describe('counted openings', () => {
	it.each([
		[0, []],
		[1, [use(5)]],
		[2, [use(5), use(4)]],
		[3, [use(5), use(4), use(3)]]
	])('%i of three are used', (used, uses) => {
		expect(left(uses)).toEqual({ used, limit: 3 });
	});

	it('are as many as the limit where there were more before it was lowered', () => {
		expect(left([use(6), use(5), use(4), use(3), use(2)])).toEqual({ used: 3, limit: 3 });
	});

	it('count one that still goes on as used: the next is one of its own', () => {
		expect(left([use(1, { goesOnUntil: NOW + HOUR })])).toEqual({ used: 1, limit: 3 });
		expect(ended(use(1, { goesOnUntil: NOW + HOUR }))).toEqual(use(1));
	});

	it('are more by what was given', () => {
		expect(left([use(5), use(4), use(3)], [{ count: 2, at: NOW - HOUR }])).toEqual({ used: 3, limit: 5 });
		expect(left([], [{ count: 2, at: NOW - HOUR }])).toEqual({ used: 0, limit: 5 });
	});

	it('of another grant do not count', () => {
		expect(left([use(5, { grantId: 'before' })])).toEqual({ used: 0, limit: 3 });
	});

	it.each([
		['nothing limits them', policyOf(limited('none'))],
		['it is open to anyone', policyOf([], 'open')],
		['nobody may cross', policyOf([crossing(holders('patron'))])]
	])('are not counted where %s', (_, policy) => {
		expect(left([use(1)], [], policy)).toBeNull();
	});

	it('are not counted for a stranger, whom something else keeps out', () => {
		expect(usesLeft(THREE, stranger, 'table', NOW, { uses: [], gifts: [] })).toBeNull();
	});

	it('are not counted out beyond a thousand', () => {
		expect(left([], [], policyOf(limited({ count: 999, per: 'grant' })))).toEqual({ used: 0, limit: 999 });
		expect(left([], [], policyOf(limited({ count: 1000, per: 'grant' })))).toBeNull();
	});
});
