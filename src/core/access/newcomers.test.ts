import { describe, expect, it } from 'vitest';
import type { PlanAccess } from '../billing/plan-access';
import type { AccessPlan } from './model';
import { newcomer, signedUp } from './newcomers';

const NOW = Date.parse('2026-06-01T12:00Z');
const SOURCE = { plans: [], zone: 'UTC' };

describe('people by whom the rules are tried', () => {
	it('hold the plan that they join from then on, by an order, for good, and nothing else', () => {
		expect(newcomer('patron', NOW)).toEqual({
			kind: 'member',
			id: '',
			isStaff: false,
			since: NOW,
			grants: [
				{
					id: 'newcomer-patron',
					planId: 'patron',
					from: NOW,
					until: null,
					revokedAt: null,
					source: 'order',
					renews: false,
					period: null
				}
			],
			tenures: [],
			redemptions: [],
			namings: []
		});
	});

	it('hold nothing where they only sign up', () => {
		expect(signedUp(SOURCE, NOW)).toEqual({ ...newcomer('', NOW), grants: [] });
	});

	it('hold what every new account is given, from its first day on and for as long as the plan opens', () => {
		const given = (since: number, access: PlanAccess): AccessPlan => ({
			...{ id: 'samples', isPublic: false, isOnSale: false, ladderId: null, rung: 0, afterLapse: 'on' },
			given: { since, access }
		});
		const holds = (plan: AccessPlan) =>
			signedUp({ ...SOURCE, plans: [plan] }, NOW).grants.map(({ planId, from, until, source }) => ({
				...{ planId, from, until, source }
			}));
		const own = { planId: 'samples', from: NOW, source: 'sign-up' };
		expect(holds(given(NOW, { kind: 'for-good' }))).toEqual([{ ...own, until: null }]);
		expect(holds(given(NOW + 1, { kind: 'for-good' }))).toEqual([]);
		expect(holds(given(NOW - 1, { kind: 'length', length: { count: 2, unit: 'day' } }))).toEqual([
			{ ...own, until: NOW + 2 * 86_400_000 }
		]);
		expect(holds(given(NOW - 1, { kind: 'until', at: NOW + 1 }))).toEqual([{ ...own, until: NOW + 1 }]);
		// What has ended for everybody is given to nobody.
		expect(holds(given(NOW - 1, { kind: 'until', at: NOW }))).toEqual([]);
	});
});
