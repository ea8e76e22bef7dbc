import { describe, expect, it } from 'vitest';
import { newcomer, signedUp } from './newcomers';

const NOW = Date.parse('2026-06-01T12:00Z');

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
		expect(signedUp(NOW)).toEqual({ ...newcomer('', NOW), grants: [] });
		expect(signedUp(NOW).grants).toEqual([]);
	});
});
